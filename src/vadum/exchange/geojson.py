"""Positions as GeoJSON (RFC 7946): points on WGS 84, longitude first."""

from typing import Any

from vadum.soil.bench.position import Position


def point(name: str, position: Position, properties: dict[str, Any]) -> dict[str, Any]:
    """Return one point with its properties."""
    at = [round(position.longitude_deg, 7), round(position.latitude_deg, 7)]
    return {"type": "Feature", "id": name, "geometry": {"type": "Point", "coordinates": at}, "properties": properties}


def collection(name: str, features: list[dict[str, Any]]) -> dict[str, Any]:
    return {"type": "FeatureCollection", "name": name, "features": features}
