"""What to say at the cup: after a trial, and next."""

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.liquid_limit.findings import (
    CLOSURE_IN_INCHES,
    CLOSURE_LONG,
    CLOSURE_SHORT,
    COUNT_HIGH,
    COUNT_LOW,
    ONE_POINT_HIGH,
    ONE_POINT_LOW,
    PENETRATIONS_APART,
    SECOND_DROP_MISSING,
    TOO_DEEP,
    TOO_SHALLOW,
    VERIFICATION_MISSING,
    VERIFICATION_OFF,
)
from vadum.soil.methods.liquid_limit.readings import Cone, LiquidLimitSettings, School, Trial

MOST_SECOND_CLOSURE_STEP = 2
_DROPS_APART_MM = 0.5


def trial_findings(number: int, trial: Trial, settings: LiquidLimitSettings) -> list[Finding]:
    """Return what is wrong with the counts or penetrations of one trial in use."""
    path = f"trials.{number}"
    if settings.cone:
        return _cone_findings(path, trial, settings.cone)
    findings = _count_findings(path, trial, settings) + _closure_findings(path, trial)
    if settings.school == School.ONE_POINT:
        findings += _verification_findings(path, trial)
    return findings


def _count_findings(path: str, trial: Trial, settings: LiquidLimitSettings) -> list[Finding]:
    low, high = settings.window
    one_point = settings.school == School.ONE_POINT
    too_high, too_low = (ONE_POINT_HIGH, ONE_POINT_LOW) if one_point else (COUNT_HIGH, COUNT_LOW)
    return [
        (too_high if count > high else too_low).at(f"{path}.{column}", count=count, high=high, low=low)
        for column in (("blows", "blows_repeat") if one_point else ("blows",))
        if (count := getattr(trial, column)) is not None and not low <= count <= high
    ]


def _closure_findings(path: str, trial: Trial) -> list[Finding]:
    closure = trial.closure_mm
    if closure is None or 10 <= closure <= 20:
        return []
    wrong = CLOSURE_IN_INCHES if closure <= 1 else CLOSURE_SHORT if closure < 10 else CLOSURE_LONG
    return [wrong.at(f"{path}.closure_mm", closure=closure)]


def _verification_findings(path: str, trial: Trial) -> list[Finding]:
    first, second = trial.blows, trial.blows_repeat
    if first is None:
        return []
    if second is None:
        if trial.mass_tin_wet_g is None:
            return []
        return [VERIFICATION_MISSING.at(f"{path}.blows_repeat", first=first)]
    if abs(first - second) > MOST_SECOND_CLOSURE_STEP:
        return [VERIFICATION_OFF.at(f"{path}.blows_repeat", f"{path}.blows", second=second, first=first)]
    return []


def _cone_findings(path: str, trial: Trial, cone: Cone) -> list[Finding]:
    findings = []
    depth, least, most = trial.penetration, cone.least_mm, cone.most_mm
    if depth is not None and not least <= depth <= most:
        outside = TOO_DEEP if depth > most else TOO_SHALLOW
        findings.append(outside.at(f"{path}.penetration_mm", depth=depth, least=least, most=most))
    first, second = trial.penetration_mm, trial.penetration_repeat_mm
    if first is not None and second is None and trial.mass_tin_wet_g is not None:
        findings.append(SECOND_DROP_MISSING.at(f"{path}.penetration_repeat_mm", depth=first))
    # Readings of a dial have steps: 0.5 mm apart is not more than 0.5 mm apart.
    if first is not None and second is not None and abs(first - second) > _DROPS_APART_MM + 1e-9:
        findings.append(
            PENETRATIONS_APART.at(f"{path}.penetration_repeat_mm", f"{path}.penetration_mm", mm=abs(first - second))
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
