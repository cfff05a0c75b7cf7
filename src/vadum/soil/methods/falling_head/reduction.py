"""From heads by time to the conductivity of each place and of the site."""

from math import exp, sqrt

from vadum.soil.bench.infiltrating import to_design
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.methods.falling_head import advice
from vadum.soil.methods.falling_head.cylinders import Place, deficit_of, places
from vadum.soil.methods.falling_head.figures import head_figure, residual_figure, site_figure
from vadum.soil.methods.falling_head.findings import PLACES_APART, SUCTION_UNDETERMINED, TEMPERATURE_MIXED
from vadum.soil.methods.falling_head.readings import (
    FallingHeadContext,
    FallingHeadReadings,
    FallingHeadSettings,
    Moisture,
    SiteValue,
)
from vadum.soil.methods.falling_head.results import (
    BAND,
    DESIGN_MM_H,
    JUDGED,
    KS,
    KS_SITE,
    KS_SITE_M_S,
    LATE,
    SPREAD,
    SUCTION,
)
from vadum.soil.numbers.scatter import Scatter
from vadum.soil.physics.falling_head import geometric_mean

BASIS = "ASTM D8152"
MM_H_TO_M_S = 1 / 3.6e6
# Places of one site further apart are two grounds, or one cylinder leaks.
_APART = 3.0


def reduce_falling_head(
    readings: FallingHeadReadings, settings: FallingHeadSettings, context: FallingHeadContext
) -> Reduction:
    """Return all that the cylinders say so far."""
    porosity, source = _porosity(readings, settings, context)
    made = places(readings, settings, porosity)
    fitted = [p for p in made if p.fit is not None]
    said = f"{settings.moisture}" + (f", porosity {porosity:g} {source}" if settings.moisture == Moisture.DIAL else "")
    result = Reduction(
        school=f"{said}; readings with the front outside the cylinder; to 20 °C where the water is measured",
        complete=bool(fitted) and len(fitted) == len(made),
    )
    result.findings = advice.moisture_findings(readings, settings, porosity)
    result.findings += advice.record_findings(made, settings, readings)
    result.findings += [_undetermined(p) for p in fitted if p.fit and not p.fit.suction_known]
    result.computed = _computed(readings, settings, made, porosity)
    _site(result, fitted, settings)
    if (ks := result.parameter("ks_site")) is not None and ks.value is not None:
        result.findings += advice.soil_findings(readings, ks.value)
    for p in fitted:
        result.parameters += _of_place(p)
    result.derivation = [step for p in fitted for step in _steps(p)]
    plan = site_figure(readings, made)
    result.figures = [head_figure(made, settings.least_start_mm), residual_figure(made), *([plan] if plan else [])]
    result.next_step = advice.next_step(readings, settings, made, complete=result.complete)
    if len(made) <= 2:
        result.afterwards = "Run three cylinders for a site, or let a second person check the sheet."
    return result


def _porosity(
    readings: FallingHeadReadings, settings: FallingHeadSettings, context: FallingHeadContext
) -> tuple[float, str]:
    if readings.porosity is not None:
        return readings.porosity, "typed on this sheet"
    if context.porosity is not None:
        return context.porosity.value, f"from {context.porosity.source}"
    return settings.assumed_porosity, "assumed"


def _undetermined(p: Place) -> Finding:
    return SUCTION_UNDETERMINED.at(number=p.number)


def _computed(
    readings: FallingHeadReadings, settings: FallingHeadSettings, made: list[Place], porosity: float
) -> dict[str, float | str]:
    computed: dict[str, float | str] = {}
    for i, row in enumerate(readings.cylinders):
        if (deficit := deficit_of(row, readings, settings, porosity)) is not None:
            computed[f"cylinders.{i}.deficit_percent"] = 100 * deficit
    for p in made:
        if p.ks_20_mm_h is not None:
            below = f"< {p.band_20_mm_h[1]:.2g}" if p.only_below and p.band_20_mm_h else ""
            computed[f"cylinders.{p.number - 1}.ks_mm_h"] = below or f"{p.ks_20_mm_h:.3g}"
        if p.fit is not None:
            computed |= {
                f"heads.{int(row)}.residual_mm": float(r)
                for row, r, used in zip(p.rows, p.fit.residuals_mm, p.fit.used, strict=True)
                if row >= 0 and used
            }
    return computed


def _site(result: Reduction, fitted: list[Place], settings: FallingHeadSettings) -> None:
    """Add the site's value, all of it at one temperature."""
    known = [p for p in fitted if p.ks_20_mm_h and p.band_20_mm_h]
    if not known:
        return
    missing = sum(p.water_c is None for p in known)
    mixed = 0 < missing < len(known)
    if mixed:
        result.findings.append(TEMPERATURE_MIXED.at("cylinders", missing=missing, count=len(known)))
    # Conductivities at 20 degrees and at the water's own are two things: one mean holds only one of them.
    share = {p.number: 1 / p.to_20 if mixed else 1.0 for p in known}
    at = "at 20 °C" if not missing else "at the water's temperature"
    if any(p.only_below for p in known):
        _bound(result, known, share, at)
        return
    values = [(p.ks_20_mm_h or 0.0) * share[p.number] for p in known]
    mean, spread = geometric_mean(values)
    count = len(values)
    lowest = settings.site_value == SiteValue.LOWEST
    value = min(values) if lowest else mean
    # How the places differ is the ground's, and stands beside as the spread and the band of their mean.
    errors = [min(known, key=lambda p: p.ks_20_mm_h or 0.0)] if lowest else known
    doubt = Scatter(value * sqrt(sum(p.fit.standard_error**2 for p in errors if p.fit)) / len(errors))
    over = "one place" if count == 1 else f"{'lowest' if lowest else 'geometric mean'} of {count} places"
    result.parameters.append(KS_SITE.of(value, doubt=doubt, over=f"{over}, {at}"))
    in_m_s = Scatter(doubt.standard * MM_H_TO_M_S, doubt.freedom)
    result.parameters.append(KS_SITE_M_S.of(value * MM_H_TO_M_S, doubt=in_m_s))
    if count > 1:
        _scatter(result, values, mean, spread)
    _design(result, value, settings, [p.number for p in known if p.water_c is None])


