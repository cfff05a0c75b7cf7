"""Fills PLTG and PLTT."""

from vadum.exchange.ags4.parts import PLATE_KN
from vadum.exchange.ags4.sent import Row, Sent


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
    stages = [
        {
            "PLTT_STG": str(i + 1),
            "PLTT_TIME": (t.settings.hold_s if stage.hold_s is None else stage.hold_s) / 60,
            "PLTT_LOAD": stage.pressure * PLATE_KN * diameter**2,
            "PLTT_SET1": stage.gauge_mm,
        }
        for i, stage in enumerate(t.readings.stages)
        if stage.pressure is not None and stage.gauge_mm is not None
    ]
    return [("PLTG", keys | general), *(("PLTT", keys | stage) for stage in stages)]
