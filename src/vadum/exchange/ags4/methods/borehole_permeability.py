"""Fills IPRG."""

from vadum.exchange.ags4.parts import zone
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    r = t.readings
    base = r.base_m or 0.0
    first = next((row.level_m for row in r.levels if row.used and row.level_m is not None), None)
    rises = first is not None and r.rest_m is not None and first > r.rest_m
    values = {
        "IPRG_TYPE": "Rising Head" if rises else "Falling Head",
        "IPRG_PRWL": r.rest_m,
        "IPRG_SWAL": first,
        "IPRG_TDIA": None if r.section_mm is None else r.section_mm / 1000,
        "IPRG_SDIA": None if r.casing_mm is None else r.casing_mm / 1000,
        "IPRG_IPRM": t.value("k"),
    }
    return [("IPRG", zone(t, base if r.top_m is None else r.top_m, base) | values)]
