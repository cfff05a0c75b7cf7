"""What can be wrong with a vane profile, and what to do at the hole."""

from statistics import median

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.vane.depths import Sheared
from vadum.soil.methods.vane.findings import (
    CONSTANT_MISSING,
    DEPTH_BACK,
    DEPTH_TWICE,
    FEW_TURNS,
    FRICTION_HIGH,
    GRANULAR,
    JUMP,
    PIN_LEFT,
    RATE_OFF,
    REMOULDED_HIGHER,
    SIZE_MISSING,
    STEP_OFF,
    VANE_SHAPE,
    WRONG_VANE,
)
from vadum.soil.methods.vane.readings import FULL_TURNS, Instrument, VaneReadings, VaneSettings

_LOW, _HIGH = 0.1, 0.9
# ASTM D2573, clause 6.
_SLENDER = (1.0, 2.5)
_PEAK_S = (60.0, 300.0)


def setup_findings(readings: VaneReadings, settings: VaneSettings) -> list[Finding]:
    """Return what makes every reading void."""
    found: list[Finding] = []
    if readings.soil in ("sand", "gravel"):
        found.append(GRANULAR.at("soil", soil=readings.soil))
    if readings.pin_drawn == "no":
        found.append(PIN_LEFT.at("pin_drawn"))
    wide, high = readings.diameter_mm, readings.height_mm
    if wide and high and not _SLENDER[0] <= high / wide <= _SLENDER[1]:
        found.append(VANE_SHAPE.at("diameter_mm", "height_mm", diameter_mm=wide, height_mm=high))
    read = any(row.peak is not None for row in readings.profile)
    if read and settings.instrument == Instrument.BALANCE and readings.constant is None:
        found.append(CONSTANT_MISSING.at("constant"))
    if read and settings.instrument == Instrument.HEAD and (readings.diameter_mm is None or readings.height_mm is None):
        found.append(SIZE_MISSING.at("diameter_mm"))
    return found


def row_findings(readings: VaneReadings, settings: VaneSettings) -> list[Finding]:
    """Return what is wrong at single depths."""
    found: list[Finding] = []
    last = None
    for i, row in enumerate(readings.profile):
        if not row.used or row.empty:
            continue
        at = f"{row.depth_m:g} m" if row.depth_m is not None else f"row {i + 1}"
        if row.peak is not None and row.remoulded is not None and row.remoulded > row.peak:
            found.append(REMOULDED_HIGHER.at(f"profile.{i}.remoulded", at=at, remoulded=row.remoulded, peak=row.peak))
        if row.peak is not None and row.friction is not None and row.friction >= row.peak:
            found.append(FRICTION_HIGH.at(f"profile.{i}.friction", at=at, friction=row.friction, peak=row.peak))
        if readings.full_scale and row.peak is not None and not _LOW <= row.peak / readings.full_scale <= _HIGH:
            high = row.peak / readings.full_scale > _HIGH
            found.append(
                WRONG_VANE.at(
                    f"profile.{i}.peak",
                    at=at,
                    peak=row.peak,
                    percent=100 * row.peak / readings.full_scale,
                    full_scale=readings.full_scale,
                    size="smaller" if high else "larger",
                )
            )
        if row.seconds_to_peak is not None and not _PEAK_S[0] <= row.seconds_to_peak <= _PEAK_S[1]:
            fast = row.seconds_to_peak < _PEAK_S[0]
            found.append(
                RATE_OFF.at(
                    f"profile.{i}.seconds_to_peak",
                    at=at,
                    seconds_to_peak=row.seconds_to_peak,
                    which="fast" if fast else "slow",
                )
            )
        if row.turns is not None and row.turns < FULL_TURNS:
            found.append(FEW_TURNS.at(f"profile.{i}.turns", at=at, turns=row.turns))
        if row.depth_m is not None and last is not None:
            step = row.depth_m - last
            if step <= 0:
                found.append(
                    (DEPTH_TWICE if step == 0 else DEPTH_BACK).at(
                        f"profile.{i}.depth_m", depth_m=row.depth_m, last=last
                    )
                )
            elif abs(step - settings.step_m) > 0.05:
                found.append(
                    STEP_OFF.at(
                        f"profile.{i}.depth_m", last=last, depth_m=row.depth_m, step=step, step_m=settings.step_m
                    )
                )
        last = row.depth_m if row.depth_m is not None else last
    return found


def profile_findings(readings: VaneReadings, settings: VaneSettings, used: list[Sheared]) -> list[Finding]:
    """Return a depth that stands out of its neighbours."""
    found = []
    for k, s in enumerate(used):
        near = [o.peak_kpa for o in used[max(0, k - 2) : k + 3] if o is not s]
        if len(near) >= 2 and s.peak_kpa > settings.jump * median(near):
            found.append(JUMP.at(f"profile.{s.row}.peak", depth_m=s.depth_m, peak_kpa=s.peak_kpa, median=median(near)))
    return found


def next_step(readings: VaneReadings, settings: VaneSettings, used: list[Sheared]) -> str:
    """Return the next thing to do at the hole."""
    open_row = next(
        (row for row in readings.profile if row.used and not row.empty and (row.peak is None or row.remoulded is None)),
        None,
    )
    if open_row is not None and open_row.depth_m is not None:
        if open_row.peak is None:
            return (
                f"{open_row.depth_m:g} m: wait for the rods to rest, turn at 6 to 12 degrees a minute, read the peak in"
                " about two minutes."
            )
        return f"{open_row.depth_m:g} m: turn ten full turns, then read the remoulded strength."
    if not used:
        return (
            "Say what the ground is and take the vane's constant; draw the pin, push the vane to the first depth"
            " without turning."
        )
    return ""
