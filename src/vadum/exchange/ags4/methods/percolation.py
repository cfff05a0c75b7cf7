"""Fills IPRG."""

from vadum.exchange.ags4.parts import zone
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    rate, r = t.value("rate"), t.readings
    base = (r.hole_depth_mm or 0.0) / 1000
    values = {
        "IPRG_TYPE": "Falling Head",
        "IPRG_TDIA": None if r.hole_diameter_mm is None else r.hole_diameter_mm / 1000,
        "IPRG_IPRM": None if rate is None else rate / 3.6e6,
        "IPRG_REM": "Percolation hole: rate through wall and base, after soaking",
    }
    return [("IPRG", zone(t, 0.0, base) | values)]
