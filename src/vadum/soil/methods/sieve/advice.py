"""What can be wrong with a stack, and what to do while the soil is still there."""

from collections import Counter
from itertools import pairwise

from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.bench.grading.fractions import fines_bound_mm
from vadum.soil.bench.grading.sieves import least_specimen_g, made_mm, most_on_sieve_g, of_a_series, out_of_order
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.sieve.findings import (
    BALANCE_FALLS,
    CLODS,
    COLUMNS_EXCHANGED,
    CUMULATIVE_ENTRY,
    DRY_FINES,
    FINES_BETWEEN,
    FINES_UNKNOWN,
    GRAIN_LARGER,
    MASS_MISSING,
    NO_SUCH_SIEVE,
    PAN_LIGHTER,
    RIFFLED_MORE,
    SIEVE_OVERLOADED,
    SIEVE_TWICE,
    SIEVES_OUT_OF_ORDER,
    SPECIMEN_LARGE,
    SPECIMEN_SMALL,
    STILL_PASSING,
    SUM_FAR_OVER,
    SUM_FAR_SHORT,
    SUM_OVER,
    SUM_SHORT,
    TOP_SIEVE_RETAINS,
    TOTAL_MISSING,
    UNIT_SLIP,
    WASHED_HEAVIER,
    WASHED_WITHOUT_TOTAL,
)
from vadum.soil.methods.sieve.readings import Clods, Entry, SieveReadings, SieveRow, SieveSettings, Split, Washing
from vadum.soil.methods.sieve.stack import Part, Stack
from vadum.soil.physics.grading import Curve

# Of what lies on a sieve, passing in one more minute of hand sieving; ASTM C136 (2019), clause 8.4.
_ENDPOINT_PERCENT = 1.0
# Four standard deviations of what rounding to one step does.
_FOUR_OF_UNIFORM = 4 / 12**0.5
# A sum of readings in binary is off by less.
_OF_NOTHING_G = 1e-6
# Nobody sieves so many times the least specimen.
_FAR_MORE = 8.0
# A running sum of so many sieves adds up to more than this many times what went in.
_FEWEST_OF_A_SUM, _FAR_OVER = 4, 1.3
# The largest particle is as large as the sieve that this share passes: ASTM D6913 (2017), clause 3.
_NEARLY_ALL = 99.0
# Up to this share of fines a clean sand may be sieved dry (ASTM D2487: clean is below 5, with fines above 12 %).
_MOST_DRY_FINES, _FINE_SIEVE_MM = 12.0, 0.15


def mass_findings(readings: SieveReadings, settings: SieveSettings, stack: Stack) -> list[Finding]:
    """Return what is wrong with the masses as a whole."""
    findings: list[Finding] = []
    dry, washed = readings.mass_dry_g, readings.mass_washed_g
    is_washed, split = settings.washing == Washing.WASHED, settings.split == Split.RIFFLED
    before, cell = (readings.mass_riffled_g, "mass_riffled_g") if split else (dry, "mass_dry_g")
    if is_washed and before is not None and washed is not None and washed > before:
        findings.append(WASHED_HEAVIER.at("mass_washed_g", cell, washed=washed, dry=before))
    riffled, below = readings.mass_riffled_g, readings.mass_below_split_g
    if split and riffled is not None and below is not None and riffled > below:
        findings.append(RIFFLED_MORE.at("mass_riffled_g", "mass_below_split_g", riffled=riffled, below=below))
    if stack.pan_g is not None and stack.weighed_alone_g and dry is None:
        findings.append((WASHED_WITHOUT_TOTAL if is_washed and not split else TOTAL_MISSING).at("mass_dry_g"))
    if typed_cumulatively(readings, settings, stack):
        last = max(stack.weighed_alone_g)
        return [*findings, CUMULATIVE_ENTRY.at(_mass_cell(last, settings), last=stack.weighed_alone_g[last])]
    if stack.pan_g is not None and stack.pan_g < -_OF_NOTHING_G:
        findings.append(PAN_LIGHTER.at("mass_pan_g", mass=stack.pan_g))
    put_in = stack.sieved_g
    slipped = [i for i, mass in stack.retained_g.items() if put_in and mass > 5 * put_in]
    if slipped:
        return findings + [
            UNIT_SLIP.at(_mass_cell(i, settings), retained_g=stack.retained_g[i], put_in=put_in) for i in slipped
        ]
    return findings + [finding for part in stack.parts for finding in _sum_findings(part, settings)]


def typed_cumulatively(readings: SieveReadings, settings: SieveSettings, stack: Stack) -> bool:
    """Return whether masses said to lie on each sieve alone are the balance's running sum."""
    masses = list(stack.weighed_alone_g.values())
    put_in = stack.sieved_g
    if settings.entry != Entry.RETAINED or not put_in or len(masses) < _FEWEST_OF_A_SUM:
        return False
    rising = all(before <= after for before, after in pairwise(masses))
    return rising and sum(masses) > _FAR_OVER * put_in and masses[-1] <= put_in * 1.02


