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
from vadum.soil.methods.retention.steps import SATURATED_KPA, Step, ahead_of, as_read, pairwise_rows, steps_of
from vadum.soil.methods.retention.water import dry_g, tare_g, water
from vadum.soil.numbers.scatter import Scatter
from vadum.soil.physics.retention import WILTING_KPA, Curve, Retention, fit_retention, water_by_volume

BASIS = "ISO 11274, ASTM D6836"
_CLEARLY = 2.0
# A step this near to the wilting point is read as it.
_AT_WILTING = 0.02
# A ring cannot hold its own volume of water.
_FULL = 1.0


def reduce_retention(readings: RetentionReadings, settings: RetentionSettings, context: RetentionContext) -> Reduction:
    """Return all that the weighings say so far."""
    made = steps_of(readings, settings)
    theta = water(readings, settings, made)
    result = Reduction(
        school=f"{_devices(settings, made)}, stable below {settings.stable_g_day:g} g a day, {settings.model}",
        follows=["ISO 11274"],
    )
    result.computed = {f"weighings.{r}.kpa": s.kpa for s in made for r in s.rows}
    result.computed |= {
        f"weighings.{r}.loss": (m0 - m1) / (d1 - d0)
        for s in made
        for (m0, d0), (m1, d1, r) in pairwise_rows(s)
        if d1 > d0
    }
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
    if theta and made[0].kpa <= SATURATED_KPA:
        result.parameters.append(THETA_S.of(100 * theta[0]))
    chosen = next((f for f in fits if f.name == settings.model), None)
    if chosen is not None:
        _states(result, chosen, made, theta, settings)
        _fitted(result, chosen, fits)
        result.findings += advice.fit_findings(chosen)
    result.complete = chosen is not None and made[-1].stable(settings)
    result.figures = [retention_figure(made, theta, fits, settings), drainage_figure(made)]
    result.derivation = _explained(readings, settings, made, theta)
    result.expected = _expected(readings, settings, made)
    result.curve = [(s.kpa, t) for s, t in zip(made, theta, strict=False)]
    result.next_step = advice.next_step(readings, settings, made)
    return result


def _devices(settings: RetentionSettings, made: list[Step]) -> str:
    """Return in what the suctions were read, in the order of use."""
    return " then ".join(dict.fromkeys(str(step.device) for step in made)) or str(settings.device)


def _expected(
    readings: RetentionReadings, settings: RetentionSettings, made: list[Step]
) -> dict[str, tuple[float, float]]:
    """Return the suction of the next weighing: that in hand until it is stable, then the next one planned."""
    if readings.mass_dry_g is not None:
        return {}
    following = max((i for i, row in enumerate(readings.weighings) if not row.empty), default=-1) + 1
    kpa, device = (made[-1].kpa, made[-1].device) if made else (0.0, settings.device)
    if made and (kpa == 0 or made[-1].stable(settings)):
        kpa = ahead_of(kpa, settings, readings.rated_kpa) or kpa
    shown = made[-1].read if made and kpa == made[-1].kpa else as_read(kpa, device)
    return {f"weighings.{following}.suction": (shown, shown)}


def _density(
    result: Reduction, readings: RetentionReadings, settings: RetentionSettings, context: RetentionContext
) -> float | None:
    """Give dry density and porosity; return the porosity."""
    grains = dry_g(readings)
    if readings.volume_cm3 is None or grains is None or grains <= 0:
        return None
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    dry = grains / readings.volume_cm3
    porosity = 1 - dry / (gs.value * 0.9982)
    result.parameters.append(DRY_DENSITY.of(dry))
    result.parameters.append(POROSITY.of(100 * porosity, gs=gs.value, source=gs.source))
    return porosity


def _states(
    result: Reduction, fit: Retention, made: list[Step], theta: list[float], settings: RetentionSettings
) -> None:
    """Give water at field capacity and wilting, and the differences between them."""
    last, fc = made[-1].kpa, settings.field_capacity_kpa
    capacity = 100 * float(fit.at(fc))
    read = next((t for s, t in zip(made, theta, strict=True) if abs(s.kpa / WILTING_KPA - 1) <= _AT_WILTING), None)
    wilting = 100 * (read if read is not None else float(fit.at(WILTING_KPA)))
    beyond = "" if last >= 0.9 * WILTING_KPA else f"; extrapolated beyond {last:.3g} kPa"
    far = f"; extrapolated beyond {last:.3g} kPa" if last < 0.9 * fc else ""
    result.parameters.append(FIELD_CAPACITY.of(capacity, kpa=fc, beyond=far))
    if made[0].kpa <= SATURATED_KPA:
        result.parameters.append(DRAINABLE.of(100 * theta[0] - capacity))
    result.parameters += [
        WILTING.of(wilting, beyond=", as weighed" if read is not None else beyond),
        AVAILABLE.of(capacity - wilting, beyond=beyond),
    ]


def _fitted(result: Reduction, chosen: Retention, fits: list[Retention]) -> None:
    for symbol, value, error in zip(chosen.symbols, chosen.values, chosen.errors, strict=True):
        fitted = OF_CURVE[symbol]
        result.parameters.append(
            fitted.word("undetermined", basis=chosen.name.label, curve=chosen.name)
            if error is None
            else fitted.of(value, basis=chosen.name.label, doubt=Scatter(error, chosen.freedom), curve=chosen.name)
        )
    for fit in fits:
        result.parameters.append(AIC.of(fit.aic, code=fit.name.replace("-", "_"), curve=fit.name))
    other = next((f for f in fits if f is not chosen), None)
    if other is not None and other.aic < chosen.aic - 4 * _CLEARLY and other.misfit < chosen.misfit - 0.004:
        result.findings.append(OTHER_FITS_BETTER.at("weighings", name=other.name, chosen_name=chosen.name))


def _explained(
    readings: RetentionReadings, settings: RetentionSettings, made: list[Step], theta: list[float]
) -> list[Explained]:
    tare, dry = tare_g(readings, settings) or 0.0, dry_g(readings) or 0.0
    return [
        Explained.of(
            water_by_volume,
            put_in=f"({s.mass_g[-1]:.2f} − {tare:.2f} − {dry:.2f}) / (0.998 × {readings.volume_cm3:g})",
            result=f"{t:.4f}",
            about=f"{s.at}, {s.kpa:.3g} kPa, day {s.days[-1]:g}; apparatus with ring, and dry soil, taken off",
        )
        for s, t in zip(made, theta, strict=False)
    ]
