"""Fills IPRG."""

from vadum.exchange.ags4.parts import zone
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    r = t.readings
    values = {
        "IPRG_TYPE": "Constant Head",
        "IPRG_TDIA": None if r.inner_mm is None else r.inner_mm / 1000,
        "IPRG_IPRM": t.value("rate_m_s"),
        "IPRG_REM": "Steady infiltration of the inner of two rings",
    }
    return [("IPRG", zone(t, 0.0, (r.inner_driven_mm or 0.0) / 1000) | values)]