def _sum_findings(part: Part, settings: SieveSettings) -> list[Finding]:
    off = part.found_g - part.put_in_g
    percent = 100 * off / part.put_in_g
    # So many readings of the balance, and that of what was put in, are off by no more: four standard deviations.
    rounding = _FOUR_OF_UNIFORM * settings.balance_step_g * (part.weighings + 1) ** 0.5
    within = abs(percent) <= settings.sum_warn_percent + 1e-9 or abs(off) <= rounding
    if within or (not part.whole and off < 0):
        return []
    short, over = (SUM_FAR_SHORT, SUM_FAR_OVER) if abs(percent) > settings.sum_stop_percent else (SUM_SHORT, SUM_OVER)
    return [
        (short if off < 0 else over).at(
            held_by=part.held_by, weighed=part.found_g, off=abs(percent), put_in=part.put_in_g
        )
    ]


def fines_findings(settings: SieveSettings, stack: Stack, openings: dict[int, float], fine: Curve) -> list[Finding]:
    """Return what is not known of the share below the bound of the fractions, or not to be trusted."""
    reached = {openings[i]: (i, p) for i, p in stack.finer_percent.items()}
    if stack.pan_g is None or not reached:
        return []
    findings: list[Finding] = []
    bound, finest = fines_bound_mm(settings.convention), min(reached)
    row, percent = reached[finest]
    cell = f"sieves.{row}.opening_mm"
    if settings.washing == Washing.DRY and finest <= _FINE_SIEVE_MM and percent > _MOST_DRY_FINES:
        findings.append(DRY_FINES.at(cell, percent=percent, finest=finest))
    if bound in reached or len(fine):
        return findings
    if finest > bound:
        return [*findings, FINES_UNKNOWN.at(cell, finest=finest, bound=bound)]
    coarser = min((d for d in reached if d > bound), default=None)
    finer = max(d for d in reached if d < bound)
    if coarser is not None:
        findings.append(FINES_BETWEEN.at(cell, bound=bound, finer=finer, coarser=coarser))
    return findings


def stack_findings(
    readings: SieveReadings, settings: SieveSettings, context: GradingContext, stack: Stack
) -> list[Finding]:
    """Return what is wrong with single sieves, and with the specimen for its largest grain."""
    rows = [(i, row) for i, row in enumerate(readings.sieves) if row.used and row.opening_mm is not None]
    findings = _order(rows) + _exchanged(rows, stack)
    findings += [
        NO_SUCH_SIEVE.at(f"sieves.{i}.opening_mm", opening=row.opening_mm)
        for i, row in rows
        if row.opening_mm is not None and made_mm(row.opening_mm) is None
    ]
    for i, row in rows:
        findings += _row_findings(i, row, settings, stack, readings.loads or 1)
    if stack.gap is not None:
        findings.append(
            MASS_MISSING.at(_mass_cell(stack.gap, settings), opening_mm=readings.sieves[stack.gap].opening_mm)
        )
    if readings.clods == Clods.LEFT:
        findings.append(CLODS.at("clods"))
    top = next(iter(stack.finer_percent.items()), None)
    if top is not None and top[0] == rows[0][0] and top[1] < 99.95:
        coarsest = readings.sieves[top[0]].opening_mm
        findings.append(TOP_SIEVE_RETAINS.at(f"sieves.{top[0]}.opening_mm", percent=100 - top[1], coarsest=coarsest))
    return findings + _specimen(readings, settings, context, stack)


def _exchanged(rows: list[tuple[int, SieveRow]], stack: Stack) -> list[Finding]:
    """Suspect exchanged columns: every mass is an opening of a series, hardly an opening is."""
    openings = [row.opening_mm for _, row in rows if row.opening_mm is not None]
    masses = [mass for mass in stack.retained_g.values() if mass > 0]
    if len(masses) < 3 or not all(map(of_a_series, masses)) or sum(map(of_a_series, openings)) > len(openings) / 2:
        return []
    return [COLUMNS_EXCHANGED.at(f"sieves.{rows[0][0]}.opening_mm")]


def _order(rows: list[tuple[int, SieveRow]]) -> list[Finding]:
    openings = [row.opening_mm for _, row in rows if row.opening_mm is not None]
    twice = {d for d, n in Counter(openings).items() if n > 1}
    findings = [
        SIEVE_TWICE.at(*(f"sieves.{i}.opening_mm" for i, row in rows if row.opening_mm == d), opening=d)
        for d in sorted(twice, reverse=True)
    ]
    for at in out_of_order(openings):
        row, (above, here) = rows[at][0], (openings[at - 1], openings[at])
        if here not in twice:
            findings.append(SIEVES_OUT_OF_ORDER.at(f"sieves.{row}.opening_mm", here=here, above=above))
    return findings


