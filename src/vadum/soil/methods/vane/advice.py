"""What can be wrong with a vane profile, and what to do at the hole."""

from statistics import median

from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.method import Reduction
from vadum.soil.methods.vane.depths import Sheared
from vadum.soil.methods.vane.readings import VaneContext, VaneReadings, VaneSettings

_LOW, _HIGH = 0.1, 0.9
_TURNS = 10
_PEAK_S = (60.0, 300.0)


def setup_findings(readings: VaneReadings, settings: VaneSettings) -> list[Finding]:
    """Return what makes every reading void."""
    found: list[Finding] = []
    if readings.soil in ("sand", "gravel"):
        found.append(
            stop(
                "granular",
                f"In {readings.soil} the vane gives only an index of compaction, no undrained strength.",
                "Report the readings as an index; use a penetration test for strength.",
                "soil",
            )
        )
    if readings.pin_drawn == "no":
        found.append(
            stop(
                "pin-left",
                "The pin was left in while driving: the vane has sheared the ground already.",
                "Drive on by half a metre with the pin drawn and read there.",
                "pin_drawn",
            )
        )
    read = any(row.peak is not None for row in readings.profile)
    if read and settings.instrument == "spring balance" and readings.constant is None:
        found.append(
            stop(
                "constant-missing",
                "Without the vane's constant a reading is no strength.",
                "Take it from the calibration of this vane.",
                "constant",
            )
        )
    if read and settings.instrument == "torque head" and (readings.diameter_mm is None or readings.height_mm is None):
        found.append(
            stop(
                "size-missing",
                "Without the vane's size a torque is no strength.",
                "Measure diameter and height.",
                "diameter_mm",
            )
        )
    return found


def vane_findings(readings: VaneReadings, context: VaneContext) -> list[Finding]:
    """Return where a constant is typed that is not the one of the vane in use."""
    register = context.supplied
    if register is None:
        return []
    return [
        warn(
            "other-vane",
            f"{VaneReadings.model_fields[name].title}: typed {getattr(readings, name):g}, {register.by} has {own:g} in"
            " the register.",
            "Look which vane is on the rods; clear the field to take the register's.",
            name,
        )
        for name, own in register.differing(readings).items()
    ]


def row_findings(readings: VaneReadings, settings: VaneSettings) -> list[Finding]:
    """Return what is wrong at single depths."""
    found: list[Finding] = []
    last = None
    for i, row in enumerate(readings.profile):
        if not row.used or row.empty:
            continue
        at = f"{row.depth_m:g} m" if row.depth_m is not None else f"row {i + 1}"
        if row.peak is not None and row.remoulded is not None and row.remoulded > row.peak:
            found.append(
                stop(
                    "remoulded-higher",
                    f"{at}: remoulded {row.remoulded:g} is more than the peak, {row.peak:g}.",
                    "Look whether the two are exchanged; turn ten times and read again.",
                    f"profile.{i}.remoulded",
                )
            )
        if row.peak is not None and row.friction is not None and row.friction >= row.peak:
            found.append(
                stop(
                    "friction-high",
                    f"{at}: the rods take {row.friction:g} of {row.peak:g}: nothing is left for the vane.",
                    "Clean and oil the rods, use the slip coupling, read again.",
                    f"profile.{i}.friction",
                )
            )
        if readings.full_scale and row.peak is not None and not _LOW <= row.peak / readings.full_scale <= _HIGH:
            high = row.peak / readings.full_scale > _HIGH
            found.append(
                warn(
                    "wrong-vane",
                    f"{at}: {row.peak:g} is {100 * row.peak / readings.full_scale:.0f} % of full scale,"
                    f" {readings.full_scale:g}.",
                    f"Change to the {'smaller' if high else 'larger'} vane for the next depth.",
                    f"profile.{i}.peak",
                )
            )
        if row.seconds_to_peak is not None and not _PEAK_S[0] <= row.seconds_to_peak <= _PEAK_S[1]:
            fast = row.seconds_to_peak < _PEAK_S[0]
            found.append(
                warn(
                    "rate-off",
                    f"{at}: the peak came after {row.seconds_to_peak:g} s, too {'fast' if fast else 'slow'}.",
                    "Turn at 6 to 12 degrees a minute: about two minutes to the peak.",
                    f"profile.{i}.seconds_to_peak",
                )
            )
        if row.turns is not None and row.turns < _TURNS:
            found.append(
                warn(
                    "few-turns",
                    f"{at}: {row.turns:g} turns do not remould the ground.",
                    "Turn ten times, then read.",
                    f"profile.{i}.turns",
                )
            )
        if row.depth_m is not None and last is not None:
            step = row.depth_m - last
            if step <= 0:
                found.append(
                    stop(
                        "depth-back",
                        f"{row.depth_m:g} m does not lie below {last:g} m.",
                        "Read the mark on the rods again.",
                        f"profile.{i}.depth_m",
                    )
                )
            elif abs(step - settings.step_m) > 0.05:
                found.append(
                    warn(
                        "step-off",
                        f"From {last:g} to {row.depth_m:g} m the step is {step:.2f} m, not {settings.step_m:g}.",
                        "Read the mark on the rods again; say why if a depth was left out.",
                        f"profile.{i}.depth_m",
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
            found.append(
                warn(
                    "jump",
                    f"{s.depth_m:g} m: {s.peak_kpa:.0f} kPa stands out, {median(near):.0f} kPa around it: a stone, a"
                    " shell, a root?",
                    "Draw the vane, look, go on half a step deeper; leave the depth out with the reason.",
                    f"profile.{s.row}.peak",
                )
            )
    return found


def next_action(readings: VaneReadings, settings: VaneSettings, used: list[Sheared], result: Reduction) -> str:
    """Return the next thing to do at the hole."""
    worst = next((f for f in result.findings if f.severity == "stop"), None)
    if worst is not None:
        return f"{worst.message} {worst.action}"
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
    warned = next((f for f in result.findings if f.severity == "warn"), None)
    if warned:
        return f"{warned.message} {warned.action}"
    deepest = max(s.depth_m for s in used)
    return f"Push on to {deepest + settings.step_m:.2f} m, or end here and let a second person check the sheet."
