"""What is written at the hole: one line per depth."""

from typing import Any, Literal

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Leant,
    Readings,
    Row,
    Settings,
    answer,
    leant,
    reading,
    services_located,
    setting,
    shown_only,
)
from vadum.soil.physics.strength_classes import SensitivityWords, StrengthWords


class Instrument(Choice):
    """What the torque is read on."""

    BALANCE = "spring-balance", "spring balance"
    HEAD = "torque-head", "torque head"


class Vanes(Choice):
    """Whether one vane serves the whole profile."""

    ONE = "one", "one vane"
    SEVERAL = "several", "several vanes"


class Correction(Choice):
    """Whether the measured strength is corrected."""

    NONE = "none"
    BY_PLASTICITY = "by-plasticity", "by plasticity, Bjerrum (1972)", "by plasticity"
    BY_FAILURES = "morris-williams", "by plasticity, Morris and Williams (1994)"


class Plasticity(Choice):
    """Whether one PI corrects the whole profile."""

    ONE = "one", "one for the profile"
    EACH = "each", "by depth"


Soil = Literal["clay", "silt", "peat", "sand", "gravel"]
STEP_M = 0.2
FULL_TURNS = 10
MOST_VANES = 9
_SEVERAL = {"vanes": [Vanes.SEVERAL]}


class Depth(Row):
    """The vane at one depth."""

    depth_m: float | None = reading(
        "depth",
        "m",
        about="of the vane's middle below ground",
        low=0,
        high=60,
        resolution=0.01,
        absent=REQUIRED,
        step="step_m",
    )
    vane: int | None = reading(
        "vane",
        "",
        about="number of the vane, where it was changed; blank as in the row above",
        low=1,
        high=MOST_VANES,
        shown=_SEVERAL,
        absent=HARMLESS,
    )
    peak: float | None = reading(
        "peak", "", about="largest reading: division or N m", low=0, high=5000, resolution=0.5, absent=REQUIRED
    )
    remoulded: float | None = reading(
        "remoulded", "", about="after ten full turns", low=0, high=5000, resolution=0.5, absent=REQUIRED
    )
    friction: float | None = reading(
        "rods",
        "",
        about="reading with the vane not turning: slip coupling, or rods alone",
        low=0,
        high=1000,
        resolution=0.5,
        hand="row",
        absent="no friction of the rods taken off",
    )
    seconds_to_peak: float | None = reading(
        "to peak",
        "s",
        about="about two minutes at 6 to 12 degrees a minute",
        low=1,
        high=3600,
        by="stopwatch",
        absent=HARMLESS,
    )
    plasticity_index: float | None = reading(
        "PI",
        "",
        about="of this depth; blank as in the row above",
        low=0,
        high=500,
        usual=(7, 65),
        shown={"plasticity": [Plasticity.EACH]},
        absent=HARMLESS,
    )
    turns: float | None = reading(
        "turns",
        "",
        about="full turns before the remoulded reading",
        low=0,
        high=100,
        by="count",
        count_to=FULL_TURNS,
        absent=HARMLESS,
    )


def _taper(end: Literal["top", "bottom"], hand: Literal["row"] | None = None) -> Any:
    return reading(
        f"taper, {end}",
        "°",
        about=f"of the blades' {end} from the horizontal; blank for a rectangular vane",
        low=0,
        high=70,
        shown={"instrument": [Instrument.HEAD]},
        hand=hand,
        absent=HARMLESS,
    )


class OtherVane(Row):
    """A vane that was changed to; the first vane stands above, its balance or torque head stays."""

    vane: int | None = reading(
        "no.", "", about="2 is the vane changed to first", low=2, high=MOST_VANES, absent=REQUIRED
    )
    constant: float | None = reading(
        "constant",
        "",
        about="readings per kPa, from the calibration",
        low=0.001,
        high=1000,
        usual=(0.05, 50),
        shown={"instrument": [Instrument.BALANCE]},
        absent=REQUIRED,
    )
    diameter_mm: float | None = reading("diameter", "mm", low=10, high=200, absent=HARMLESS)
    height_mm: float | None = reading("height", "mm", low=10, high=400, absent=HARMLESS)
    taper_top_deg: float | None = _taper("top")
    taper_bottom_deg: float | None = _taper("bottom", hand="row")


