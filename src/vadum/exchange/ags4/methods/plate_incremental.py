"""Fills PLTG and PLTT."""

from math import isnan

from vadum.exchange.ags4.parts import PLATE_KN
from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.methods.plate_incremental.stages import in_pressure, stages


def fill(t: Sent) -> list[Row]:
    keys = {"PLTG_DPTH": t.readings.depth_m or 0.0, "PLTG_TESN": str(t.number), "PLTG_CYC": "1"}
    width = t.settings.width_mm
    area_m2 = width**2 * (PLATE_KN if t.settings.shape == "round" else 1e-6)
    rows: list[Row] = [
        (
            "PLTG",
            keys
            | {
                "PLTG_PDIA": width,
                "PLTG_DATE": t.on,
                "PLTG_REM": "Square plate, its width given as diameter" if t.settings.shape == "square" else None,
            },
        )
    ]
    for number, stage in enumerate(stages(in_pressure(t.readings, t.settings)), 1):
        own = keys | {"PLTT_STG": str(number), "PLTT_LOAD": stage.pressure_kpa * area_m2}
        for minutes, moved in zip(stage.minutes, stage.moved_mm, strict=True):
            settled = {f"PLTT_SET{n}": None if isnan(mm) else mm for n, mm in enumerate(moved, 1)}
            rows.append(("PLTT", own | {"PLTT_TIME": minutes} | settled))
    return rows
