"""What can be wrong with a stack, and what to do while the soil is still there."""

from collections import Counter

from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.bench.grading.sieves import least_specimen_g, most_on_sieve_g, of_a_series, out_of_order
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.method import Reduction
from vadum.soil.methods.sieve.readings import SieveReadings, SieveRow, SieveSettings
from vadum.soil.methods.sieve.stack import Stack

# Of what lies on a sieve, passing in one more minute of hand sieving; ASTM C136 (2019), clause 8.4.
_ENDPOINT_PERCENT = 1.0


def mass_findings(readings: SieveReadings, settings: SieveSettings, stack: Stack) -> list[Finding]:
    """Return what is wrong with the masses as a whole."""
    findings: list[Finding] = []
    dry, washed = readings.mass_dry_g, readings.mass_washed_g
    if settings.washing == "washed" and dry is not None and washed is not None and washed > dry:
        findings.append(
            stop(
                "washed-heavier",
                f"After washing {washed:g} g, before {dry:g} g: washing takes mass away.",
                "Look whether the two are exchanged; dry the washed soil to constant mass and weigh again.",
                "mass_washed_g",
                "mass_dry_g",
            )
        )
    if stack.pan_g is not None and stack.retained_g and dry is None:
        findings.append(
            warn(
                "total-missing",
                "No dry mass before sieving: the sum of the sieves stands in for it and nothing checks it.",
                "Enter the dry mass of the specimen if it was weighed.",
                "mass_dry_g",
            )
        )
    return findings + _sum_findings(readings, settings, stack)


def _sum_findings(readings: SieveReadings, settings: SieveSettings, stack: Stack) -> list[Finding]:
    put_in = stack.sieved_g
    if not put_in or not stack.retained_g:
        return []
    slipped = [i for i, mass in stack.retained_g.items() if mass > 5 * put_in]
    if slipped:
        return [
            stop(
                "unit-slip",
                f"{stack.retained_g[i]:g} g on one sieve of a specimen of {put_in:g} g: typed in another unit?",
                "Read the balance again and type the mass in g, or with its unit (0.125 kg).",
                _mass_cell(i, settings),
            )
            for i in slipped
        ]
    off = 100 * (stack.weighed_g - put_in) / put_in
    if stack.pan_g is None and off <= settings.sum_warn_percent:
        return []
    if abs(off) <= settings.sum_warn_percent + 1e-9:
        return []
    said = stop if abs(off) > settings.sum_stop_percent else warn
    what = "more" if off > 0 else "less"
    return [
        said(
            "sum-off",
            f"Sieves{' and pan' if stack.pan_g is not None else ''} hold {stack.weighed_g:.1f} g, {abs(off):.1f} %"
            f" {what} than the {put_in:.1f} g put in.",
            (
                "Weigh each sieve's soil again before it is thrown away; look into frames, brushes and the pan."
                if off < 0
                else "Look for a mass written twice, a sieve weighed with its frame, or a swapped entry style."
            ),
        )
    ]


def stack_findings(
    readings: SieveReadings, settings: SieveSettings, context: GradingContext, stack: Stack
) -> list[Finding]:
    """Return what is wrong with single sieves, and with the specimen for its largest grain."""
    rows = [(i, row) for i, row in enumerate(readings.sieves) if row.used and row.opening_mm is not None]
    findings = _order(rows) + _exchanged(rows, stack)
    for i, row in rows:
        findings += _row_findings(i, row, settings, stack, readings.loads or 1)
    if stack.gap is not None:
        findings.append(
            stop(
                "mass-missing",
                f"The {readings.sieves[stack.gap].opening_mm:g} mm sieve has no mass, but finer ones have.",
                "Enter what it holds, 0 when nothing stays on it.",
                _mass_cell(stack.gap, settings),
            )
        )
    if readings.clods == "left":
        findings.append(
            warn(
                "clods",
                "Clods were left: they count as grains of their own size.",
                "Break them with a rubber pestle, without crushing grains, and sieve again.",
                "clods",
            )
        )
    top = next(iter(stack.finer_percent.items()), None)
    if top is not None and top[0] == rows[0][0] and top[1] < 99.95:
        coarsest = readings.sieves[top[0]].opening_mm
        findings.append(
            warn(
                "top-sieve-retains",
                f"{100 - top[1]:.1f} % stays on the coarsest sieve, {coarsest:g} mm: the curve has no upper end.",
                "Put a coarser sieve on top until everything passes it.",
                f"sieves.{top[0]}.opening_mm",
            )
        )
    return findings + _specimen(readings, settings, context, stack)


def _exchanged(rows: list[tuple[int, SieveRow]], stack: Stack) -> list[Finding]:
    """Suspect exchanged columns: every mass is an opening of a series, hardly an opening is."""
    openings = [row.opening_mm for _, row in rows if row.opening_mm is not None]
    masses = [mass for mass in stack.retained_g.values() if mass > 0]
    if len(masses) < 3 or not all(map(of_a_series, masses)) or sum(map(of_a_series, openings)) > len(openings) / 2:
        return []
    return [
        stop(
            "columns-exchanged",
            "The masses are openings of sieves and the openings are not: the two columns seem exchanged.",
            "Look at the headings; put the openings in mm under opening and the masses in g under retained.",
            f"sieves.{rows[0][0]}.opening_mm",
        )
    ]


