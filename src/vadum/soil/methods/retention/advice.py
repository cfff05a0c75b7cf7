"""What can be wrong in the cell, and whether to stay or to step on."""

from itertools import pairwise

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.retention.findings import (
    ABOVE_POROSITY,
    BELOW_DRY,
    COLUMN,
    GAUGE_IN_KPA,
    LEFT_EARLY,
    MASS_RISES,
    NOT_FULL,
    PLATE_DRY,
    SATURATED_ONCE,
    SUCTION_FALLS,
    SUDDEN_LOSS,
)
from vadum.soil.methods.retention.readings import PLAN_KPA, RetentionReadings, RetentionSettings
from vadum.soil.methods.retention.steps import Step, sudden_losses
from vadum.soil.physics.retention import Device, suction_kpa

_UNITS = {Device.WATER: "cm of water", Device.MERCURY: "cm of mercury", Device.GAUGE: "bar"}
_MERCURY = 13.6
# Air trapped while it was saturated takes up to a fifth of the pores.
_SATURATED_KPA, _FULL = 1.0, 0.8


def step_findings(readings: RetentionReadings, settings: RetentionSettings, made: list[Step]) -> list[Finding]:
    """Return what is wrong with saturation, suctions and weighings."""
    found: list[Finding] = []
    if readings.saturated_twice == "no":
        found.append(SATURATED_ONCE.at("saturated_twice"))
    if readings.plate_saturated == "no":
        found.append(PLATE_DRY.at("plate_saturated"))
    for before, after in pairwise(made):
        row = after.rows[0]
        if after.kpa <= before.kpa:
            found.append(SUCTION_FALLS.at(f"weighings.{row}.suction", read=before.read, after_read=after.read))
        if after.mass_g[-1] > before.mass_g[-1] + 0.05:
            found.append(
                MASS_RISES.at(
                    f"weighings.{after.rows[-1]}.mass_g",
                    mass_g=after.mass_g[-1],
                    read=after.read,
                    before=before.mass_g[-1],
                    before_read=before.read,
                )
            )
    left = made if readings.mass_dry_g is not None else made[:-1]
    found += [_left_early(step, settings) for step in left if step.kpa > 0 and not step.stable(settings)]
    for step in made:
        for row in sudden_losses(step):
            found.append(SUDDEN_LOSS.at(f"weighings.{row}.mass_g", read=step.read))
    return found + _column(settings, made)


def _column(settings: RetentionSettings, made: list[Step]) -> list[Finding]:
    """Return a suction that was read on another column than the setting says."""
    if not made or settings.device == Device.GAUGE:
        return [_as_gauge(made[-1])] if made and made[-1].kpa > 2500 else []
    other: Device = Device.MERCURY if settings.device == Device.WATER else Device.WATER
    for before, after in pairwise([s for s in made if s.read > 0]):
        ratio = after.read / before.read
        if ratio > 0.8 * _MERCURY or ratio < 1 / (0.8 * _MERCURY):
            return [
                COLUMN.at(
                    f"weighings.{after.rows[0]}.suction",
                    read=before.read,
                    after_read=after.read,
                    unit=_UNITS[settings.device],
                    largest=max(ratio, 1 / ratio),
                    other=other,
                    times=_MERCURY,
                )
            ]
    return []


def _as_gauge(step: Step) -> Finding:
    return GAUGE_IN_KPA.at(f"weighings.{step.rows[0]}.suction", read=step.read)


def _left_early(step: Step, settings: RetentionSettings) -> Finding:
    change = step.change_g_day
    said = f"still lost {change:.2f} g a day" if change is not None else "was weighed once only"
    cell = f"weighings.{step.rows[-1]}.mass_g"
    return LEFT_EARLY.at(cell, read=step.read, said=said, stable_g_day=settings.stable_g_day)


def curve_findings(porosity: float | None, theta: list[float], made: list[Step]) -> list[Finding]:
    """Return what cannot be of the water contents."""
    if not theta:
        return []
    row = made[0].rows[-1]
    if porosity is not None and theta[0] > porosity + 0.02:
        return [ABOVE_POROSITY.at(f"weighings.{row}.mass_g", water=100 * theta[0], porosity=100 * porosity)]
    if porosity is not None and made[0].kpa <= _SATURATED_KPA and 0 <= theta[0] < _FULL * porosity:
        return [NOT_FULL.at("volume_cm3", water=100 * theta[0], porosity=100 * porosity)]
    if min(theta) < 0:
        return [BELOW_DRY.at("mass_dry_g")]
    return []


def next_step(readings: RetentionReadings, settings: RetentionSettings, made: list[Step]) -> str:
    """Return stay, or the next step in the device's own units."""
    if readings.volume_cm3 is None or readings.mass_apparatus_g is None or readings.mass_ring_g is None:
        return "Weigh apparatus and ring; saturate the ring twice for 24 h in 0.01 M calcium chloride, the plate too."
    if not made:
        return "Weigh the saturated apparatus: suction 0, day 0."
    step = made[-1]
    if readings.mass_dry_g is None and step.kpa > 0 and not step.stable(settings):
        change = step.change_g_day
        lost = f" It lost {change:.2f} g in the last day." if change is not None else ""
        return f"Stay at {step.read:g} {_UNITS[settings.device]}.{lost} Weigh again tomorrow."
    ahead = next((kpa for kpa in PLAN_KPA if kpa > step.kpa * 1.02 + 1e-9), None)
    if ahead is not None and readings.mass_dry_g is None:
        return f"Next step: {_in_device(ahead, settings):.3g} {_UNITS[settings.device]} ({ahead:g} kPa)."
    if readings.mass_dry_g is None:
        return "Last step stable: take the soil out, dry it at 110 °C, weigh it."
    return ""


def _in_device(kpa: float, settings: RetentionSettings) -> float:
    return kpa / suction_kpa(1.0, settings.device)
