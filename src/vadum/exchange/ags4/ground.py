"""Which groups the tests in the ground fill. Definitions of headings: AGS4 edition 4.1.1, group by group."""

from vadum.exchange.ags4.sent import Row, Sent

_PLATE_KN = 0.25 * 3.141592653589793 / 1e6  # kN per kPa and mm^2 of diameter squared


def excavation_density(t: Sent) -> list[Row]:
    dry, water = t.value("dry_density"), t.value("water_content")
    bulk = None if dry is None or water is None else dry * (1 + water / 100)
    return [
        (
            "IDEN",
            _ground(t, "IDEN", t.sample.top_m if t.sample else 0.0)
            | {"IDEN_TYPE": "WATER", "IDEN_IDEN": bulk, "IDEN_MC": t.text("water_content")},
        )
    ]


def cbr(t: Sent) -> list[Row]:
    values = {
        "ICBR_ICBR": t.value("cbr"),
        "ICBR_MC": t.text("water_content"),
        "ICBR_KENT": f"{t.readings.reaction_kn:g} kN" if t.readings.reaction_kn is not None else None,
        "ICBR_SEAT": t.readings.seating_n,
    }
    return [("ICBR", _ground(t, "ICBR", 0.0) | values)]


def vane(t: Sent) -> list[Row]:
    return [
        (
            "IVAN",
            {
                "IVAN_DPTH": row.depth_m,
                "IVAN_TESN": str(t.number),
                "IVAN_DATE": t.on,
                "IVAN_TYPE": "FIELD",
                "IVAN_IVAN": f"{su:.0f}",
                "IVAN_IVAR": None if (left := t.at(f"profile.{i}.remoulded_kpa")) is None else f"{left:.1f}",
            },
        )
        for i, row in enumerate(t.readings.profile)
        if row.depth_m is not None and (su := t.at(f"profile.{i}.su_kpa")) is not None
    ]


def plate_static(t: Sent) -> list[Row]:
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
            "PLTT_LOAD": stage.pressure * _PLATE_KN * diameter**2,
            "PLTT_SET1": stage.gauge_mm,
        }
        for i, stage in enumerate(t.readings.stages)
        if stage.pressure is not None and stage.gauge_mm is not None
    ]
    return [("PLTG", keys | general), *(("PLTT", keys | stage) for stage in stages)]


def plate_incremental(t: Sent) -> list[Row]:
    keys = {"PLTG_DPTH": t.readings.depth_m or 0.0, "PLTG_TESN": str(t.number), "PLTG_CYC": "1"}
    width = t.settings.width_mm
    area_m2 = width**2 * (_PLATE_KN if t.settings.shape == "round" else 1e-6)
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


def falling_head(t: Sent) -> list[Row]:
    base = (t.readings.embedded_mm or 0.0) / 1000
    values = {
        "IPRG_TYPE": "Falling Head",
        "IPRG_TDIA": None if t.readings.radius_mm is None else 2 * t.readings.radius_mm / 1000,
        "IPRG_IPRM": t.value("ks_site_m_s"),
        "IPRG_REM": "Single embedded cylinders, geometric mean of the site",
    }
    return [("IPRG", _zone(t, 0.0, base) | values)]


def well_permeameter(t: Sent) -> list[Row]:
    r = t.readings
    base = (r.hole_depth_mm or 0.0) / 1000
    heads = [h for h in (r.head_1_mm, r.head_2_mm) if h is not None]
    top = max(0.0, base - max(heads, default=0.0) / 1000)
    values = {
        "IPRG_TYPE": "Constant Head",
        "IPRG_TDIA": None if r.hole_radius_mm is None else 2 * r.hole_radius_mm / 1000,
        "IPRG_IPRM": t.value("kfs_m_s"),
    }
    return [("IPRG", _zone(t, top, base) | values)]


def _ground(t: Sent, group: str, depth_m: float) -> dict[str, object]:
    return {f"{group}_DPTH": depth_m, f"{group}_TESN": str(t.number), f"{group}_DATE": t.on}


def _zone(t: Sent, top_m: float, base_m: float) -> dict[str, object]:
    return {"IPRG_TOP": top_m, "IPRG_BASE": base_m, "IPRG_TESN": str(t.number), "IPRG_STG": 1, "IPRG_DATE": t.on}
