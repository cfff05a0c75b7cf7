"""Fills PLTG and PLTT."""

from vadum.exchange.ags4.parts import PLATE_KN
from vadum.exchange.ags4.sent import Row, Sent


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
    pressure, stage = None, 0
    for row in t.readings.rows:
        if row.pressure_kpa is not None and row.pressure_kpa != pressure:
            pressure, stage = row.pressure_kpa, stage + 1
        gauges = (row.gauge_a_mm, row.gauge_b_mm, row.gauge_c_mm, row.gauge_d_mm)
        if pressure is None or row.elapsed_min is None or all(g is None for g in gauges):
            continue
        settlement = {f"PLTT_SET{n}": gauge for n, gauge in enumerate(gauges, 1)}
        rows.append(
            (
                "PLTT",
                keys
                | {"PLTT_STG": str(stage), "PLTT_TIME": row.elapsed_min, "PLTT_LOAD": pressure * area_m2}
                | settlement,
            )
        )
    return rows
