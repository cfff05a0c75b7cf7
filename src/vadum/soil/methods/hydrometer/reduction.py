"""From hydrometer readings to the sedimentation limb and the joint curve."""

import numpy as np

from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.bench.grading.figure import Limb, grading_figure
from vadum.soil.bench.grading.fractions import Convention, grading_parameters
from vadum.soil.bench.grading.joint import coarse_limb, jump_finding, wide_gaps
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Mark
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.hydrometer import equations as eq
from vadum.soil.methods.hydrometer.advice import afterwards, findings_of, next_step
from vadum.soil.methods.hydrometer.readings import Depth, HydrometerReadings, HydrometerSettings
from vadum.soil.methods.hydrometer.suspension import Suspension, suspension
from vadum.soil.physics.grading import Curve, joined, limb_jump

BASIS = "ASTM D7928"
# With fewer points the limb is a guess.
_LEAST_POINTS = 3
# Three readings are a check of a cylinder, not a test of a soil.
_LEAST_READINGS = 5
_FOLLOWED = {Depth.TABLE: ["ASTM D422"], Depth.OWN: ["ASTM D7928"]}


def reduce_hydrometer(readings: HydrometerReadings, settings: HydrometerSettings, context: GradingContext) -> Reduction:
    """Return all that the cylinder says so far."""
    found = suspension(readings, settings, context)
    sound = found.sound
    fine = Curve.through(found.diameter_mm[sound], np.maximum(found.finer_percent[sound], 0.0))
    coarse = coarse_limb(context)
    curve = joined(coarse, fine)
    findings = findings_of(readings, settings, found)
    findings += jump_finding(limb_jump(coarse, fine)) if len(fine) >= _LEAST_POINTS else []
    findings += wide_gaps(curve)
    gs_words = f"Gs {found.gs.value:g} ({found.gs.source})"
    result = Reduction(
        findings=findings,
        computed=_computed(found),
        derivation=_steps(found, readings, settings) + _pooled(found, fine),
        curve=fine.points,
        school=_school(settings, found, gs_words, coarse, context),
        follows=_FOLLOWED[settings.depth] if settings.convention == Convention.UNIFIED else ["ISO 17892-4"],
        complete=int(sound.sum()) >= _LEAST_READINGS and _all_read(readings, found),
    )
    result.parameters = grading_parameters(curve, settings.convention, BASIS) if len(fine) > 1 else []
    result.figures = [grading_figure(_limbs(found, coarse), curve, settings.convention, said=_said(fine))]
    result.expected = _expected(readings, found)
    result.next_step = next_step(readings, settings, found)
    result.afterwards = afterwards(readings)
    return result


def _school(
    settings: HydrometerSettings, found: Suspension, gs_words: str, coarse: Curve, context: GradingContext
) -> str:
    words = f"{settings.instrument}, depth by {settings.depth}, {gs_words}, fractions {settings.convention}"
    if found.passing:
        words += f", {found.passing.value:.1f} % passing {settings.specimen_mm:g} mm ({found.passing.source})"
    of = context.sieve_curve
    return f"{words}; above {coarse.diameter_mm[0]:g} mm by {of.source}" if of and len(coarse) else words


def _pooled(found: Suspension, fine: Curve) -> list[Step]:
    """Return which readings were pooled: later ones said more than earlier ones, and no curve falls."""
    sound = found.sound
    order = np.argsort(found.diameter_mm[sound], kind="stable")
    said, minutes = np.maximum(found.finer_percent[sound], 0.0)[order], found.minutes[sound][order]
    moved = np.flatnonzero(np.abs(said - fine.finer_percent) > 1e-9)
    if not len(moved):
        return []
    times = ", ".join(f"{m:g}" for m in sorted(minutes[moved])[:12])
    return [
        Step(
            symbol="P",
            formula="readings that rise are pooled to their mean",
            put_in=f"readings at {times} min",
            result=f"moved by {np.abs(said - fine.finer_percent).max():.2f} at most",
            unit="%",
            basis="isotonic regression",
        )
    ]


def _all_read(readings: HydrometerReadings, found: Suspension) -> bool:
    """Return whether the last planned reading was taken: a test under way is not reported."""
    if (found.rows < 0).any():
        return True
    rows = enumerate(readings.sedimentation)
    planned = [i for i, row in rows if row.used and (row.due_min or row.hydrometer is not None)]
    return bool(planned) and readings.sedimentation[planned[-1]].hydrometer is not None


