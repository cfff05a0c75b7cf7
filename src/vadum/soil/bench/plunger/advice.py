"""What can be wrong with a run of the plunger, and what to do at the press."""

import numpy as np

from vadum.soil.bench.plunger.readings import BearingSettings, PenetrationRow, RingCalibration
from vadum.soil.bench.plunger.run import Run
from vadum.soil.contract.finding import Finding, note, stop, warn
from vadum.soil.physics import bearing as eq
from vadum.soil.physics.bearing import School

RING_MISSING = stop(
    "ring-missing",
    "No ring factor: divisions are not forces.",
    "Choose the load ring under Equipment, or type its factor.",
)
RING_RANGE = stop(
    "ring-range",
    "{ring_div:g div} is beyond the ring's calibration, which ends at {high:g}.",
    "Stop before the ring is strained. Take a stronger ring for the next specimen.",
)
SECOND_LARGER = warn(
    "second-larger",
    "{label}: {second:.1f %} at {second_mm:g mm} is more than {first:.1f %} at {first_mm:g mm}.",
    "Repeat the test. If it comes out the same, the second value counts.",
)
SECOND_COUNTS = note(
    "second-larger",
    "{label}: {second:.1f %} at {second_mm:g mm} is more than {first:.1f %} at {first_mm:g mm}; it counts.",
    "Look at the start of the curve: was the plunger seated, was the surface even?",
)
RING_ZERO = warn(
    "ring-zero", "{ring_div:g div} is below the ring's zero.", "Zero ring and gauge together after seating."
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
# Divisions below its zero that a ring may show.
_ZERO_DIV = 1.0


def ring_findings(rows: list[PenetrationRow], table: str, ring: list[tuple[float, float]] | None) -> list[Finding]:
    """Return what is wrong between the readings and the ring's calibration."""
    read = [(i, r.ring_div) for i, r in enumerate(rows) if r.used and r.ring_div is not None]
    if not read:
        return []
    if ring is None:
        return [RING_MISSING.at("ring_factor_n_div")]
    high = ring[-1][0]
    beyond = [i for i, div in read if div > high]
    found: list[Finding] = []
    if beyond:
        found.append(
            RING_RANGE.at(*(f"{table}.{i}.ring_div" for i in beyond), ring_div=rows[beyond[0]].ring_div, high=high)
        )
    if under := [i for i, div in read if div < -_ZERO_DIV]:
        found.append(RING_ZERO.at(f"{table}.{under[0]}.ring_div", ring_div=rows[under[0]].ring_div))
    return found


def run_findings(
    run: Run, rows: list[PenetrationRow], settings: BearingSettings, *, ended: bool, lifted: bool = False
) -> list[Finding]:
    """Return what is wrong with one run; ``ended`` when no more readings will come, ``lifted`` when the reaction gave
    way."""
    found = _drop_findings(run, settings) or _odd_findings(run)
    if run.bridged_mm:
        missed = ", ".join(f"{mm:g}" for mm in run.bridged_mm)
        found.append(
            READING_MISSED.at(
                *(f"{run.table}.{i}.ring_div" for i, r in enumerate(rows) if r.penetration_mm in run.bridged_mm),
                label=run.label,
                missed=missed,
            )
        )
    if ended and not lifted and run.ratios and run.ratios[1] is None and len(run.rows):
        gone = f"{run.label} ends at {run.reached_mm:g} mm"
        first, second = (depth for depth, _ in eq.STANDARD_FORCE_KN[settings.school])
        short = RUN_SHORT if run.ratios[0] else RUN_LOST
        found.append(
            short.at(
                f"{run.table}.{run.rows[-1]}.ring_div",
                gone=gone,
                needed=second if run.ratios[0] else first,
                moved=run.zero_mm,
            )
        )
    if all(run.ratios) and run.ratios and run.ratios[1] and run.ratios[0] and run.ratios[1][2] > run.ratios[0][2]:
        found.append(_second_larger(run, settings))
    return found


def _second_larger(run: Run, settings: BearingSettings) -> Finding:
    first, second = (r for r in run.ratios if r is not None)
    larger = SECOND_LARGER if settings.school == School.MPA else SECOND_COUNTS
    return larger.at(label=run.label, second=second[2], second_mm=second[0], first=first[2], first_mm=first[0])


def _odd_findings(run: Run) -> list[Finding]:
    """Return a reading off the cubic through two neighbours on each side: a turn of the dial miscounted."""
    x, f = run.penetration_mm, run.force_kn
    if len(x) < 5:
        return []
    middle = np.arange(2, len(x) - 2)
    around = middle[:, None] + np.array([-2, -1, 1, 2])
    knots, at = x[around], x[middle][:, None]
    weights = np.stack(
        [
            np.prod([(at[:, 0] - knots[:, m]) / (knots[:, k] - knots[:, m]) for m in range(4) if m != k], axis=0)
            for k in range(4)
        ],
        axis=1,
    )
    off = np.abs(f[middle] - (weights * f[around]).sum(axis=1))
    worst = int(np.argmax(off))
    if off[worst] <= _ODD * float(f.max()):
        return []
    i = int(middle[worst])
    return [
        READING_ODD.at(
            f"{run.table}.{run.rows[i]}.ring_div",
            label=run.label,
            penetration=x[i],
            force=f[i],
            before=f[i - 1],
            after=f[i + 1],
        )
    ]


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
            f"{run.table}.{run.rows[worst + 1]}.ring_div",
            label=run.label,
            kn=before[worst] - f[worst + 1],
            penetration_mm=run.penetration_mm[worst + 1],
        )
    ]


def seating_findings(seating_n: float | None, ratio_percent: float | None) -> list[Finding]:
    """Return a note when the plunger was seated with another force than the result asks for."""
    if seating_n is None or ratio_percent is None:
        return []
    least = eq.seating_force_n(ratio_percent / 1.3)
    if seating_n < 0.8 * least:
        return [SEATING_LOW.at("seating_n", seating_n=seating_n, ratio_percent=ratio_percent, least=least)]
    asked = eq.seating_force_n(1.15 * ratio_percent)
    if seating_n <= asked * 1.2:
        return []
    return [SEATING_HIGH.at("seating_n", seating_n=seating_n, ratio_percent=ratio_percent, asked=asked)]


def rate_findings(rate: float | None, settings: BearingSettings) -> list[Finding]:
    """Return a warning when the plunger went faster or slower than a fifth off its rate."""
    if rate is None or abs(rate - settings.rate_mm_min) <= 0.2 * settings.rate_mm_min + 1e-9:
        return []
    fast = "fast" if rate > settings.rate_mm_min else "slow"
    return [
        RATE_OFF.at(
            "rate_measured_mm_min",
            rate=rate,
            which=fast,
            rate_mm_min=settings.rate_mm_min,
            tolerance=0.2 * settings.rate_mm_min,
        )
    ]


def ring_of(factor_n_div: float | None, known: RingCalibration | None) -> tuple[list[tuple[float, float]] | None, str]:
    """Return the ring's table and how it is called: a typed factor counts before the register's calibration."""
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
