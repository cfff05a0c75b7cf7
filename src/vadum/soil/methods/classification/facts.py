"""The facts of a sample by name, each from the sheet or from another test, and what cannot be true together."""

from dataclasses import dataclass, field
from itertools import pairwise

from vadum.soil.bench.grading.joint import limb
from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.classification.findings import (
    ABOVE_U_LINE,
    AIR_DRIED,
    BY_CONE,
    DRIED_ABOVE,
    ORGANIC_BY_LIMIT,
    PASSING_RISES,
    PI_ABOVE_LL,
    SHARES_OFF,
    TYPED_OVER_MEASURED,
)
from vadum.soil.methods.classification.impossible import impossible
from vadum.soil.methods.classification.readings import ClassificationContext, ClassificationReadings
from vadum.soil.physics.grading import Curve, curvature, joined, uniformity
from vadum.soil.physics.plasticity import u_line

_ORGANIC_RATIO = 0.75
# A limit after drying is above the one before by what two determinations differ at most.
_MOST_DRIED = 1.1
# Typed facts and the curve's may differ by this much before it is said.
_DIFFER_PERCENT = 2.0


@dataclass
class Found:
    """Facts by the names the trees use, the curve they came from, and what is doubtful."""

    facts: dict[str, float] = field(default_factory=dict)
    curve: Curve = field(default_factory=lambda: Curve.through([], []))
    fine_earth: tuple[float, float, float] | None = None
    findings: list[Finding] = field(default_factory=list)


def find_facts(readings: ClassificationReadings, context: ClassificationContext) -> Found:
    """Return all facts known of the sample."""
    found = Found(curve=joined(limb(context.sieve_curve), limb(context.hydrometer_curve)))
    measured = _of_curve(found.curve)
    typed = {
        "fines": readings.fines_percent,
        "sand": readings.sand_percent,
        "gravel": readings.gravel_percent,
        "Cu": readings.uniformity,
        "Cc": readings.curvature,
        "passing 2 mm": readings.passing_2_mm_percent,
        "passing 0.425 mm": readings.passing_0_425_mm_percent,
        "passing 0.075 mm": readings.passing_0_075_mm_percent
        if readings.passing_0_075_mm_percent is not None
        else readings.fines_percent,
    }
    facts = measured | {name: value for name, value in typed.items() if value is not None}
    # A share that was not typed follows from the two that were.
    shares = ("fines", "sand", "gravel")
    missing = [name for name in shares if name not in facts]
    if len(missing) == 1:
        facts[missing[0]] = max(0.0, 100.0 - sum(facts[name] for name in shares if name in facts))
    if "passing 0.075 mm" not in facts and "fines" in facts:
        facts["passing 0.075 mm"] = facts["fines"]
    if "fines" not in facts and "passing 0.075 mm" in facts:
        facts["fines"] = facts["passing 0.075 mm"]
    facts |= _limits(readings, context) | _organic(readings, context)
    facts["peat"] = 1.0 if readings.peat == "yes" else 0.0
    found.facts = facts
    found.fine_earth = _fine_earth(readings, found)
    dried = _dried(readings, context)
    found.findings = (
        _doubts(readings, measured, found, dried) + impossible(readings, found.facts) + _of_limits(readings, context)
    )
    return found


def _of_curve(curve: Curve) -> dict[str, float]:
    """Return what the grading says, as shares of what passes 75 mm."""
    whole = curve.finer_at(75.0) if len(curve) else None
    if not whole:
        return {}
    passing = {d: 100.0 * p / whole for d in (4.75, 2.0, 0.425, 0.075) if (p := curve.finer_at(d)) is not None}
    facts = {f"passing {d:g} mm": passing[d] for d in (2.0, 0.425, 0.075) if d in passing}
    if 4.75 in passing:
        facts["gravel"] = 100.0 - passing[4.75]
    if 0.075 in passing:
        facts["fines"] = passing[0.075]
        if 4.75 in passing:
            facts["sand"] = passing[4.75] - passing[0.075]
    d10, d30, d60 = (curve.diameter_at(p * whole / 100.0) for p in (10, 30, 60))
    if d10 and d30 and d60:
        facts |= {"Cu": uniformity(d10, d60), "Cc": curvature(d10, d30, d60)}
    return facts


def _limits(readings: ClassificationReadings, context: ClassificationContext) -> dict[str, float]:
    typed = readings.liquid_limit is not None or readings.plasticity_index is not None
    if readings.plasticity == "non-plastic":
        return {"LL": readings.liquid_limit or 0.0, "PI": 0.0}
    if not typed and readings.plasticity is None and (context.non_plastic or context.liquid_limit_not_determinable):
        return {"LL": context.liquid_limit.value if context.liquid_limit else 0.0, "PI": 0.0}
    limit, index = (
        _typed_or(readings.liquid_limit, context.liquid_limit),
        _typed_or(readings.plasticity_index, context.plasticity_index),
    )
    return {name: value for name, value in (("LL", limit), ("PI", index)) if value is not None}