def _computed(found: Suspension) -> dict[str, float | str]:
    computed: dict[str, float | str] = {}
    for k in np.flatnonzero(found.rows >= 0):
        path = f"sedimentation.{found.rows[k]}"
        if found.depth_cm[k] > 0:
            computed[f"{path}.depth_cm"] = float(found.depth_cm[k])
        if np.isfinite(found.diameter_mm[k]):
            computed[f"{path}.diameter_mm"] = float(found.diameter_mm[k])
        if np.isfinite(found.finer_percent[k]):
            computed[f"{path}.finer_percent"] = float(found.finer_percent[k])
    return computed


def _expected(readings: HydrometerReadings, found: Suspension) -> dict[str, tuple[float, float]]:
    """Return where the next reading should fall: not above the last, not below the dispersant solution."""
    hand = found.rows >= 0
    known = [c.hydrometer for c in readings.corrections if c.used and c.hydrometer is not None]
    if not hand.any() or not known:
        return {}
    last = int(found.rows[hand][-1])
    if last + 1 >= len(readings.sedimentation):
        return {}
    return {f"sedimentation.{last + 1}.hydrometer": (min(known), float(found.reading[hand][-1]))}


def _limbs(found: Suspension, coarse: Curve) -> list[Limb]:
    marks = [
        Mark(
            x=float(found.diameter_mm[k]),
            y=float(found.finer_percent[k]),
            path=f"sedimentation.{found.rows[k]}" if found.rows[k] >= 0 else None,
        )
        for k in _drawn(found)
    ]
    return [
        Limb("sedimentation", "hydrometer", marks),
        Limb("sieve", "sieve", [Mark(x=d, y=p) for d, p in coarse.points]),
    ]


def _drawn(found: Suspension) -> list[int]:
    """Return the points worth drawing: all hand-kept, of a long log some hundred evenly in log time."""
    hand: list[int] = np.flatnonzero(found.sound & (found.rows >= 0)).tolist()
    logged = np.flatnonzero(found.sound & (found.rows < 0))
    if len(logged) > 120:
        minutes = np.log(found.minutes[logged])
        wanted = np.linspace(minutes[0], minutes[-1], 120)
        logged = logged[np.unique(np.clip(np.searchsorted(minutes, wanted), 0, len(logged) - 1))]
    return hand + logged.tolist()


def _said(fine: Curve) -> str:
    clay = fine.finer_at(0.002)
    return f"{clay:.0f} % is finer than 2 µm." if clay is not None else ""


def _steps(found: Suspension, readings: HydrometerReadings, settings: HydrometerSettings) -> list[Step]:
    """Return the derivation of each hand-kept reading, or of the first and last logged one."""
    hand = np.flatnonzero(found.sound & (found.rows >= 0)).tolist()
    logged = np.flatnonzero(found.sound & (found.rows < 0)).tolist()
    steps: list[Step] = []
    for k in [*hand, *({logged[0], logged[-1]} if logged else ())]:
        steps += _two_steps(found, k, readings.dry_mass_g or 0.0, settings)
    return steps


def _two_steps(found: Suspension, k: int, mass_g: float, settings: HydrometerSettings) -> list[Step]:
    minutes, depth = found.minutes[k], found.depth_cm[k]
    constant = float(eq.stokes_constant(found.gs.value, found.temperature_c[k]))
    about = f"reading at {minutes:g} min, {found.temperature_c[k]:g} °C"
    share = f"{found.passing.value:.1f} / 100 × " if found.passing else ""
    if settings.instrument == "152H":
        formula, factor = "P = passing × 100 a (R − F) / M", f"100 × {eq.density_factor(found.gs.value):.4f}"
    else:
        formula = "P = passing × 100000/M × Gs/(Gs − 1) × (R − R0)"
        factor = f"100000 × {found.gs.value / (found.gs.value - 1):.4f}"
    return [
        Step(
            symbol="D",
            formula="D = K √(L / t)",
            put_in=f"{constant:.5f} √({depth:.2f} / {minutes:g})",
            result=f"{found.diameter_mm[k]:.4f}",
            unit="mm",
            basis=f"{BASIS}, Stokes",
            about=about,
        ),
        Step(
            symbol="P",
            formula=formula,
            put_in=f"{share}{factor} ({found.reading[k]:g} − {found.composite[k]:.4g}) / {mass_g:g}",
            result=f"{found.finer_percent[k]:.2f}",
            unit="%",
            basis="ASTM D422 clause 14",
            about=about,
        ),
    ]
