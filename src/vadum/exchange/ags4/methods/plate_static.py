"""Fills PLTG and PLTT."""

from vadum.exchange.ags4.parts import PLATE_KN
from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.methods.plate_static.as_read import in_pressure_and_settlement
from vadum.soil.methods.plate_static.branches import branches


def fill(t: Sent) -> list[Row]:
    diameter = t.settings.size_mm
    keys = {"PLTG_DPTH": t.readings.depth_m or 0.0, "PLTG_TESN": str(t.number), "PLTG_CYC": "1"}
    general = {
        "PLTG_PDIA": diameter,
        "PLTG_SMOD": t.value("ev1"),
        "PLTG_EV2": t.value("ev2"),
        "PLTG_MOSR": t.value("ks"),
        "PLTG_DATE": t.on,
    }
    read = in_pressure_and_settlement(t.readings, t.settings)
    stages = []
    for i, pressure, settlement in sorted(branches(read, t.settings).every):
        held = read.stages[i].hold_s
        stages.append(
            {
                "PLTT_STG": str(i + 1),
                "PLTT_TIME": (t.settings.hold_s if held is None else held) / 60,
                "PLTT_LOAD": pressure * PLATE_KN * diameter**2,
                "PLTT_SET1": settlement,
            }
        )
    return [("PLTG", keys | general), *(("PLTT", keys | stage) for stage in stages)]