def _organic(readings: ClassificationReadings, context: ClassificationContext) -> dict[str, float]:
    """Return whether the fines are organic; not known while the soil looks organic and nothing decides."""
    limit = _typed_or(readings.liquid_limit, context.liquid_limit)
    dried = _dried(readings, context)
    if dried is not None and limit:
        # A ratio of 0.75 itself is not below it, whatever the last digit of a division says.
        return {"organic": 1.0 if dried < _ORGANIC_RATIO * limit - 1e-9 else 0.0}
    return {} if readings.organic_look == "yes" else {"organic": 0.0}


def _dried(readings: ClassificationReadings, context: ClassificationContext) -> float | None:
    """Return the liquid limit after oven-drying."""
    return _typed_or(readings.liquid_limit_oven_dried, context.liquid_limit_oven_dried)


def _typed_or(typed: float | None, leant: Leant | None) -> float | None:
    return typed if typed is not None else leant.value if leant else None


def _fine_earth(readings: ClassificationReadings, found: Found) -> tuple[float, float, float] | None:
    """Return sand, silt and clay of what passes 2 mm, percent; the bound of silt is 0.05 mm here."""
    curve = found.curve
    below_2 = readings.passing_2_mm_percent if readings.passing_2_mm_percent is not None else curve.finer_at(2.0)
    silt_top = readings.finer_0_05_mm_percent if readings.finer_0_05_mm_percent is not None else curve.finer_at(0.05)
    clay = readings.clay_percent if readings.clay_percent is not None else curve.finer_at(0.002)
    if not below_2 or silt_top is None or clay is None or not clay <= silt_top <= below_2:
        return None
    return (100 * (below_2 - silt_top) / below_2, 100 * (silt_top - clay) / below_2, 100 * clay / below_2)


def _of_limits(readings: ClassificationReadings, context: ClassificationContext) -> list[Finding]:
    """Return what is to be said of the limits that another test supplied."""
    if readings.liquid_limit is not None or context.liquid_limit is None:
        return []
    source = context.liquid_limit.source
    findings = [BY_CONE.at("liquid_limit", source=source)] if context.by_cone else []
    dried = _dried(readings, context)
    if context.air_dried and dried is not None:
        findings.append(AIR_DRIED.at("liquid_limit", source=source))
    return findings


def _doubts(
    readings: ClassificationReadings, measured: dict[str, float], found: Found, dried: float | None
) -> list[Finding]:
    findings: list[Finding] = []
    facts = found.facts
    shares = [facts.get(name) for name in ("gravel", "sand", "fines")]
    if all(share is not None for share in shares):
        total = sum(share for share in shares if share is not None)
        if abs(total - 100.0) > 1.0:
            findings.append(SHARES_OFF.at("fines_percent", total=total))
    passing = [
        (name, facts[name]) for name in ("passing 2 mm", "passing 0.425 mm", "passing 0.075 mm") if name in facts
    ]
    for (coarse, more), (fine, less) in pairwise(passing):
        if less > more + 0.05:
            findings.append(
                PASSING_RISES.at(
                    f"{fine.replace(' ', '_').replace('.', '_')}_percent",
                    less=less,
                    fine=fine,
                    more=more,
                    coarse=coarse,
                )
            )
    limit, index = facts.get("LL"), facts.get("PI")
    if limit is not None and index is not None and index > 0:
        if index >= limit:
            findings.append(PI_ABOVE_LL.at("plasticity_index", index=index, limit=limit))
        elif limit >= 16 and index > float(u_line(limit)):
            findings.append(ABOVE_U_LINE.at("plasticity_index", limit=limit, index=index))
    if dried is not None and limit and dried > _MOST_DRIED * limit:
        findings.append(DRIED_ABOVE.at("liquid_limit_oven_dried", dried=dried, limit=limit))
    if facts.get("organic") and readings.organic_look == "no":
        findings.append(ORGANIC_BY_LIMIT.at("liquid_limit_oven_dried"))
    differ = [
        name
        for name, value in measured.items()
        if name in ("fines", "sand", "gravel") and abs(facts[name] - value) > _DIFFER_PERCENT
    ]
    if differ:
        findings.append(
            TYPED_OVER_MEASURED.at(f"{differ[0]}_percent", names=", ".join(differ), percent=_DIFFER_PERCENT)
        )
    return findings
