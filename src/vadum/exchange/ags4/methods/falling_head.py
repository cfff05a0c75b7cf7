"""Fills IPRG."""

from vadum.exchange.ags4.parts import zone
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    base = (t.readings.embedded_mm or 0.0) / 1000
    values = {
        "IPRG_TYPE": "Falling Head",
        "IPRG_TDIA": None if t.readings.radius_mm is None else 2 * t.readings.radius_mm / 1000,
        "IPRG_IPRM": t.value("ks_site_m_s"),
        "IPRG_REM": "Single embedded cylinders, geometric mean of the site",
    }
    return [("IPRG", zone(t, 0.0, base) | values)]
