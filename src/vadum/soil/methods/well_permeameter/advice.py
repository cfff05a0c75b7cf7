"""What can be wrong at the hole, and whether to keep reading."""

from itertools import pairwise

from vadum.soil.contract.finding import Finding, note, stop, warn
from vadum.soil.contract.method import Reduction
from vadum.soil.methods.well_permeameter.rates import Head, section_cm2
from vadum.soil.methods.well_permeameter.readings import WellReadings, WellSettings
from vadum.soil.physics.constant_head import TwoHeads

_USUAL_DIAMETERS_MM = (50.0, 60.0, 70.0, 80.0, 100.0)
_LEAST_RATES, _LONG = 4, 20
_ALIKE = 1.4
_TIGHT_SAND_MM_H = 3.6
_CLEARANCE_M = 1.0


def hole_findings(readings: WellReadings, settings: WellSettings) -> list[Finding]:
    """Return what is wrong with hole, heads, reservoir and ground."""
    found: list[Finding] = []
    if readings.utilities == "no":
        found.append(
            stop("utilities", "Utilities are not located.", "Do not break the ground before they are.", "utilities")
        )
    if settings.arrangement != "well permeameter":
        return found
    r = readings
    if r.hole_radius_mm is not None and r.hole_radius_mm in _USUAL_DIAMETERS_MM:
        found.append(
            warn(
                "diameter-for-radius",
                f"{r.hole_radius_mm:g} mm is an auger's usual diameter, a hole of radius {r.hole_radius_mm:g} mm would"
                f" be {2 * r.hole_radius_mm:g} mm wide.",
                f"Type the radius, {r.hole_radius_mm / 2:g} mm, if that is the diameter.",
                "hole_radius_mm",
            )
        )
    for name, head in (("head_1_mm", r.head_1_mm), ("head_2_mm", r.head_2_mm)):
        if head is not None and not 40 <= head <= 300:
            found.append(
                warn(
                    "head-unusual",
                    f"A head of {head:g} mm; 50 to 250 mm is usual.",
                    "Look at the unit: mm, not cm.",
                    name,
                )
            )
        if head is not None and r.hole_depth_mm is not None and head >= r.hole_depth_mm:
            found.append(
                stop(
                    "head-above-hole",
                    f"A head of {head:g} mm in a hole {r.hole_depth_mm:g} mm deep.",
                    "Measure both again.",
                    name,
                )
            )
    if (
        r.head_1_mm is not None
        and r.head_2_mm is not None
        and max(r.head_1_mm, r.head_2_mm) < _ALIKE * min(r.head_1_mm, r.head_2_mm)
    ):
        found.append(
            warn(
                "heads-alike",
                f"Heads of {r.head_1_mm:g} and {r.head_2_mm:g} mm are too alike for two unknowns.",
                "Take the second at twice the first.",
                "head_2_mm",
            )
        )
    if r.reach_mm is not None and r.hole_depth_mm is not None and r.hole_depth_mm > r.reach_mm:
        found.append(
            stop(
                "beyond-reach",
                f"The hole is {r.hole_depth_mm:g} mm deep, the frame reaches {r.reach_mm:g} mm.",
                "Use an extension, or test in a pit.",
                "hole_depth_mm",
            )
        )
    if r.brushed == "no":
        found.append(
            warn(
                "smear",
                "The wall is not brushed: an auger smears clay and silt shut.",
                "Brush it, clean the hole, begin again.",
                "brushed",
            )
        )
    if (
        r.water_table_m is not None
        and r.hole_depth_mm is not None
        and r.water_table_m < r.hole_depth_mm / 1000 + _CLEARANCE_M
    ):
        found.append(
            warn(
                "water-table",
                f"The water table at {r.water_table_m:g} m is less than {_CLEARANCE_M:g} m below the hole.",
                "The rate holds for this water table only; a design needs the distance its code asks for.",
                "water_table_m",
            )
        )
    if r.inner_cm2 is not None and r.combined_cm2 is not None and r.inner_cm2 >= r.combined_cm2:
        found.append(
            stop(
                "sections",
                f"The inner section, {r.inner_cm2:g} cm², is not smaller than the combined one, {r.combined_cm2:g}"
                " cm².",
                "Look whether the two are exchanged.",
                "inner_cm2",
            )
        )
    return found


