"""What can be wrong with a run of the plunger, and what to do at the press."""

from math import isfinite
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.plunger.readings import BearingSettings, ForceRead, PenetrationRow, RingCalibration
from vadum.soil.bench.plunger.run import Run
from vadum.soil.contract.finding import Finding, note, stop, warn
from vadum.soil.numbers.odd import scatter_of
from vadum.soil.physics import bearing as eq
from vadum.soil.physics.bearing import School

RING_MISSING = stop(
    "ring-missing",
    "No ring factor: divisions are not forces.",
    "Choose the load ring under Equipment, or type its factor.",
)
FORCE_ELSEWHERE = stop(
    "force-elsewhere",
    "{count} forces are written {written}, and the school reads {read}.",
    "Say under School what the force is read from.",
)
RING_RANGE = stop(
    "ring-range",
    "{ring_div:g div} is beyond the ring's calibration, which ends at {high:g}.",
    "Stop before the ring is strained. Take a stronger ring for the next specimen.",
)
SECOND_LARGER = warn(
    "second-larger",
    "{label}: {second:.1f %} at {second_mm:g mm} is more than {first:.1f %} at {first_mm:g mm}.",
    "Run a check on another specimen and type both its ratios; if the second is the larger one again, it counts.",
)
FIRST_COUNTS = note(
    "second-not-confirmed",
    "{label}: {second:.1f %} at {second_mm:g mm} is more than {first:.1f %} at {first_mm:g mm}; the check run did not"
    " say so: the first counts.",
    "Look at the start of the curve: was the plunger seated, was the surface even?",
)
SECOND_COUNTS = note(
    "second-larger",
    "{label}: {second:.1f %} at {second_mm:g mm} is more than {first:.1f %} at {first_mm:g mm}; it counts.",
    "Look at the start of the curve: was the plunger seated, was the surface even?",
)
RING_ZERO = warn(
    "ring-zero", "{ring_div:g div} is below the ring's zero.", "Zero ring and gauge together after seating."
)
NOT_ZEROED = warn(
    "not-zeroed",
    "{label}: {force:.3g kN} stood on the plunger at {at:g mm}, where the run begins.",
    "Zero ring and gauge together after seating; if it was the zero, say so and take it off every reading.",
)
RING_BEGINS = note(
    "ring-begins",
    "{ring_div:g div} is below the first point of the ring's calibration, {low:g}; read on the line from nothing.",
    "Have the ring calibrated lower down, or take a weaker one for soft soil.",
)
RUN_SPARSE = stop(
    "run-sparse",
    "{label}: {readings} readings up to {second:g mm} are no curve.",
    "Read at least each {gap:g mm}; the next run at each quarter of a millimetre.",
    awaited=True,
)
RUN_GAP = warn(
    "run-gap",
    "{label}: nothing was read from {low:g [mm]} to {high:g mm}.",
    "Add the readings that are missing; else read the next run at each {gap:g mm} and say so in the remarks.",
)
RUN_GAP_AT_FIRST = RUN_GAP.grave()
STEPPED = warn(
    "stepped",
    "{label}: from {penetration:g mm} on every reading is {kn:.3g kN} higher than those before lead to.",
    "Look for a turn of the dial counted twice, a clamp that slipped or a gauge touched; run it again if one was.",
)
RUN_SHORT = warn(
    "run-short",
    "{gone}, before the {needed:g mm} the ratio needs (start moved by {moved:.2f mm}).",
    "Run the next one to 7.5 mm: it cannot be taken up again.",
    awaited=True,
)
RUN_LOST = RUN_SHORT.grave()
READING_MISSED = note(
    "reading-missed",
    "{label}: no reading at {missed} mm; the curve is bridged there, and the sheet says so.",
    "Go on: the run does not pause. Watch the gauge for the next quarter millimetre.",
)
READING_ODD = warn(
    "reading-odd",
    "{label}, {penetration:g mm}: {force:.2f kN} does not lie between its neighbours,"
    " {before:.2f [kN]} and {after:.2f kN}.",
    "Look whether a turn of the dial was miscounted; leave the reading out with a reason if it cannot be right.",
)
SUDDEN_DROP = warn(
    "sudden-drop",
    "{label}: the force falls by {kn:.2f kN} at {penetration_mm:g mm}.",
    "Look under the plunger for a broken stone and at the plunger for slip; say what it was in the remarks.",
)
SEATING_HIGH = warn(
    "seating-high",
    "Seated with {seating_n:g N}; for {ratio_percent:.0f %} it is {asked:g N}.",
    "Seat the next run with {asked:g N}.",
)
SEATING_LOW = warn(
    "seating-low",
    "Seated with {seating_n:g N}; for {ratio_percent:.0f %} it is {least:g N}.",
    "Look at the ring's factor and unit; if they are right, seat the next run with {least:g N}.",
)
RATE_OFF = warn(
    "rate-off",
    "{rate:.2f mm/min} is too {which} for {rate_mm_min:g [mm/min]} ± {tolerance:.2g [mm/min]}.",
    "Set the press anew before the next run.",
)

