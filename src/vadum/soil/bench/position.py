"""Where a test stands: latitude and longitude on the globe."""

from dataclasses import dataclass
from math import cos, radians
from typing import Any, Literal

from vadum.soil.contract.field import HARMLESS, reading

# Metres in one degree of latitude, WGS 84 mean; enough for the plan of a site.
METRES_PER_DEGREE = 111_195.0


@dataclass(frozen=True)
class Position:
    """Degrees north and east on WGS 84."""

    latitude_deg: float
    longitude_deg: float

    def metres_from(self, other: "Position") -> tuple[float, float]:
        """Return metres east and north of another position, on a plane that touches the globe there."""
        east = (self.longitude_deg - other.longitude_deg) * METRES_PER_DEGREE * cos(radians(other.latitude_deg))
        return east, (self.latitude_deg - other.latitude_deg) * METRES_PER_DEGREE


def latitude() -> Any:
    """Declare a latitude."""
    return reading(
        "latitude",
        "°",
        about="north positive, WGS 84",
        low=-90,
        high=90,
        resolution=0.000001,
        instrument="position receiver",
        absent=HARMLESS,
    )


def longitude(hand: Literal["row", "down"] | None = None) -> Any:
    """Declare a longitude."""
    return reading(
        "longitude",
        "°",
        about="east positive, WGS 84",
        low=-180,
        high=180,
        resolution=0.000001,
        instrument="position receiver",
        hand=hand,
        absent=HARMLESS,
    )


def positions_in(readings: dict[str, Any]) -> list[tuple[str, Position]]:
    """Return the positions among plain readings: of the test itself (path ""), or of the rows of a table."""
    own = _position(readings)
    found = [("", own)] if own is not None else []
    for table, rows in readings.items():
        if isinstance(rows, list):
            places = ((f"{table}.{i}", _position(row)) for i, row in enumerate(rows) if isinstance(row, dict))
            found += [(path, place) for path, place in places if place is not None]
    return found


def _position(readings: dict[str, Any]) -> Position | None:
    north, east = readings.get("latitude_deg"), readings.get("longitude_deg")
    return Position(north, east) if isinstance(north, int | float) and isinstance(east, int | float) else None