def rate_findings(readings: WellReadings, settings: WellSettings, made: list[Head]) -> list[Finding]:
    """Return what is wrong with levels and rates."""
    found: list[Finding] = []
    number, last = 1, None
    for i, row in enumerate(readings.levels):
        number_before, number = number, row.head if row.head is not None else number
        if not row.used or row.elapsed_min is None or row.level_mm is None:
            continue
        if last is not None and number == number_before and row.elapsed_min <= last:
            found.append(
                stop(
                    "time-back",
                    f"{row.elapsed_min:g} min stands after {last:g} min.",
                    "Put the levels in the order in which they were read.",
                    f"levels.{i}.elapsed_min",
                )
            )
        last = row.elapsed_min
    for head in made[:-1]:
        if not head.window(settings):
            found.append(
                warn(
                    "left-unsteady",
                    f"Head {head.number} was left before its rate was steady.",
                    "Read it on until the last rates agree, or leave its rows out with a reason.",
                    f"levels.{head.rates[-1].row}.level_mm" if head.rates else "levels.0.level_mm",
                )
            )
    for head in made:
        for rate in head.rates:
            if rate.mm_min < 0:
                found.append(
                    warn(
                        "level-rises",
                        f"Head {head.number}: the level rises until {rate.to_min:g} min: filled up, or air went in?",
                        "Say refilled in that row, or leave it out with a reason.",
                        f"levels.{rate.row}.level_mm",
                    )
                )
        speeds = [r for r in head.rates if r.mm_min > 0]
        for a, b in pairwise(speeds):
            if (
                len(speeds) > _LEAST_RATES
                and b.mm_min > 2.5 * a.mm_min
                and b.mm_min - a.mm_min > 3 / (b.to_min - b.from_min)
            ):
                found.append(
                    warn(
                        "rate-jumps",
                        f"Head {head.number}: the rate jumps from {a.mm_min:.2g} to {b.mm_min:.2g} mm/min at"
                        f" {b.to_min:g} min.",
                        "Air in the tube, another reservoir, or misread: read again.",
                        f"levels.{b.row}.level_mm",
                    )
                )
        if len(head.rates) >= _LONG and not head.window(settings):
            found.append(
                warn(
                    "never-steady",
                    f"Head {head.number}: {len(head.rates)} rates and the last {settings.steady_rates} still differ by"
                    f" more than {settings.within_percent:g} %.",
                    "Go on with longer intervals; look for a leak beside the hole.",
                    f"levels.{head.rates[-1].row}.level_mm",
                )
            )
    return found


def solution_findings(
    readings: WellReadings, settings: WellSettings, by_two: TwoHeads | None, kfs_mm_h: float | None
) -> list[Finding]:
    """Return what is doubtful of the solution."""
    found: list[Finding] = []
    if by_two is not None and not by_two.sound:
        found.append(
            note(
                "two-heads-negative",
                "The two heads give a negative solution: layers, cracks or an unsteady rate.",
                "The mean of both one-head values is reported; repeat with more distance between the heads.",
                "head_2_mm",
            )
        )
    if kfs_mm_h is not None and settings.soil == "coarse sand, gravel" and kfs_mm_h < _TIGHT_SAND_MM_H:
        found.append(
            warn(
                "smear-suspected",
                f"Kfs of {kfs_mm_h:.2g} mm/h is very low for sand: the wall may be smeared, or the section is of the"
                " wrong tube.",
                "Brush the wall and repeat; look which reservoir was open.",
                "reservoir",
            )
        )
    if kfs_mm_h is not None and settings.soil in ("clay, unstructured", "compacted clay") and kfs_mm_h > 360:
        found.append(
            warn(
                "fast-for-clay",
                f"Kfs of {kfs_mm_h:.3g} mm/h is that of sand, the class says clay.",
                "Look at the section of the reservoir in use, and at the class.",
                "reservoir",
            )
        )
    return found


def next_action(readings: WellReadings, settings: WellSettings, made: list[Head], result: Reduction) -> str:
    """Return the next thing to do: set up, keep reading, next head, stop."""
    worst = next((f for f in result.findings if f.severity == "stop"), None)
    if worst is not None:
        return f"{worst.message} {worst.action}"
    if readings.utilities is None:
        return "Locate the utilities before you break the ground; say so here."
    well = settings.arrangement == "well permeameter"
    if well and (readings.hole_radius_mm is None or readings.head_1_mm is None):
        return "Auger the hole, brush its wall, hang the outlet for a head of 50 to 250 mm; type radius and head."
    if settings.arrangement != "percolation hole" and section_cm2(readings) is None:
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
            else f"The last {settings.steady_rates} rates do not agree within {settings.within_percent:g} % yet."
        )
    if well and head.number == 1 and readings.head_2_mm is not None:
        return f"Head 1 is steady. Raise the outlet to {readings.head_2_mm:g} mm, read on as head 2."
    warned = next((f for f in result.findings if f.severity == "warn"), None)
    return (
        f"{warned.message} {warned.action}"
        if warned
        else "Steady: close the valve, backfill the hole. Let a second person check the sheet."
    )
