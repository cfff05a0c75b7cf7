"""What can be wrong in the cell, and whether to stay or to step on."""

from itertools import pairwise

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.retention.findings import (
    ABOVE_POROSITY,
    BELOW_DRY,
    BEYOND_RATING,
    COLUMN,
    GAUGE_IN_KPA,
    LEFT_EARLY,
    LOST_AT_NOTHING,
    MASS_RISES,
    NO_SUCTION,
    NOT_FULL,
    NOT_SATURATED,
    PLATE_DRY,
    POORLY_KNOWN,
    SATURATED_ONCE,
    SUCTION_FALLS,
    SUDDEN_LOSS,
)
from vadum.soil.methods.retention.readings import RetentionReadings, RetentionSettings
from vadum.soil.methods.retention.steps import SATURATED_KPA, Step, ahead_of, as_read, pairwise_rows, sudden_losses
from vadum.soil.methods.retention.water import tare_g
from vadum.soil.physics.retention import Device, Retention

_COLUMNS: dict[Device, Device] = {Device.WATER: Device.MERCURY, Device.MERCURY: Device.WATER}
_MERCURY = 13.6
_MOST_GAUGE_KPA = 2500.0
# A parameter known no better than to half of itself says little.
_LARGE = 0.5
# Air trapped while it was saturated takes up to a fifth of the pores.
_FULL = 0.8
# At no suction a ring loses what evaporates between two weighings; of its volume:
_EVAPORATES = 0.01
# What a balance in a draught and a drop on the apparatus make of one that has come to rest.
_HEAVIER_G = 0.2


def step_findings(readings: RetentionReadings, settings: RetentionSettings, made: list[Step]) -> list[Finding]:
    """Return what is wrong with saturation, suctions and weighings."""
    found: list[Finding] = []
    if readings.saturated_twice == "no":
        found.append(SATURATED_ONCE.at("saturated_twice"))
    if readings.plate_saturated == "no":
        found.append(PLATE_DRY.at("plate_saturated"))
    found += _unsaid(readings, made)
    for before, after in pairwise(made):
        row = after.rows[0]
        if after.kpa <= before.kpa:
            found.append(SUCTION_FALLS.at(f"weighings.{row}.suction", before=before.at, after=after.at))
        if after.mass_g[-1] > before.mass_g[-1] + 0.05:
            found.append(
                MASS_RISES.at(
                    f"weighings.{after.rows[-1]}.mass_g",
                    mass_g=after.mass_g[-1],
                    at=after.at,
                    before=before.mass_g[-1],
                    before_at=before.at,
                )
            )
    found += _heavier(made)
    left = made if readings.mass_dry_g is not None else made[:-1]
    found += [_left_early(step, settings) for step in left if step.kpa > 0 and not step.stable(settings)]
    for step in made:
        for row in sudden_losses(step):
            found.append(SUDDEN_LOSS.at(f"weighings.{row}.mass_g", at=step.at))
        if readings.rated_kpa is not None and step.kpa > readings.rated_kpa * 1.02:
            cell = f"weighings.{step.rows[0]}.suction"
            found.append(BEYOND_RATING.at(cell, at=_with_kpa(step), rated_kpa=readings.rated_kpa))
    return found + _column(made)


def _heavier(made: list[Step]) -> list[Finding]:
    """Return weighings heavier than the one before at the same suction or a higher one: water does not come back. While
    it is saturated it does."""
    found, doubted = [], {step.rows[-1] for step in made}
    weighed = [(mass, row, step) for step in made for mass, row in zip(step.mass_g, step.rows, strict=True)]
    for (m0, _, before), (m1, row, step) in pairwise(weighed):
        if m1 > m0 + _HEAVIER_G and row not in doubted and step.kpa >= max(before.kpa, SATURATED_KPA):
            values = {"mass_g": m1, "at": step.at, "before": m0, "before_at": before.at}
            found.append(MASS_RISES.at(f"weighings.{row}.mass_g", **values))
    return found


