"""Which groups the laboratory's methods fill. Definitions of headings: AGS4 edition 4.1.1, group by group."""

from typing import Any

from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.physics.grading import Curve, curvature, joined, uniformity


def water_content(t: Sent) -> list[Row]:
    return [("LNMC", {"LNMC_MC": t.text("water_content"), "LNMC_TEMP": t.settings.oven_c})]


def liquid_limit(t: Sent) -> list[Row]:
    school = t.settings.school
    cone = {"LLPL_TYPE": "FALL CONE", "LLPL_CONE": "80g/30deg"}
    return [
        (
            "LLPL",
            (cone if school == "fall-cone" else {"LLPL_TYPE": "CASAGRANDE"})
            | {
                "LLPL_LL": t.value("liquid_limit"),
                "LLPL_POIN": "ONE" if school in ("one-point", "replicated") else None,
                "LLPL_REM": None if t.value("liquid_limit") is not None else t.text("liquid_limit"),
            },
        )
    ]


def plastic_limit(t: Sent) -> list[Row]:
    return [("LLPL", {"LLPL_PL": t.text("plastic_limit"), "LLPL_PI": t.value("plasticity_index")})]


def particle_density(t: Sent) -> list[Row]:
    return [("LPDN", {"LPDN_PDEN": t.text("grain_density_g_cm3"), "LPDN_TYPE": "SMALL PYK"})]


def sieve(t: Sent) -> list[Row]:
    return [_fractions(_curve(t)), *_sieved(t)]


def hydrometer(t: Sent) -> list[Row]:
    return [_fractions(_curve(t)), *_settled(t)]


def grading(sieved: Sent, settled: Sent) -> list[Row]:
    """Return the whole grading of a sample: fractions of the joined curve, and the points of both tests."""
    return [_fractions(joined(_curve(sieved), _curve(settled))), *_sieved(sieved), *_settled(settled)]


def _curve(t: Sent) -> Curve:
    return Curve.through(*zip(*t.reduction.curve, strict=True)) if t.reduction.curve else Curve.through([], [])


def _fractions(curve: Curve) -> Row:
    """Return the fractions at the sizes the group is defined by: 63 and 2 mm, 63 and 2 micrometres."""
    cobbles, gravel, sand, silt = (curve.finer_at(d) for d in (63.0, 2.0, 0.063, 0.002))
    d10, d30, d60 = (curve.diameter_at(p) for p in (10, 30, 60))
    return "GRAG", {
        "GRAG_UC": uniformity(d10, d60) if d10 and d60 else None,
        "GRAG_CC": curvature(d10, d30, d60) if d10 and d30 and d60 else None,
        "GRAG_VCRE": _between(100.0, cobbles),
        "GRAG_GRAV": _between(cobbles, gravel),
        "GRAG_SAND": _between(gravel, sand),
        "GRAG_SILT": _between(sand, silt),
        "GRAG_CLAY": silt,
        "GRAG_FINE": sand,
    }


def _sieved(t: Sent) -> list[Row]:
    kind = "WS" if t.settings.washing == "washed" else "DS"
    return _points(
        [(row.opening_mm, t.at(f"sieves.{i}.finer_percent")) for i, row in enumerate(t.readings.sieves)], kind
    )


def _settled(t: Sent) -> list[Row]:
    rows = range(len(t.readings.sedimentation))
    return _points(
        [(t.at(f"sedimentation.{i}.diameter_mm"), t.at(f"sedimentation.{i}.finer_percent")) for i in rows], "HY"
    )


def _points(points: list[tuple[float | None, float | None]], kind: str) -> list[Row]:
    """Return the points measured; the size is a key to three figures, of several alike the last stays."""
    found = {f"{d:.3g}": p for d, p in points if d and p is not None}
    return [("GRAT", {"GRAT_SIZE": float(d), "GRAT_PERP": p, "GRAT_TYPE": kind}) for d, p in found.items()]


def _between(coarse: float | None, fine: float | None) -> float | None:
    return None if coarse is None or fine is None else coarse - fine


def ring_density(t: Sent) -> list[Row]:
    return [
        (
            "LDEN",
            {
                "LDEN_TYPE": "LINEAR",
                "LDEN_MC": t.text("water_content"),
                "LDEN_BDEN": t.value("bulk_density"),
                "LDEN_DDEN": t.value("dry_density"),
            },
        )
    ]


def compaction(t: Sent) -> list[Row]:
    scheme = t.settings.scheme
    own: dict[str, Any] = {"CMPG_TESN": str(t.number)}
    general: dict[str, Any] = {
        "CMPG_TYPE": "2.5KG" if scheme.startswith("light") else "4.5KG",
        "CMPG_MOLD": "1 LITRE" if "1 L" in scheme else "CBR",
        "CMPG_PDEN": t.readings.particle_density,
        "CMPG_MAXD": t.value("maximum_dry_density"),
        "CMPG_MCOP": t.value("optimum_water_content"),
    }
    points = [
        {"CMPT_TESN": str(i + 1), "CMPT_MC": _text(t.at(f"points.{i}.water_percent")), "CMPT_DDEN": dry}
        for i in range(len(t.readings.points))
        if (dry := t.at(f"points.{i}.dry_density")) is not None
    ]
    return [("CMPG", own | general), *(("CMPT", own | point) for point in points)]


