"""What can be wrong at the hole, and whether to keep reading."""

from itertools import pairwise

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.well_permeameter.findings import (
    BEYOND_REACH,
    CLASS_CONTRADICTED,
    DIAMETER_FOR_RADIUS,
    FAST_FOR_CLAY,
    HEAD_2_MISSING,
    HEAD_ABOVE_HOLE,
    HEAD_UNUSUAL,
    HEADS_ALIKE,
    HEADS_EXCHANGED,
    LEFT_UNSTEADY,
    LEVEL_RISES,
    NEVER_STEADY,
    RATE_JUMPS,
    RESERVOIRS_ODD,
    SCALE_RISES,
    SECTIONS,
    SIZES_DIFFER,
    SLENDER,
    SMEAR,
    SMEAR_SUSPECTED,
    STUCK,
    TIME_BACK,
    TIME_TWICE,
    TWO_HEADS_NEGATIVE,
    UTILITIES,
    WATER_TABLE,
)
from vadum.soil.methods.well_permeameter.rates import Head, section_cm2
from vadum.soil.methods.well_permeameter.readings import Solution, WellReadings, WellSettings
from vadum.soil.physics.constant_head import ALPHA, SoilClass, TwoHeads

_USUAL_DIAMETERS_MM = (50.0, 60.0, 70.0, 80.0, 100.0)
_LEAST_RATES, _LONG, _STUCK = 4, 20, 3
_SAME = 0.02
# The shape factors were computed for heads of a quarter to ten times the radius: Zhang, Groenevelt and Parkin (1998).
_SLENDER = (0.25, 10.0)
# The classes' own values of alpha* lie a factor of three to four apart.
_OTHER_CLASS = 4.0
_ALIKE = 1.4
_TIGHT_SAND_MM_H = 3.6
_CLEARANCE_M = 1.0
# The inner tube is for tight ground, both for open ground: sections about a power of ten apart.
_TUBES = (10.0, 25.0)


def hole_findings(readings: WellReadings) -> list[Finding]:
    """Return what is wrong with hole, heads, reservoir and ground."""
    found: list[Finding] = []
    if readings.utilities == "no":
        found.append(UTILITIES.at("utilities"))
    r = readings
    if r.inner_cm2 and r.combined_cm2 and not _TUBES[0] <= (ratio := r.combined_cm2 / r.inner_cm2) <= _TUBES[1]:
        found.append(RESERVOIRS_ODD.at("inner_cm2", "combined_cm2", ratio=ratio))
    odd = r.odd_because is None
    if odd and r.hole_diameter_mm is None and r.hole_radius_mm in _USUAL_DIAMETERS_MM:
        found.append(
            DIAMETER_FOR_RADIUS.at(
                "hole_radius_mm",
                hole_radius_mm=r.hole_radius_mm,
                across=2 * r.hole_radius_mm,
                half=r.hole_radius_mm / 2,
            )
        )
    both = r.hole_diameter_mm is not None and r.hole_radius_mm is not None
    if both and abs((r.hole_radius_mm or 0.0) - (half := (r.hole_diameter_mm or 0.0) / 2)) > _SAME * half:
        found.append(SIZES_DIFFER.at("hole_radius_mm", typed=r.hole_radius_mm, across=2 * half, half=half))
    for name, head in (("head_1_mm", r.head_1_mm), ("head_2_mm", r.head_2_mm)):
        if head is not None and odd and not 40 <= head <= 300:
            found.append(HEAD_UNUSUAL.at(name, head=head))
        elif head is not None and odd and r.radius_mm and not _SLENDER[0] <= (x := head / r.radius_mm) <= _SLENDER[1]:
            found.append(SLENDER.at(name, head=head, ratio=x, least=_SLENDER[0], most=_SLENDER[1]))
        if head is not None and r.hole_depth_mm is not None and head >= r.hole_depth_mm:
            found.append(HEAD_ABOVE_HOLE.at(name, head=head, hole_depth_mm=r.hole_depth_mm))
    if (
        r.head_1_mm is not None
        and r.head_2_mm is not None
        and max(r.head_1_mm, r.head_2_mm) < _ALIKE * min(r.head_1_mm, r.head_2_mm)
    ):
        found.append(HEADS_ALIKE.at("head_2_mm", head_1_mm=r.head_1_mm, head_2_mm=r.head_2_mm))
    if r.reach_mm is not None and r.hole_depth_mm is not None and r.hole_depth_mm > r.reach_mm:
        found.append(BEYOND_REACH.at("hole_depth_mm", hole_depth_mm=r.hole_depth_mm, reach_mm=r.reach_mm))
    if r.brushed == "no":
        found.append(SMEAR.at("brushed"))
    if (
        r.water_table_m is not None
        and r.hole_depth_mm is not None
        and r.water_table_m < r.hole_depth_mm / 1000 + _CLEARANCE_M
    ):
        found.append(WATER_TABLE.at("water_table_m", water_table_m=r.water_table_m, least=_CLEARANCE_M))
    if r.inner_cm2 is not None and r.combined_cm2 is not None and r.inner_cm2 >= r.combined_cm2:
        found.append(SECTIONS.at("inner_cm2", inner_cm2=r.inner_cm2, combined_cm2=r.combined_cm2))
    return found


