"""Fills IPRG."""

from vadum.exchange.ags4.parts import zone
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    r = t.readings
    base = (r.hole_depth_mm or 0.0) / 1000
    heads = [h for h in (r.head_1_mm, r.head_2_mm) if h is not None]
    top = max(0.0, base - max(heads, default=0.0) / 1000)
    values = {
        "IPRG_TYPE": "Constant Head",
        "IPRG_TDIA": None if r.hole_radius_mm is None else 2 * r.hole_radius_mm / 1000,
        "IPRG_IPRM": t.value("kfs_m_s"),
    }
    return [("IPRG", zone(t, top, base) | values)]