# A reading off the curve through its neighbours by this share of the largest force is not soil.
_ODD = 0.04
# Divisions below its zero that a ring may show; what may stand on a plunger at its zero, as a share of the largest.
_ZERO_DIV, _ZERO_SHARE = 1.0, 0.02
# A curve is read at least so often up to the second depth, and so near (ASTM D1883 clause 10: each 0.64 mm).
_FEWEST, _GAP_MM = 8, 0.7
# Where two readings in a row are missing the curve between is guessed.
_UNREAD_MM = 1.5
# A step is this many scatters and this share of the largest force; both sides of it are off by like amounts.
_STEP_SCATTERS, _STEP_SHARE, _STEP_ALIKE = 8.0, 0.015, 2.0


def ring_findings(
    rows: list[PenetrationRow], table: str, ring: list[tuple[float, float]] | None, settings: BearingSettings
) -> list[Finding]:
    """Return what is wrong between the readings and the ring's calibration."""
    cell = settings.force_read == ForceRead.CELL
    elsewhere = [i for i, r in enumerate(rows) if r.used and r.read is not None and r.force_by(settings) is None]
    if elsewhere:
        written, asked = ("as divisions", "a load cell") if cell else ("in kN", "a ring")
        return [
            FORCE_ELSEWHERE.at(
                f"{table}.{elsewhere[0]}.penetration_mm", count=len(elsewhere), written=written, read=asked
            )
        ]
    if cell:
        return []
    read = [(i, r.ring_div) for i, r in enumerate(rows) if r.used and r.ring_div is not None]
    if not read:
        return []
    if ring is None:
        return [RING_MISSING.at("ring_factor_n_div")]
    low, high = ring[0][0], ring[-1][0]
    beyond = [i for i, div in read if div > high]
    found: list[Finding] = []
    if beyond:
        found.append(
            RING_RANGE.at(*(f"{table}.{i}.ring_div" for i in beyond), ring_div=rows[beyond[0]].ring_div, high=high)
        )
    if under := [i for i, div in read if div < -_ZERO_DIV]:
        found.append(RING_ZERO.at(f"{table}.{under[0]}.ring_div", ring_div=rows[under[0]].ring_div))
    early = [i for i, div in read if 0 < div < low]
    # What lies between the seating and the first readings moves no ratio.
    if early and (rows[early[-1]].penetration_mm or 0) >= 1:
        found.append(RING_BEGINS.at(f"{table}.{early[-1]}.ring_div", ring_div=rows[early[-1]].ring_div, low=low))
    return found