class VaneReadings(Readings):
    """The vane, its constant or size, and the profile."""

    constant: float | None = reading(
        "constant of vane",
        "",
        about="readings per kPa, from the calibration",
        low=0.001,
        high=1000,
        absent=HARMLESS,
        usual=(0.05, 50),
        piece=True,
    )
    full_scale: float | None = reading(
        "full scale",
        "",
        about="largest reading of the balance or torque head",
        low=0.1,
        high=10000,
        absent=HARMLESS,
        piece=True,
    )
    diameter_mm: float | None = reading("vane diameter", "mm", low=10, high=200, absent=HARMLESS, piece=True)
    height_mm: float | None = reading("vane height", "mm", low=10, high=400, absent=HARMLESS, piece=True)
    taper_top_deg: float | None = _taper("top")
    taper_bottom_deg: float | None = _taper("bottom")
    profile: list[Depth] = Field(default_factory=list, title="depths", max_length=200)
    others: list[OtherVane] = Field(
        default_factory=list,
        title="vanes changed to",
        max_length=MOST_VANES - 1,
        json_schema_extra=shown_only(_SEVERAL),
    )
    soil: Soil | None = answer(
        "ground",
        "as it comes up: sand and gravel make the strength void",
        absent="nobody can say that the strength is undrained",
    )
    pin_drawn: Literal["yes", "no"] | None = answer(
        "pin drawn before driving",
        "a pin left in shears while the vane is driven",
        absent="nobody can say that the pin was drawn",
        locks="Draw the pin before driving: left in it shears off.",
    )
    services_located: Literal["yes", "no"] | None = services_located()
    plasticity_index: float | None = reading(
        "PI",
        "",
        about="for the correction; from the sample's own test elsewhere",
        low=0,
        high=500,
        absent="the strength is printed as measured",
        usual=(7, 65),
    )


class VaneSettings(Settings):
    """Instrument, step, corrections."""

    instrument: Instrument = setting(
        Instrument.BALANCE,
        "instrument",
        "A balance with a constant per vane, or a head that reads N m with the vane's size.",
    )
    vanes: Vanes = setting(
        Vanes.ONE, "vanes", "Several when the vane was changed on the way down: each depth says which."
    )
    step_m: float = setting(
        STEP_M, "depth step", "Every 0.2 m; 0.5 m where the profile is even.", unit="m", low=0.05, high=2
    )
    correction: Correction = setting(
        Correction.BY_PLASTICITY,
        "correction",
        "A factor by PI, where it is known: Bjerrum's or Morris and Williams's; printed beside the measured strength.",
    )
    plasticity: Plasticity = setting(
        Plasticity.ONE, "PI", "One of the sample's own test or typed; or by depth where the clay changes on the way."
    )
    fissured: bool = setting(
        False, "fissured clay", "A third of the measured strength; give the reason in the remarks of the report."
    )
    strength_words: StrengthWords = setting(
        StrengthWords.ISO, "words of strength", "The same two tables as for compression; the sheet names the school."
    )
    sensitivity_words: SensitivityWords = setting(
        SensitivityWords.SKEMPTON, "words of sensitivity", "Two schools; the sheet names the one chosen."
    )
    jump: float = setting(
        2.5,
        "jump beyond",
        "A strength this many times its neighbours' is queried: a stone or a shell?",
        low=1.2,
        high=10,
    )


class VaneContext(Context):
    """The soil's plasticity; the register's constants of a vane are constant, full_scale, diameter_mm, height_mm."""

    plasticity_index: Leant | None = leant("plastic-limit.plasticity_index", "plain number, percent")
