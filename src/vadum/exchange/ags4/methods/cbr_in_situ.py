"""Fills ICBR."""

from vadum.exchange.ags4.parts import at_depth
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    values = {
        "ICBR_ICBR": t.value("cbr"),
        "ICBR_MC": t.text("water_content"),
        "ICBR_KENT": f"{t.readings.reaction_kn:g} kN" if t.readings.reaction_kn is not None else None,
        "ICBR_SEAT": t.readings.seating_n,
    }
    return [("ICBR", at_depth(t, "ICBR", 0.0) | values)]