def _row_findings(i: int, row: SieveRow, settings: SieveSettings, stack: Stack, loads: int) -> list[Finding]:
    findings: list[Finding] = []
    mass, opening = stack.weighed_alone_g.get(i), row.opening_mm or 0.0
    if mass is None:
        return findings
    if mass < -1e-9:
        findings.append(BALANCE_FALLS.at(f"sieves.{i}.mass_cumulative_g", opening=opening))
    most = most_on_sieve_g(opening, settings.sieve_diameter_mm) * loads
    if mass > most:
        findings.append(
            SIEVE_OVERLOADED.at(
                _mass_cell(i, settings),
                mass=mass,
                opening=opening,
                most=most,
                already=f" in {loads} loads" if loads > 1 else "",
                loads=loads * (int(mass // most) + 1),
            )
        )
    if row.mass_passed_g is not None and mass > 0:
        rate = 100 * row.mass_passed_g / mass
        if rate > _ENDPOINT_PERCENT:
            findings.append(STILL_PASSING.at(f"sieves.{i}.mass_passed_g", rate=rate, opening=opening))
    return findings


def _specimen(readings: SieveReadings, settings: SieveSettings, context: GradingContext, stack: Stack) -> list[Finding]:
    found: list[Finding] = []
    typed, held = readings.largest_particle_mm, _held(readings, stack)
    if typed and held and typed < held[0]:
        found.append(GRAIN_LARGER.at("largest_particle_mm", percent=100 - held[1], opening=held[0], grain=typed))
    grain, dry = largest_particle_mm(readings, context, stack), readings.mass_dry_g
    if grain is None or not dry:
        return found
    least = least_specimen_g(grain, settings.specimen_rule)
    if dry > _FAR_MORE * least:
        found.append(SPECIMEN_LARGE.at("mass_dry_g", dry=dry, grain=grain, least=least))
    elif dry < least:
        found.append(SPECIMEN_SMALL.at("mass_dry_g", dry=dry, grain=grain, least=least))
    return found


def _held(readings: SieveReadings, stack: Stack) -> tuple[float, float] | None:
    """Return the coarsest sieve that not nearly all passes, in mm, and the percent that does."""
    sieves = ((readings.sieves[i].opening_mm, p) for i, p in stack.finer_percent.items())
    return max(((d, p) for d, p in sieves if d and p < _NEARLY_ALL), default=None)


def largest_particle_mm(readings: SieveReadings, context: GradingContext, stack: Stack) -> float | None:
    """Return the largest grain as seen, else the finest sieve that nearly all passes, else that of the record."""
    typed, held = readings.largest_particle_mm, _held(readings, stack)
    if typed and not (held and typed < held[0]):
        return typed
    passed = [readings.sieves[i].opening_mm for i, p in stack.finer_percent.items() if p >= _NEARLY_ALL]
    if passed and len(passed) < len(stack.finer_percent):
        return passed[-1]
    if typed and held:
        return held[0]
    return context.largest_particle_mm.value if context.largest_particle_mm else None


def next_step(readings: SieveReadings, settings: SieveSettings, context: GradingContext, stack: Stack) -> str:
    """Return what to do now, in one sentence."""
    if readings.mass_dry_g is None:
        grain = largest_particle_mm(readings, context, stack)
        least = (
            f", at least {least_specimen_g(grain, settings.specimen_rule):.0f} g for {grain:g} mm grains"
            if grain
            else ""
        )
        return f"Dry the specimen and weigh it{least}."
    if settings.split == Split.RIFFLED and (readings.mass_below_split_g is None or readings.mass_riffled_g is None):
        return (
            "Sieve all of it over the coarse sieves, weigh what passes the split, riffle a part of it and weigh that."
        )
    if settings.washing == Washing.WASHED and readings.mass_washed_g is None:
        return "Wash over the finest sieve until the water runs clear, dry what stays and weigh it."
    rows = [i for i, row in enumerate(readings.sieves) if row.used and row.opening_mm is not None]
    if not rows:
        return "Write the sieves, coarsest first, by opening or number; shake 10 to 15 min."
    waiting = [i for i in rows if i not in stack.weighed_alone_g]
    still = f"; {stack.sieved_g - stack.weighed_g:.1f} g still to come" if stack.sieved_g else ""
    if waiting:
        style = "add" if settings.entry == Entry.CUMULATIVE else "weigh"
        return f"Now {style} what lies on the {readings.sieves[waiting[0]].opening_mm:g} mm sieve{still}."
    if readings.mass_pan_g is None:
        return f"Weigh the pan{still}."
    return ""


def afterwards(context: GradingContext, result: Reduction) -> str:
    """Return what to do once all is weighed."""
    if result.parameter("d10_mm") is None and context.hydrometer_curve is None:
        return "Sieving done. D10 lies below the finest sieve: a hydrometer test would give it."
    return "Sieving done. Store the fractions until the sheet is checked."


def _mass_cell(i: int, settings: SieveSettings) -> str:
    return f"sieves.{i}.mass_{settings.entry.value}_g"
