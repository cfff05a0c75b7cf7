"""What can be wrong with a vane profile, and what to do at the hole."""

from statistics import median

from vadum.soil.contract.finding import Finding
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.vane.depths import FIRST, Sheared, Vane, vanes_in_use
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
    VANE_UNKNOWN,
    VANE_UNUSED,
    WRONG_VANE,
)
from vadum.soil.methods.vane.readings import FULL_TURNS, Depth, Instrument, VaneReadings, Vanes, VaneSettings

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
    in_use = vanes_in_use(readings, settings)
    read = [vane for row, vane in zip(readings.profile, in_use, strict=True) if row.peak is not None]
    for number, vane, where in _described(readings, settings):
        wide, high = vane.diameter_mm, vane.height_mm
        if wide and high and not _SLENDER[0] <= high / wide <= _SLENDER[1]:
            cells = f"{where}diameter_mm", f"{where}height_mm"
            found.append(VANE_SHAPE.at(*cells, diameter_mm=wide, height_mm=high))
        if not any(one is vane for one in read):
            if number != FIRST and read:
                found.append(VANE_UNUSED.at(f"{where}vane", vane=number))
            continue
        if settings.instrument == Instrument.BALANCE and vane.constant is None:
            found.append(CONSTANT_MISSING.at(f"{where}constant"))
        if settings.instrument == Instrument.HEAD and (wide is None or high is None):
            found.append(SIZE_MISSING.at(f"{where}diameter_mm"))
    for (i, number, row), described in zip(numbered(readings.profile, "vane"), in_use, strict=True):
        if described is None and row.peak is not None and row.used:
            found.append(VANE_UNKNOWN.at(f"profile.{i}.vane", at=_at(row, i), vane=number))
    return found


def _described(readings: VaneReadings, settings: VaneSettings) -> list[tuple[int, Vane, str]]:
    """Return number and vane of all that are described, with the path their cells stand under."""
    several = enumerate(readings.others if settings.vanes == Vanes.SEVERAL else [])
    changed_to = [(other.vane, other, f"others.{i}.") for i, other in several if other.used and other.vane]
    return [(FIRST, readings, ""), *changed_to]


def _at(row: Depth, i: int) -> str:
    return f"{row.depth_m:g} m" if row.depth_m is not None else f"row {i + 1}"


def row_findings(readings: VaneReadings, settings: VaneSettings) -> list[Finding]:
    """Return what is wrong at single depths."""
    found: list[Finding] = []
    last = None
    for i, row in enumerate(readings.profile):
        if not row.used or row.empty:
            continue
        at = _at(row, i)
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
