"""From weighings to the retention curve and what it says of a soil."""

from vadum.soil.bench.particle import particle_density
from vadum.soil.contract.derivation import Step as Explained
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.retention import advice
from vadum.soil.methods.retention.figure import drainage_figure, retention_figure
from vadum.soil.methods.retention.findings import OTHER_FITS_BETTER
from vadum.soil.methods.retention.readings import RetentionContext, RetentionReadings, RetentionSettings
from vadum.soil.methods.retention.results import (
    AIC,
    AVAILABLE,
    DRAINABLE,
    DRY_DENSITY,
    FIELD_CAPACITY,
    OF_CURVE,
    POROSITY,
    THETA_S,
    WILTING,
)
from vadum.soil.methods.retention.steps import Step, steps_of
from vadum.soil.physics.retention import (
    FIELD_CAPACITY_KPA,
    WILTING_KPA,
    Curve,
    Retention,
    fit_retention,
    water_by_volume,
)

BASIS = "ISO 11274, ASTM D6836"
_CLEARLY = 2.0
# A ring cannot hold its own volume of water.
_FULL = 1.0


def reduce_retention(readings: RetentionReadings, settings: RetentionSettings, context: RetentionContext) -> Reduction:
    """Return all that the weighings say so far."""
    made = steps_of(readings, settings)
    theta = _water(readings, made)
    result = Reduction(
        school=f"{settings.device}, stable below {settings.stable_g_day:g} g a day, {settings.model}",
        follows=["ISO 11274"],
    )
    result.computed = {f"weighings.{r}.kpa": s.kpa for s in made for r in s.rows}
    result.computed |= {f"weighings.{s.rows[-1]}.theta": 100 * t for s, t in zip(made, theta, strict=False)}
    result.findings = advice.step_findings(readings, settings, made)
    porosity = _density(result, readings, settings, context)
    result.findings += advice.curve_findings(porosity, theta, made)
    sound = bool(theta) and min(theta) > 0 and max(theta) < _FULL
    fits = [
        f
        for name in (Curve.VAN_GENUCHTEN, Curve.BROOKS_COREY)
        if sound and (f := fit_retention([s.kpa for s in made], theta, name))
    ]
    if theta:
        result.parameters.append(THETA_S.of(100 * theta[0]))
    chosen = next((f for f in fits if f.name == settings.model), None)
    if chosen is not None:
        _states(result, chosen, made, theta)
        _fitted(result, chosen, fits)
    result.complete = chosen is not None and made[-1].stable(settings)
    result.figures = [retention_figure(made, theta, fits, settings.model), drainage_figure(made)]
    result.derivation = _explained(readings, made, theta)
    result.curve = [(s.kpa, t) for s, t in zip(made, theta, strict=False)]
    result.next_step = advice.next_step(readings, settings, made)
    return result


def _water(readings: RetentionReadings, made: list[Step]) -> list[float]:
    """Return the water by volume at the end of each step; empty while a mass is missing."""
    r = readings
    if r.volume_cm3 is None or r.mass_apparatus_g is None or r.mass_ring_g is None or r.mass_dry_g is None:
        return []
    return [water_by_volume(s.mass_g[-1], r.mass_apparatus_g, r.mass_ring_g, r.mass_dry_g, r.volume_cm3) for s in made]


def _density(
    result: Reduction, readings: RetentionReadings, settings: RetentionSettings, context: RetentionContext
) -> float | None:
    """Give dry density and porosity; return the porosity."""
    if readings.volume_cm3 is None or readings.mass_dry_g is None:
        return None
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    dry = readings.mass_dry_g / readings.volume_cm3
    porosity = 1 - dry / (gs.value * 0.9982)
    result.parameters.append(DRY_DENSITY.of(dry))
    result.parameters.append(POROSITY.of(100 * porosity, gs=gs.value, source=gs.source))
    return porosity


def _states(result: Reduction, fit: Retention, made: list[Step], theta: list[float]) -> None:
    """Give water at field capacity and wilting, and the differences between them."""
    capacity, wilting = (100 * float(fit.at(psi)) for psi in (FIELD_CAPACITY_KPA, WILTING_KPA))
    last = made[-1].kpa
    beyond = "; extrapolated" if last < 0.9 * FIELD_CAPACITY_KPA else ""
    result.parameters += [
        FIELD_CAPACITY.of(capacity, beyond=beyond),
        DRAINABLE.of(100 * theta[0] - capacity),
        WILTING.of(wilting),
        AVAILABLE.of(capacity - wilting),
    ]


def _fitted(result: Reduction, chosen: Retention, fits: list[Retention]) -> None:
    for symbol, value, error in zip(chosen.symbols, chosen.values, chosen.errors, strict=True):
        fitted = OF_CURVE[symbol]
        result.parameters.append(
            fitted.word("undetermined", basis=chosen.name.label, curve=chosen.name)
            if error is None
            else fitted.of(value, basis=chosen.name.label, doubt=error, curve=chosen.name)
        )
    for fit in fits:
        result.parameters.append(AIC.of(fit.aic, code=fit.name.replace("-", "_"), curve=fit.name))
    other = next((f for f in fits if f is not chosen), None)
    if other is not None and other.aic < chosen.aic - 4 * _CLEARLY and other.misfit < chosen.misfit - 0.004:
        result.findings.append(OTHER_FITS_BETTER.at("weighings", name=other.name, chosen_name=chosen.name))


def _explained(readings: RetentionReadings, made: list[Step], theta: list[float]) -> list[Explained]:
    return [
        Explained.of(
            water_by_volume,
            put_in=f"({s.mass_g[-1]:.2f} − {readings.mass_apparatus_g:.2f} − {readings.mass_ring_g:.2f} −"
            f" {readings.mass_dry_g:.2f}) / (0.998 × {readings.volume_cm3:g})",
            result=f"{t:.4f}",
            about=f"{s.kpa:.3g} kPa, day {s.days[-1]:g}",
        )
        for s, t in zip(made, theta, strict=False)
    ]