def _unsaid(readings: RetentionReadings, made: list[Step]) -> list[Finding]:
    """Return weighings whose suction was not typed: before the first one, and below it as another loss of water."""
    found = []
    begun = next((i for i, row in enumerate(readings.weighings) if row.suction is not None), len(readings.weighings))
    for i, row in enumerate(readings.weighings[:begun]):
        if row.used and row.mass_g is not None:
            found.append(NO_SUCTION.at(f"weighings.{i}.suction", mass_g=row.mass_g, row=i + 1))
    if made and made[0].kpa > SATURATED_KPA and not found:
        found.append(NOT_SATURATED.at(f"weighings.{made[0].rows[0]}.suction", at=_with_kpa(made[0])))
    if made and made[0].kpa == 0 and readings.volume_cm3 is not None:
        rows = pairwise(made[0].rows)
        for (b, r), ((before, _), (after, _, _)) in zip(rows, pairwise_rows(made[0]), strict=True):
            if before - after > _EVAPORATES * readings.volume_cm3:
                cell = f"weighings.{r}.suction"
                found.append(LOST_AT_NOTHING.at(cell, lost_g=before - after, before=b + 1, row=r + 1))
    return found


def _column(made: list[Step]) -> list[Finding]:
    """Return a suction that was read on another column than its row says."""
    if made and made[-1].device == Device.GAUGE and made[-1].kpa > _MOST_GAUGE_KPA:
        return [GAUGE_IN_KPA.at(f"weighings.{made[-1].rows[0]}.suction", read=made[-1].read)]
    for before, after in pairwise([s for s in made if s.read > 0]):
        if before.device != after.device or after.device not in _COLUMNS:
            continue
        other = _COLUMNS[after.device]
        ratio = after.read / before.read
        if ratio > 0.8 * _MERCURY or ratio < 1 / (0.8 * _MERCURY):
            return [
                COLUMN.at(
                    f"weighings.{after.rows[0]}.suction",
                    read=before.read,
                    after_read=after.read,
                    unit=after.device,
                    largest=max(ratio, 1 / ratio),
                    other=other,
                    times=_MERCURY,
                )
            ]
    return []


def _left_early(step: Step, settings: RetentionSettings) -> Finding:
    change = step.change_g_day
    said = f"still lost {change:.2f} g a day" if change is not None else "was weighed once only"
    cell = f"weighings.{step.rows[-1]}.mass_g"
    return LEFT_EARLY.at(cell, at=step.at, said=said, stable_g_day=settings.stable_g_day)


def curve_findings(porosity: float | None, theta: list[float], made: list[Step]) -> list[Finding]:
    """Return what cannot be of the water contents."""
    if not theta:
        return []
    row = made[0].rows[-1]
    if porosity is not None and theta[0] > porosity + 0.02:
        return [ABOVE_POROSITY.at(f"weighings.{row}.mass_g", water=100 * theta[0], porosity=100 * porosity)]
    if porosity is not None and made[0].kpa <= SATURATED_KPA and 0 <= theta[0] < _FULL * porosity:
        return [NOT_FULL.at("volume_cm3", water=100 * theta[0], porosity=100 * porosity)]
    if min(theta) < 0:
        return [BELOW_DRY.at("mass_dry_g")]
    return []


def next_step(readings: RetentionReadings, settings: RetentionSettings, made: list[Step]) -> str:
    """Return stay, or the next step in the device's own units."""
    if readings.volume_cm3 is None or tare_g(readings, settings) is None:
        return "Weigh apparatus and ring; saturate the ring twice for 24 h in 0.01 M calcium chloride, the plate too."
    if not made:
        return "Weigh the saturated apparatus: suction 0, day 0."
    step = made[-1]
    if readings.mass_dry_g is None and step.kpa > 0 and not step.stable(settings):
        change = step.change_g_day
        lost = f" It lost {change:.2f} g in the last day." if change is not None else ""
        return f"Stay at {step.at}.{lost} Weigh again tomorrow."
    ahead = ahead_of(step.kpa, settings, readings.rated_kpa)
    if ahead is not None and readings.mass_dry_g is None:
        following = Step(as_read(ahead, step.device), step.device, ahead)
        return f"Next step: {_with_kpa(following)}."
    if readings.mass_dry_g is None:
        return "Last step stable: take the soil out, dry it at 110 °C, weigh it."
    return ""


def _with_kpa(step: Step) -> str:
    """Return a suction as it is read, with what it is in kPa where that is something else."""
    return step.at if step.device == Device.KILOPASCAL else f"{step.at} ({step.kpa:.3g} kPa)"


def fit_findings(fit: Retention) -> list[Finding]:
    """Return what the fit knows badly: a parameter whose standard error is large beside it."""
    poor = [
        f"{symbol} to {100 * error / value:.0f} %"
        for symbol, value, error in zip(fit.symbols, fit.values, fit.errors, strict=True)
        if symbol not in ("θr", "θs") and error is not None and error > _LARGE * value
    ]
    return [POORLY_KNOWN.at("weighings", curve=fit.name, poor=" and ".join(poor))] if poor else []
