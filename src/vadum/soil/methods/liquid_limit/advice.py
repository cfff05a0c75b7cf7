"""What to say at the cup: after a trial, and next."""

from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, Trial

TOO_DRY = "Add 1–3 mL of water, remix, let it rest, repeat."
TOO_WET = "Dry it by stirring in open air, then repeat; never add dry soil, never fan it, leave no crust."
_MOST_SECOND_CLOSURE_STEP = 2


def trial_findings(number: int, trial: Trial, settings: LiquidLimitSettings) -> list[Finding]:
    """Return what is wrong with the counts or penetrations of one trial in use."""
    path = f"trials.{number}"
    if settings.school == "fall-cone":
        return _cone_findings(path, trial)
    findings = _count_findings(path, trial, settings) + _closure_findings(path, trial)
    if settings.school == "one-point":
        findings += _verification_findings(path, trial)
    return findings


def _count_findings(path: str, trial: Trial, settings: LiquidLimitSettings) -> list[Finding]:
    low, high = settings.window
    one_point = settings.school == "one-point"
    make = stop if one_point else warn
    findings = []
    for column in ("blows", "blows_repeat") if one_point else ("blows",):
        count = getattr(trial, column)
        if count is None or low <= count <= high:
            continue
        side = f"too {'dry' if count > high else 'wet'}"
        school = " for one-point" if one_point else ""
        findings.append(
            make(
                "count-outside",
                f"{count} blows is {'above' if count > high else 'below'} {high if count > high else low}:"
                f" {side}{school}.",
                TOO_DRY if count > high else TOO_WET,
                f"{path}.{column}",
            )
        )
    return findings


def _closure_findings(path: str, trial: Trial) -> list[Finding]:
    closure = trial.closure_mm
    if closure is None or 10 <= closure <= 20:
        return []
    if closure <= 1:
        message, action = f"Closed over {closure:g} mm: is that in inches?", "Type 0.5in, or 13 for 13 mm."
    elif closure < 10:
        message = f"The groove closed over {closure:g} mm only."
        action = "Count on until 13 mm (1/2 in) have met; repeat this trial."
    else:
        message = f"The groove closed over {closure:g} mm: counted past 13 mm."
        action = "Stop at 13 mm (1/2 in); repeat this trial."
    return [warn("closure-length", message, action, f"{path}.closure_mm")]


def _verification_findings(path: str, trial: Trial) -> list[Finding]:
    first, second = trial.blows, trial.blows_repeat
    if first is None:
        return []
    if second is None:
        if trial.mass_tin_wet_g is None:
            return []
        return [
            warn(
                "verification-missing",
                f"{first} blows were not verified by a second closure.",
                "Refill the cup from the same mix without adding water and close the groove again.",
                f"{path}.blows_repeat",
            )
        ]
    if abs(first - second) > _MOST_SECOND_CLOSURE_STEP:
        return [
            stop(
                "verification-off",
                f"Second closure {second} blows, first {first}: more than 2 apart.",
                "Remix without adding water and close the groove until two counts in a row agree within 2.",
                f"{path}.blows_repeat",
                f"{path}.blows",
            )
        ]
    return []


def _cone_findings(path: str, trial: Trial) -> list[Finding]:
    findings = []
    depth = trial.penetration
    if depth is not None and not 15 <= depth <= 25:
        findings.append(
            warn(
                "penetration-outside",
                f"{depth:.1f} mm is {'above 25: too wet' if depth > 25 else 'below 15: too dry'}.",
                TOO_WET if depth > 25 else TOO_DRY,
                f"{path}.penetration_mm",
            )
        )
    first, second = trial.penetration_mm, trial.penetration_repeat_mm
    if first is not None and second is not None and abs(first - second) > 1.0:
        findings.append(
            warn(
                "penetrations-apart",
                f"The two drops differ by {abs(first - second):.1f} mm.",
                "Clean the cone, remix and make this trial again; two drops agree within 0.5 mm.",
                f"{path}.penetration_repeat_mm",
                f"{path}.penetration_mm",
            )
        )
    return findings


def open_bands(counts: list[int], bands: tuple[tuple[int, int], ...]) -> list[tuple[int, int]]:
    """Return the blow ranges left without a trial of their own when trials are given to ranges as well as can be."""
    best = list(bands)

    # At most four ranges and two dozen trials: trying each trial for each range in turn is instant.
    def fill(left: tuple[tuple[int, int], ...], free: list[int], missed: list[tuple[int, int]]) -> None:
        nonlocal best
        if len(missed) >= len(best):
            return
        if not left:
            best = missed
            return
        low, high = left[0]
        for count in sorted({c for c in free if low <= c <= high}):
            rest = list(free)
            rest.remove(count)
            fill(left[1:], rest, missed)
        fill(left[1:], free, [*missed, left[0]])

    fill(bands, counts, [])
    return best