def cbr(t: Sent) -> list[Row]:
    return [
        ("CBRG", {"CBRG_COND": "REMOULDED", "CBRG_NMC": t.text("water_content")}),
        (
            "CBRT",
            {
                "CBRT_TESN": str(t.number),
                "CBRT_TOP": _larger(t, "top"),
                "CBRT_BASE": _larger(t, "bottom"),
                "CBRT_IMC": t.text("water_content"),
                "CBRT_DDEN": t.value("dry_density"),
                "CBRT_SKDT": t.settings.soaking,
            },
        ),
    ]


def _larger(t: Sent, end: str) -> float | None:
    """Return the larger of the two ratios of one end, by definition its bearing ratio."""
    found = [v for depth in ("2_5", "5") if (v := t.value(f"cbr_{end}_{depth}_mm")) is not None]
    return max(found, default=None)


def unconfined(t: Sent) -> list[Row]:
    return [
        (
            "LUCT",
            {
                "LUCT_TYPE": "UNDISTURBED",
                "LUCT_IWC": t.text("water_content"),
                "LUCT_BDEN": t.value("bulk_density"),
                "LUCT_DDEN": t.value("dry_density"),
                "LUCT_UCS": t.value("qu"),
                "LUCT_STRA": t.value("strain_percent"),
            },
        )
    ]


def direct_shear(t: Sent) -> list[Row]:
    general = {
        "SHBG_TYPE": "SMALL SBOX",
        "SHBG_PCOH": t.value("cohesion_peak"),
        "SHBG_PHI": t.value("friction_peak"),
        "SHBG_REM": f"End of travel, not residual: {t.text('friction_end')} deg" if t.value("friction_end") else None,
    }
    stages = [
        {
            "SHBT_TESN": str(k + 1),
            "SHBT_BDEN": t.at(f"specimens.{k}.density"),
            "SHBT_NORM": normal,
            "SHBT_PEAK": t.at(f"specimens.{k}.peak_kpa"),
            "SHBT_HGT": specimen.height_mm,
        }
        for k, specimen in enumerate(t.readings.specimens)
        if (normal := t.at(f"specimens.{k}.normal_kpa")) is not None
    ]
    return [("SHBG", general), *(("SHBT", stage) for stage in stages)]


def triaxial(t: Sent) -> list[Row]:
    return _total(t) if t.settings.kind == "UU" else _effective(t)


def _total(t: Sent) -> list[Row]:
    stages: list[dict[str, Any]] = [
        {
            "TRIT_TESN": str(k + 1),
            "TRIT_CELL": specimen.cell_kpa,
            "TRIT_DEVF": deviator,
            "TRIT_BDEN": t.at(f"specimens.{k}.density"),
            "TRIT_CU": deviator / 2,
        }
        for k, specimen in enumerate(t.readings.specimens)
        if (deviator := t.value(f"deviator_{k + 1}")) is not None
    ]
    return [("TRIG", {"TRIG_TYPE": "UU"}), *(("TRIT", stage) for stage in stages)]


def _effective(t: Sent) -> list[Row]:
    general = {
        "TREG_TYPE": t.settings.kind,
        "TREG_COH": t.value("cohesion_effective"),
        "TREG_PHI": t.value("friction_effective"),
        "TREG_FCR": t.settings.criterion,
    }
    stages = [
        {
            "TRET_TESN": str(k + 1),
            "TRET_BDEN": t.at(f"specimens.{k}.density"),
            "TRET_CELL": specimen.cell_kpa,
            "TRET_BACK": specimen.back_kpa,
            "TRET_CONP": _between(specimen.cell_kpa, specimen.back_kpa),
            "TRET_BVAL": t.at(f"specimens.{k}.b"),
            "TRET_CU": deviator / 2 if t.settings.kind == "CU" else None,
            "TRET_E50": t.value(f"e50_{k + 1}"),
        }
        for k, specimen in enumerate(t.readings.specimens)
        if (deviator := t.value(f"deviator_{k + 1}")) is not None
    ]
    return [("TREG", general), *(("TRET", stage) for stage in stages)]


def lime_demand(t: Sent) -> list[Row]:
    general = {
        "LSTG_ICL": t.value("lime_percent"),
        "LSTG_PH": t.value("highest_ph"),
        "LSTG_LIME": t.readings.lime,
        "LSTG_SUIT": t.value("lime_only_ph"),
    }
    bottles = [
        {"LSTT_TESN": str(i + 1), "LSTT_LCON": bottle.lime_percent, "LSTT_PH": ph}
        for i, bottle in enumerate(t.readings.bottles)
        if (ph := t.at(f"bottles.{i}.ph25")) is not None and bottle.lime_percent is not None
    ]
    return [("LSTG", general), *(("LSTT", bottle) for bottle in bottles)]


def _text(value: float | None) -> str | None:
    return None if value is None else f"{value:.1f}"
