"""Fills IPRG."""

from vadum.exchange.ags4.parts import zone
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    r = t.readings
    top, base = (r.full_mm or 0.0) / 1000, (r.base_mm or 0.0) / 1000
    values = {
        "IPRG_TYPE": "Falling Head",
        "IPRG_IPRM": t.value("rate_m_s"),
        "IPRG_REM": "Soakage pit: least of the fills, three quarters to one quarter of the depth",
    }
    return [("IPRG", zone(t, top, base) | values)]