def run_findings(
    run: Run,
    rows: list[PenetrationRow],
    settings: BearingSettings,
    *,
    ended: bool,
    lifted: bool = False,
    confirmed: bool = False,
) -> list[Finding]:
    """Return what is wrong with one run; ``ended`` when no more readings will come, ``lifted`` when the reaction gave
    way, ``confirmed`` when another run said too which of the ratios is the larger one."""
    found = _drop_findings(run, settings) or _step_findings(run) or _odd_findings(run)
    found += _zero_findings(run) + _sparse_findings(run, settings, ended=ended)
    if run.bridged_mm:
        missed = ", ".join(f"{mm:g}" for mm in run.bridged_mm)
        found.append(
            READING_MISSED.at(
                *(f"{run.table}.{i}.{run.column}" for i, r in enumerate(rows) if r.penetration_mm in run.bridged_mm),
                label=run.label,
                missed=missed,
            )
        )
    if ended and not lifted and run.ratios and run.ratios[1] is None and len(run.rows):
        gone = f"{run.label} ends at {run.reached_mm:g} mm"
        first, second = (depth for depth, _ in eq.STANDARD_FORCE_KN[settings.school])
        short = RUN_SHORT if run.ratios[0] else RUN_LOST
        found.append(short.at(run.cell(-1), gone=gone, needed=second if run.ratios[0] else first, moved=run.zero_mm))
    if run.second_larger:
        found.append(_second_larger(run, settings, confirmed=confirmed))
    return found


def _second_larger(run: Run, settings: BearingSettings, *, confirmed: bool) -> Finding:
    first, second = (r for r in run.ratios if r is not None)
    if run.first_counts:
        larger = FIRST_COUNTS
    else:
        larger = SECOND_LARGER if settings.school == School.MPA and not confirmed else SECOND_COUNTS
    return larger.at(label=run.label, second=second[2], second_mm=second[0], first=first[2], first_mm=first[0])


def _zero_findings(run: Run) -> list[Finding]:
    """Return what stands on the plunger where its penetration is nothing."""
    if len(run.rows) < 3 or run.penetration_mm[0] > 0:
        return []
    force = float(run.force_kn[0])
    if abs(force) <= _ZERO_SHARE * float(run.force_kn.max()):
        return []
    return [NOT_ZEROED.at(run.cell(0), label=run.label, force=force, at=run.penetration_mm[0])]


def _sparse_findings(run: Run, settings: BearingSettings, *, ended: bool) -> list[Finding]:
    """Return that a run has too few readings for its start to be put right."""
    (_, _), (second, _) = eq.STANDARD_FORCE_KN[settings.school]
    if not len(run.rows) or not (ended or run.reached_mm >= second):
        return []
    upto = run.penetration_mm[run.penetration_mm <= second + 0.5]
    # A run that ended early is judged as far as it came.
    wanted = min(_FEWEST, int(run.reached_mm / _GAP_MM) + 1)
    if len(upto) >= wanted:
        return _gap_findings(run, upto)
    cell = run.cell(len(run.rows) - 1)
    return [RUN_SPARSE.at(cell, label=run.label, readings=len(upto), second=min(second, run.reached_mm), gap=_GAP_MM)]


def _gap_findings(run: Run, upto: NDArray[np.float64]) -> list[Finding]:
    """Return the widest stretch up to the second depth where nothing was read; grave where the first depth lies in it
    and has no ratio."""
    steps = np.diff(upto, prepend=0.0)
    k = int(np.argmax(steps))
    if steps[k] <= _UNREAD_MM:
        return []
    gap = RUN_GAP_AT_FIRST if run.ratios and run.ratios[0] is None else RUN_GAP
    low, high = float(upto[k] - steps[k]), float(upto[k])
    return [gap.at(run.cell(k), label=run.label, low=low, high=high, gap=_GAP_MM)]


def _step_findings(run: Run) -> list[Finding]:
    """Return where all later readings stand higher: both sides of a step lie off their neighbours' cubic, one below
    and one above it."""
    x, f = run.penetration_mm, run.force_kn
    if len(x) < 8:
        return []
    off = run.off_kn
    below, above = -off[:-1], off[1:]
    least, most = np.minimum(below, above), np.maximum(below, above)
    # Beside one odd reading both neighbours lie off too; beside a step hardly.
    beside = np.pad(np.abs(off), 1)
    beside = np.maximum(beside[:-3], beside[3:])
    height = np.where((least > 0) & (most <= _STEP_ALIKE * least) & (beside < least / 2), below + above, 0.0)
    k = int(np.argmax(height))
    if height[k] <= max(_STEP_SCATTERS * scatter_of(off), _STEP_SHARE * float(f.max())):
        return []
    return [STEPPED.at(run.cell(k + 3), label=run.label, penetration=x[k + 3], kn=height[k])]