def _order(rows: list[tuple[int, SieveRow]]) -> list[Finding]:
    openings = [row.opening_mm for _, row in rows if row.opening_mm is not None]
    twice = {d for d, n in Counter(openings).items() if n > 1}
    findings = [
        stop(
            "sieve-twice",
            f"The {d:g} mm sieve stands twice.",
            "Keep one line per sieve; add the masses if it was loaded twice.",
            *(f"sieves.{i}.opening_mm" for i, row in rows if row.opening_mm == d),
        )
        for d in sorted(twice, reverse=True)
    ]
    for at in out_of_order(openings):
        row, (above, here) = rows[at][0], (openings[at - 1], openings[at])
        if here not in twice:
            findings.append(
                stop(
                    "sieves-out-of-order",
                    f"{here:g} mm stands below {above:g} mm: a coarser sieve cannot follow a finer one.",
                    "Read the openings on the frames and put the lines in the order of the stack.",
                    f"sieves.{row}.opening_mm",
                )
            )
    return findings


def _row_findings(i: int, row: SieveRow, settings: SieveSettings, stack: Stack, loads: int) -> list[Finding]:
    findings: list[Finding] = []
    mass, opening = stack.retained_g.get(i), row.opening_mm or 0.0
    if mass is None:
        return findings
    if mass < -1e-9:
        findings.append(
            stop(
                "balance-falls",
                f"The balance shows less with the {opening:g} mm sieve added than before.",
                "Read the balance again; if each sieve was weighed alone, change the entry style under School.",
                f"sieves.{i}.mass_cumulative_g",
            )
        )
    most = most_on_sieve_g(opening, settings.sieve_diameter_mm) * loads
    if mass > most:
        findings.append(
            warn(
                "sieve-overloaded",
                f"{mass:.0f} g on the {opening:g} mm sieve; it carries {most:.0f}"
                f" g{f' in {loads} loads' if loads > 1 else ''}.",
                f"Split the specimen into {loads * (int(mass // most) + 1)} loads, sieve each, add the masses and enter"
                " the number of loads.",
                _mass_cell(i, settings),
            )
        )
    if row.mass_passed_g is not None and mass > 0:
        rate = 100 * row.mass_passed_g / mass
        if rate > _ENDPOINT_PERCENT:
            findings.append(
                warn(
                    "still-passing",
                    f"{rate:.1f} % of what lies on {opening:g} mm still passed in one minute; 1 % ends the sieving.",
                    "Shake the stack longer and weigh again.",
                    f"sieves.{i}.mass_passed_g",
                )
            )
    return findings


def _specimen(readings: SieveReadings, settings: SieveSettings, context: GradingContext, stack: Stack) -> list[Finding]:
    grain, dry = largest_particle_mm(readings, context, stack), readings.mass_dry_g
    if grain is None or not dry:
        return []
    least = least_specimen_g(grain, settings.specimen_rule)
    if dry >= least:
        return []
    return [
        warn(
            "specimen-small",
            f"{dry:.0f} g is too little for grains of {grain:g} mm: at least {least:.0f} g.",
            "Take more of the sample and sieve it together with this, or say so on the report.",
            "mass_dry_g",
        )
    ]


def largest_particle_mm(readings: SieveReadings, context: GradingContext, stack: Stack) -> float | None:
    """Return the largest grain as seen, else the finest sieve all passes, else what the sample's record says."""
    if readings.largest_particle_mm:
        return readings.largest_particle_mm
    passed = [readings.sieves[i].opening_mm for i, p in stack.finer_percent.items() if p >= 99.95]
    if passed and len(passed) < len(stack.finer_percent):
        return passed[-1]
    return context.largest_particle_mm.value if context.largest_particle_mm else None


def next_action(
    readings: SieveReadings, settings: SieveSettings, context: GradingContext, stack: Stack, result: Reduction
) -> str:
    """Return what to do now, in one sentence."""
    if readings.mass_dry_g is None:
        grain = largest_particle_mm(readings, context, stack)
        least = (
            f", at least {least_specimen_g(grain, settings.specimen_rule):.0f} g for {grain:g} mm grains"
            if grain
            else ""
        )
        return f"Dry the specimen and weigh it{least}."
    if settings.washing == "washed" and readings.mass_washed_g is None:
        return "Wash over the finest sieve until the water runs clear, dry what stays and weigh it."
    if result.findings and result.findings[0].severity == "stop":
        return result.findings[0].action
    rows = [i for i, row in enumerate(readings.sieves) if row.used and row.opening_mm is not None]
    if not rows:
        return "Write the sieves, coarsest first, by opening or number; shake 10 to 15 min."
    waiting = [i for i in rows if i not in stack.retained_g]
    still = f"; {stack.sieved_g - stack.weighed_g:.1f} g still to come" if stack.sieved_g else ""
    if waiting:
        style = "add" if settings.entry == "cumulative" else "weigh"
        return f"Now {style} what lies on the {readings.sieves[waiting[0]].opening_mm:g} mm sieve{still}."
    if readings.mass_pan_g is None:
        return f"Weigh the pan{still}."
    if result.findings:
        return result.findings[0].action
    if result.parameter("d10_mm") is None and context.hydrometer_curve is None:
        return "Sieving done. D10 lies below the finest sieve: a hydrometer test would give it."
    return "Sieving done. Store the fractions until the sheet is checked."


def _mass_cell(i: int, settings: SieveSettings) -> str:
    return f"sieves.{i}.mass_{settings.entry}_g"
