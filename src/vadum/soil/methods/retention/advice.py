"""What can be wrong in the cell, and whether to stay or to step on."""

from itertools import pairwise

from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.method import Reduction
from vadum.soil.methods.retention.readings import PLAN_KPA, RetentionReadings, RetentionSettings
from vadum.soil.methods.retention.steps import Step, sudden_losses
from vadum.soil.physics.retention import Device, suction_kpa

_UNITS = {"water column": "cm of water", "mercury column": "cm of mercury", "gauge": "bar"}
_MERCURY = 13.6


def step_findings(readings: RetentionReadings, settings: RetentionSettings, made: list[Step]) -> list[Finding]:
    """Return what is wrong with saturation, suctions and weighings."""
    found: list[Finding] = []
    if readings.saturated_twice == "no":
        found.append(
            warn(
                "saturated-once",
                "The ring was not saturated twice: air stays in it.",
                "Saturate again for 24 h in 0.01 M calcium chloride before the first step.",
                "saturated_twice",
            )
        )
    if readings.plate_saturated == "no":
        found.append(
            stop(
                "plate-dry",
                "The plate is not saturated: air goes through it.",
                "Saturate the plate, begin again.",
                "plate_saturated",
            )
        )
    for before, after in pairwise(made):
        row = after.rows[0]
        if after.kpa <= before.kpa:
            found.append(
                warn(
                    "suction-falls",
                    f"The suction goes from {before.read:g} back to {after.read:g}: a soil that is wetted again holds"
                    " less.",
                    "Type suctions that rise; leave out what was read on the way back.",
                    f"weighings.{row}.suction",
                )
            )
        if after.mass_g[-1] > before.mass_g[-1] + 0.05:
            found.append(
                stop(
                    "mass-rises",
                    f"{after.mass_g[-1]:.2f} g at {after.read:g} is more than {before.mass_g[-1]:.2f} g at"
                    f" {before.read:g}: water went in, or another apparatus was weighed.",
                    "Weigh again, wipe the apparatus dry, look at the number on it.",
                    f"weighings.{after.rows[-1]}.mass_g",
                )
            )
        if before.kpa > 0 and not before.stable(settings):
            change = before.change_g_day
            said = f"still lost {change:.2f} g a day" if change is not None else "was weighed once only"
            found.append(
                warn(
                    "left-early",
                    f"{before.read:g} {said} when it was left, the rule is {settings.stable_g_day:g} g a day.",
                    "Stay at the step in hand until it is stable; this one reads too wet.",
                    f"weighings.{before.rows[-1]}.mass_g",
                )
            )
    for step in made:
        for row in sudden_losses(step):
            found.append(
                warn(
                    "sudden-loss",
                    f"At {step.read:g} far more water went than the days before: a leak, or air through the plate.",
                    "Look for bubbles below the plate; tighten the cell or saturate the plate again.",
                    f"weighings.{row}.mass_g",
                )
            )
    return found + _column(settings, made)


def _column(settings: RetentionSettings, made: list[Step]) -> list[Finding]:
    """Return a suction that was read on another column than the setting says."""
    if not made or settings.device == "gauge":
        return [_as_gauge(made[-1])] if made and made[-1].kpa > 2500 else []
    other: Device = "mercury column" if settings.device == "water column" else "water column"
    for before, after in pairwise([s for s in made if s.read > 0]):
        ratio = after.read / before.read
        if ratio > 0.8 * _MERCURY or ratio < 1 / (0.8 * _MERCURY):
            return [
                warn(
                    "column",
                    f"From {before.read:g} to {after.read:g} {_UNITS[settings.device]} is a factor of"
                    f" {max(ratio, 1 / ratio):.0f}: was one read on the {other}?",
                    f"Mercury is {_MERCURY:g} times as heavy; type every suction in {_UNITS[settings.device]}.",
                    f"weighings.{after.rows[0]}.suction",
                )
            ]
    return []


def _as_gauge(step: Step) -> Finding:
    return stop(
        "gauge-in-kpa",
        f"{step.read:g} bar is more than a cell stands: kPa or cm?",
        "Type bar, or choose the column.",
        f"weighings.{step.rows[0]}.suction",
    )


def curve_findings(porosity: float | None, theta: list[float], made: list[Step]) -> list[Finding]:
    """Return what cannot be of the water contents."""
    if not theta:
        return []
    row = made[0].rows[-1]
    if porosity is not None and theta[0] > porosity + 0.02:
        return [
            stop(
                "above-porosity",
                f"{100 * theta[0]:.1f} % of water in pores of {100 * porosity:.1f} %.",
                "Check volume, dry mass and the masses of ring and apparatus.",
                f"weighings.{row}.mass_g",
            )
        ]
    if min(theta) < 0:
        return [
            stop(
                "below-dry",
                "Less water than none: the dry mass, ring or apparatus is too heavy.",
                "Check the three masses.",
                "mass_dry_g",
            )
        ]
    return []


def next_action(readings: RetentionReadings, settings: RetentionSettings, made: list[Step], result: Reduction) -> str:
    """Return stay, or the next step in the device's own units."""
    worst = next((f for f in result.findings if f.severity == "stop"), None)
    if worst is not None:
        return f"{worst.message} {worst.action}"
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
    warned = next((f for f in result.findings if f.severity == "warn"), None)
    return f"{warned.message} {warned.action}" if warned else "Done. Let a second person check the sheet."


def _in_device(kpa: float, settings: RetentionSettings) -> float:
    return kpa / suction_kpa(1.0, settings.device)