def _odd_findings(run: Run) -> list[Finding]:
    """Return a reading off the cubic through two neighbours on each side: a turn of the dial miscounted."""
    x, f = run.penetration_mm, run.force_kn
    if len(x) < 6:
        return []
    off = np.abs(run.off_kn)
    worst = int(np.argmax(off))
    if off[worst] <= _ODD * float(f.max()):
        return []
    i = worst + 2
    return [READING_ODD.at(run.cell(i), label=run.label, penetration=x[i], force=f[i], before=f[i - 1], after=f[i + 1])]


def _drop_findings(run: Run, settings: BearingSettings) -> list[Finding]:
    """Return a warning where the force falls and stays below: a stone, or a plunger that slipped."""
    f = run.force_kn
    if len(f) < 4:
        return []
    before = np.maximum.accumulate(f)[:-2]
    falls = before - np.maximum(f[1:-1], f[2:])
    worst = int(np.argmax(falls))
    if falls[worst] <= settings.drop_percent / 100 * f.max():
        return []
    return [
        SUDDEN_DROP.at(
            run.cell(worst + 1),
            label=run.label,
            kn=before[worst] - f[worst + 1],
            penetration_mm=run.penetration_mm[worst + 1],
        )
    ]


def seating_force_n(readings: Any, ring: list[tuple[float, float]] | None) -> float | None:
    """Return the force the plunger was seated with, as typed or by the ring's divisions."""
    if readings.seating_n is not None or readings.seating_div is None or ring is None:
        return cast(float | None, readings.seating_n)
    force = float(eq.ring_force_kn(readings.seating_div, ring))
    return 1000 * force if isfinite(force) else None


def seating_findings(seating_n: float | None, ratio_percent: float | None, settings: BearingSettings) -> list[Finding]:
    """Return a note when the plunger was seated with another force than the result asks for."""
    if seating_n is None or ratio_percent is None:
        return []
    least = eq.seating_force_n(ratio_percent / 1.3, settings.school)
    # By ASTM D1883 the smallest that seats is enough.
    if settings.school == School.KN and seating_n < 0.8 * least:
        return [SEATING_LOW.at("seating_n", seating_n=seating_n, ratio_percent=ratio_percent, least=least)]
    asked = eq.seating_force_n(1.15 * ratio_percent, settings.school)
    if seating_n <= asked * 1.2:
        return []
    return [SEATING_HIGH.at("seating_n", seating_n=seating_n, ratio_percent=ratio_percent, asked=asked)]


def rate_findings(rate: float | None, settings: BearingSettings) -> list[Finding]:
    """Return a warning when the plunger went faster or slower than a fifth off its rate."""
    if rate is None or abs(rate - settings.rate) <= 0.2 * settings.rate + 1e-9:
        return []
    fast = "fast" if rate > settings.rate else "slow"
    return [
        RATE_OFF.at(
            "rate_measured_mm_min", rate=rate, which=fast, rate_mm_min=settings.rate, tolerance=0.2 * settings.rate
        )
    ]


def ring_of(
    settings: BearingSettings, factor_n_div: float | None, known: RingCalibration | None
) -> tuple[list[tuple[float, float]] | None, str]:
    """Return the ring's table and how it is called: a typed factor counts before the register's calibration. A load
    cell says kN itself."""
    if settings.force_read == ForceRead.CELL:
        return [(-1000.0, -1000.0), (1000.0, 1000.0)], "load cell"
    if factor_n_div is not None:
        most = 3000.0
        return [
            (-5.0, -5.0 * factor_n_div / 1000),
            (0.0, 0.0),
            (most, most * factor_n_div / 1000),
        ], f"ring {factor_n_div:g} N/div"
    if known is not None:
        return sorted(known.table), f"ring {known.name or 'calibrated'}"
    return None, "no ring"