def _bound(result: Reduction, known: list[Place], share: dict[int, float], at: str) -> None:
    """Add what is known of a site with a place that has only a bound above."""
    values = [
        ((p.band_20_mm_h or (0.0, 0.0))[1] if p.only_below else p.ks_20_mm_h or 0.0) * share[p.number] for p in known
    ]
    over = "bound of one place" if len(values) == 1 else f"bound of {len(values)} places"
    result.parameters.append(KS_SITE.word(f"below {geometric_mean(values)[0]:.2g} mm/h", over=f"{over}, {at}"))


def _scatter(result: Reduction, values: list[float], mean: float, spread: float) -> None:
    """Add how the places scatter, and the band of their mean."""
    from scipy.special import stdtrit

    count, factor = len(values), max(values) / min(values)
    half = spread ** (float(stdtrit(count - 1, 0.975)) / count**0.5)
    result.parameters.append(BAND.word(f"{mean / half:.3g} to {mean * half:.3g} mm/h", count=count))
    result.parameters.append(SPREAD.of(spread))
    if factor > _APART:
        result.findings.append(PLACES_APART.at("cylinders", factor=factor, least=min(values), most=max(values)))


def _design(result: Reduction, value: float, settings: FallingHeadSettings, not_read: list[int]) -> None:
    """Add the rate for design, in water as cold as the setting says, and whether it meets what is required.

    The value is of water at 20 degrees but for the places ``not_read``, whose water nobody measured.
    """
    water, first = (None, not_read[0]) if not_read else (20.0, 1)
    cold, at = to_design(result, water, settings.design_c, f"cylinders.{first - 1}.temperature_c")
    design = value * cold / settings.safety_factor
    result.parameters.append(DESIGN_MM_H.of(design, safety_factor=settings.safety_factor, at=at))
    if settings.required_mm_h is not None:
        meets = design >= settings.required_mm_h
        words = f"{'meets' if meets else 'does not meet'} {settings.required_mm_h:g} mm/h"
        result.parameters.append(JUDGED.word(words))


def _of_place(p: Place) -> list[Parameter]:
    if p.fit is None or p.ks_20_mm_h is None:
        return []
    doubt = Scatter(p.ks_20_mm_h * (exp(p.fit.standard_error) - 1))
    if p.only_below and p.band_20_mm_h is not None:
        found = [KS.word(f"below {p.band_20_mm_h[1]:.2g} mm/h", number=p.number)]
    else:
        found = [KS.of(p.ks_20_mm_h, doubt=doubt, number=p.number)]
    if p.fit.suction_known:
        half = (p.fit.suction_band[1] - p.fit.suction_band[0]) / 4
        found.append(SUCTION.of(p.fit.suction_mm, doubt=Scatter(half), number=p.number))
    else:
        found.append(SUCTION.word("undetermined", number=p.number))
    if (late := p.late_mm_h) is not None:
        found.append(LATE.of(late, number=p.number))
    return found


def _steps(p: Place) -> list[Step]:
    if p.fit is None or p.cylinder is None or p.deficit is None or p.ks_20_mm_h is None or p.band_20_mm_h is None:
        return []
    c, low, high = p.cylinder, *p.band_20_mm_h
    return [
        Step(
            symbol="Δθ",
            formula="Δθ = θ after − θ before",
            put_in=f"cylinder {p.number}",
            result=f"{p.deficit:.3f}",
            about="deficit filled by the front",
        ),
        Step(
            symbol="R*",
            formula="R ≥ √(r1² + L²)",
            put_in=f"r1 {c.radius_mm:g}, L {c.embedded_mm:g} mm: front clear below H = {c.clear_head_mm:.0f} mm",
            result=f"{c.clear_mm:.1f}",
            unit="mm",
            basis=BASIS,
            about=f"{int(p.fit.used.sum())} of {len(p.minutes)} readings used",
        ),
        Step(
            symbol="Ks",
            formula="−dH/dt = Ks (H + C + L + g)/(L + g), its clock free, least squares in H; × η(T)/η(20)",
            put_in=(
                f"C {p.fit.suction_mm:.0f} mm, clock from {-p.fit.start_mm / p.fit.ks_mm_min:.2f} min, misfit"
                f" {p.fit.misfit_mm:.2f} mm, temperature {p.to_20:.3f}"
            ),
            result=f"{p.ks_20_mm_h:.4g}, 95 % {low:.4g} to {high:.4g}",
            unit="mm/h",
            basis=BASIS,
            about=f"cylinder {p.number}",
        ),
    ]
