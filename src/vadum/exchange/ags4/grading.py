"""The grading of a sample: fractions of its one curve, and the points of the tests that measured it."""

from vadum.exchange.ags4.parts import between
from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.physics.grading import Curve, curvature, joined, uniformity


def grading(coarse: Sent, fine: Sent) -> list[Row]:
    """Return the whole grading of a sample: fractions of the joined curve, and the points of both tests."""
    return [fractions(joined(curve_of(coarse), curve_of(fine))), *sieved(coarse), *settled(fine)]


def curve_of(t: Sent) -> Curve:
    return Curve.through(*zip(*t.reduction.curve, strict=True)) if t.reduction.curve else Curve.through([], [])


def fractions(curve: Curve) -> Row:
    """Return the fractions at the sizes the group is defined by: 63 and 2 mm, 63 and 2 micrometres."""
    cobbles, gravel, sand, silt = (curve.finer_at(d) for d in (63.0, 2.0, 0.063, 0.002))
    d10, d30, d60 = (curve.diameter_at(p) for p in (10, 30, 60))
    return "GRAG", {
        "GRAG_UC": uniformity(d10, d60) if d10 and d60 else None,
        "GRAG_CC": curvature(d10, d30, d60) if d10 and d30 and d60 else None,
        "GRAG_VCRE": between(100.0, cobbles),
        "GRAG_GRAV": between(cobbles, gravel),
        "GRAG_SAND": between(gravel, sand),
        "GRAG_SILT": between(sand, silt),
        "GRAG_CLAY": silt,
        "GRAG_FINE": sand,
    }


def sieved(t: Sent) -> list[Row]:
    kind = "WS" if t.settings.washing == "washed" else "DS"
    return _points(
        [(row.opening_mm, t.at(f"sieves.{i}.finer_percent")) for i, row in enumerate(t.readings.sieves)], kind
    )


def settled(t: Sent) -> list[Row]:
    rows = range(len(t.readings.sedimentation))
    return _points(
        [(t.at(f"sedimentation.{i}.diameter_mm"), t.at(f"sedimentation.{i}.finer_percent")) for i in rows], "HY"
    )


def _points(points: list[tuple[float | None, float | None]], kind: str) -> list[Row]:
    """Return the points measured; the size is a key to three figures, of several alike the last stays."""
    found = {f"{d:.3g}": p for d, p in points if d and p is not None}
    return [("GRAT", {"GRAT_SIZE": float(d), "GRAT_PERP": p, "GRAT_TYPE": kind}) for d, p in found.items()]