def rate_findings(readings: WellReadings, settings: WellSettings, made: list[Head]) -> list[Finding]:
    """Return what is wrong with levels and rates."""
    found: list[Finding] = []
    number, number_before, last = 1, 1, None
    for i, row in enumerate(readings.levels):
        number = row.head if row.head is not None else number
        if not row.used or row.elapsed_min is None or row.level_mm is None:
            continue
        # Filling up takes no time on the clock: the level before it and the one after may share a minute.
        at_once = row.refilled == "yes" and row.elapsed_min == last
        if last is not None and number == number_before and row.elapsed_min <= last and not at_once:
            found.append(
                (TIME_TWICE if row.elapsed_min == last else TIME_BACK).at(
                    f"levels.{i}.elapsed_min", elapsed_min=row.elapsed_min, last=last
                )
            )
        number_before, last = number, row.elapsed_min
    for head in made[:-1]:
        if not head.window(settings):
            found.append(
                LEFT_UNSTEADY.at(
                    f"levels.{head.rates[-1].row}.level_mm" if head.rates else "levels.0.level_mm", number=head.number
                )
            )
    for head in made:
        for rate in head.rates if any(r.mm_min >= 0 for r in head.rates) else []:
            if rate.mm_min < 0:
                found.append(LEVEL_RISES.at(f"levels.{rate.row}.level_mm", number=head.number, to_min=rate.to_min))
        if len(head.rates) >= _STUCK and all(r.mm_min == 0 for r in head.rates[-_STUCK:]):
            stood = head.rates[-1].to_min - head.rates[-_STUCK].from_min
            found.append(STUCK.at(f"levels.{head.rates[-1].row}.level_mm", number=head.number, stood=stood))
        elif len(head.rates) >= _STUCK and all(r.mm_min < 0 for r in head.rates):
            found.append(SCALE_RISES.at("levels", number=head.number))
            continue
        speeds = [r for r in head.rates if r.mm_min > 0]
        for a, b in pairwise(speeds):
            if (
                len(speeds) > _LEAST_RATES
                and b.mm_min > 2.5 * a.mm_min
                and b.mm_min - a.mm_min > 3 / (b.to_min - b.from_min)
            ):
                found.append(
                    RATE_JUMPS.at(
                        f"levels.{b.row}.level_mm",
                        number=head.number,
                        mm_min=a.mm_min,
                        b_mm_min=b.mm_min,
                        to_min=b.to_min,
                    )
                )
        if len(head.rates) >= _LONG and not head.window(settings):
            found.append(
                NEVER_STEADY.at(
                    f"levels.{head.rates[-1].row}.level_mm",
                    number=head.number,
                    count=len(head.rates),
                    steady_rates=settings.steady_rates,
                    within_percent=settings.within_percent,
                )
            )
    return found


def solution_findings(
    readings: WellReadings, settings: WellSettings, by_two: TwoHeads | None, kfs_mm_h: float | None
) -> list[Finding]:
    """Return what is doubtful of the solution."""
    found: list[Finding] = []
    if by_two is not None and not by_two.sound:
        found.append(TWO_HEADS_NEGATIVE.at("head_2_mm"))
    if by_two is not None and by_two.sound and by_two.alpha_per_cm is not None:
        usual = ALPHA[settings.soil]
        if not usual / _OTHER_CLASS < by_two.alpha_per_cm < usual * _OTHER_CLASS:
            found.append(CLASS_CONTRADICTED.at("head_2_mm", alpha=by_two.alpha_per_cm, soil=settings.soil, usual=usual))
    if kfs_mm_h is not None and settings.soil == SoilClass.COARSE and kfs_mm_h < _TIGHT_SAND_MM_H:
        found.append(SMEAR_SUSPECTED.at("reservoir", kfs_mm_h=kfs_mm_h))
    if kfs_mm_h is not None and settings.soil in (SoilClass.CLAY, SoilClass.COMPACTED) and kfs_mm_h > 360:
        found.append(FAST_FOR_CLAY.at("reservoir", kfs_mm_h=kfs_mm_h))
    return found


def heads_findings(
    readings: WellReadings, settings: WellSettings, flows: dict[int, tuple[float, float]]
) -> list[Finding]:
    """Return what is wrong with two heads beside each other; ``flows`` are cm3/min and cm by number."""
    if len(flows) < 2:
        missing = readings.head_2_mm is None and any(row.head == 2 for row in readings.levels)
        if missing or (settings.solution == Solution.TWO and readings.head_2_mm is None):
            return [HEAD_2_MISSING.at("head_2_mm")]
        return []
    (q1, h1), (q2, h2) = flows[1], flows[2]
    if (q2 - q1) * (h2 - h1) < 0:
        return [HEADS_EXCHANGED.at("head_1_mm", "head_2_mm", larger=10 * max(h1, h2), smaller=10 * min(h1, h2))]
    return []


def next_step(readings: WellReadings, settings: WellSettings, made: list[Head]) -> str:
    """Return the next thing to do: set up, keep reading, next head, stop."""
    if readings.utilities is None:
        return "Locate the utilities before you break the ground; say so here."
    if readings.radius_mm is None or readings.head_1_mm is None:
        return "Auger the hole, brush its wall, hang the outlet for a head of 50 to 250 mm; type diameter and head."
    if section_cm2(readings) is None:
        return "Say which reservoir is open, and its section: the inner tube for tight ground."
    if not made:
        return "Open the valve; when the bubbles come evenly read the level every 1 to 2 min, slower in clay."
    head = made[-1]
    if not head.window(settings):
        left = max(1, settings.steady_rates - len(head.rates))
        now = f" Now {head.rates[-1].mm_min:.2f} mm/min." if head.rates else ""
        return f"Head {head.number}: keep reading.{now} " + (
            f"At least {left} more."
            if len(head.rates) < settings.steady_rates
            else f"The last {settings.steady_rates} rates do not agree within {settings.within_percent:g} % yet, or"
            " still go one way."
        )
    if head.number == 1 and readings.head_2_mm is not None:
        return f"Head 1 is steady. Raise the outlet to {readings.head_2_mm:g} mm, read on as head 2."
    return ""
