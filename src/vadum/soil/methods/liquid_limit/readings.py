"""What is written at the cup or the cone, and the schools."""

from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from vadum.soil.bench.constant_mass import Reweighing, TinsDried, tins_dried, weighed_again
from vadum.soil.bench.weighing import TinRow
from vadum.soil.choice import Choice
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Readings, answer, reading, setting


class School(Choice):
    """How the liquid limit is found."""

    MULTIPOINT = "multipoint", "multipoint, percussion cup"
    ONE_POINT = "one-point", "one-point, percussion cup"
    REPLICATED = "replicated", "replicated one-point, percussion cup"
    FALL_CONE = "fall-cone", "fall cone, 80 g / 30°"
    FALL_CONE_60 = "fall-cone-60", "fall cone, 60 g / 60°"


class NotDeterminable(Choice):
    """Why there is no liquid limit."""

    SLIDES = "slides", "slides in the cup"
    CLOSES_EARLY = "closes-early", "closes below 25 blows however dry"


class Window(Choice):
    """Blows at which one point is enough."""

    NARROW = "22-28"
    WIDE = "20-30"
    WHOLE = "15-35"


class Specimens(Choice):
    """Water contents that one point needs."""

    TWO = "two"
    ONE = "one"


class State(Choice):
    """What was done to the soil before it was mixed."""

    NATURAL = "natural", "natural, never dried"
    AIR_DRIED = "air-dried"
    OVEN_DRIED = "oven-dried", "oven-dried at 110 °C"


class Prepared(Choice):
    """How the part below 0.425 mm was won."""

    WET = "wet", "wet, washed through or picked"
    DRY = "dry", "dry, crushed and sieved"


@dataclass(frozen=True)
class Cone:
    """A cone: the penetration at the liquid limit and the range of the trials, in mm."""

    at_limit_mm: float
    least_mm: float
    most_mm: float


# ISO 17892-12 (2018), clause 5.3; BS 1377-2 (1990), clause 4.3 for the first.
CONES = {School.FALL_CONE: Cone(20.0, 15.0, 25.0), School.FALL_CONE_60: Cone(10.0, 7.0, 15.0)}


class Seasoning(Choice):
    """How long the paste stands before the trials."""

    HALF_HOUR = "half-hour", "30 min"
    HOURS_16 = "16-h", "16 h"
    OVERNIGHT = "overnight"


CUP = [School.MULTIPOINT, School.ONE_POINT, School.REPLICATED]


class Trial(TinRow):
    """One trial: a count (or a penetration) and the tin taken from the closed groove."""

    blows: int | None = reading(
        "blows",
        "blows",
        about="drops until the groove closed over 13 mm",
        low=1,
        high=500,
        resolution=1,
        expected=(15, 35),
        shown={"school": CUP},
        absent=REQUIRED,
    )
    blows_repeat: int | None = reading(
        "again",
        "blows",
        about="second closure without adding water",
        low=1,
        high=500,
        resolution=1,
        expected=(22, 28),
        shown={"school": [School.ONE_POINT]},
        absent=HARMLESS,
    )
    closure_mm: float | None = reading(
        "closed",
        "mm",
        about="length over which the groove closed",
        low=0,
        high=60,
        resolution=1,
        expected=(12, 15),
        shown={"school": CUP},
        absent=HARMLESS,
    )
    penetration_mm: float | None = reading(
        "cone",
        "mm",
        about="cone penetration after 5 s",
        low=0.1,
        high=60,
        resolution=0.1,
        shown={"school": list(CONES)},
        also=("penetration",),
        absent=REQUIRED,
    )
    penetration_repeat_mm: float | None = reading(
        "again",
        "mm",
        about="second penetration of the same mix",
        low=0.1,
        high=60,
        resolution=0.1,
        shown={"school": list(CONES)},
        absent=HARMLESS,
    )

    @property
    def attempted(self) -> bool:
        """A count without a tin: made to find the consistency."""
        return self.tin is None and self.mass_tin_wet_g is None and self.mass_tin_dry_g is None

    @property
    def penetration(self) -> float | None:
        """Return the mean penetration in mm of the drops made."""
        made = [p for p in (self.penetration_mm, self.penetration_repeat_mm) if p is not None]
        return sum(made) / len(made) if made else None


class LiquidLimitReadings(Readings):
    """Trials in the order they were made, and how the soil was prepared."""

    trials: list[Trial] = Field(default_factory=list, title="trials", max_length=24)
    reweighings: list[Reweighing] = weighed_again()
    state: State | None = answer(
        "state of the soil", "before it was mixed; organic soil is tested once natural and once oven-dried"
    )
    prepared: Prepared | None = answer("prepared", "how the part below 0.425 mm was won")
    retained_0_425_mm_percent: float | None = reading(
        "retained on 0.425 mm", "%", about="of the dry sample, taken out before mixing", low=0, high=99, absent=HARMLESS
    )
    mass_prepared_g: float | None = reading(
        "soil prepared",
        "g",
        about="moist mass passing 0.425 mm that was mixed",
        low=0,
        high=5000,
        expected=(150, 300),
        absent=HARMLESS,
    )
    seasoning_min: float | None = reading(
        "seasoned", "min", about="time the mix stood covered before the first trial", low=0, high=40000, absent=HARMLESS
    )
    rate_drops_per_s: float | None = reading(
        "crank rate",
        "drops/s",
        about="drops per second of the cup",
        low=0.1,
        high=10,
        expected=(1.9, 2.1),
        shown={"school": CUP},
        absent=HARMLESS,
    )
    not_determinable: NotDeterminable | None = Field(
        default=None, title="cannot be determined because", description="then the soil is reported as non-plastic"
    )


class LiquidLimitSettings(HandSettings):
    """School and limits."""

    school: School = setting(
        School.MULTIPOINT,
        "school",
        "Multipoint is the default: the flow curve shows a bad trial, a single point cannot.",
    )
    coverage: Literal["three", "four"] = setting(
        "three",
        "blow ranges to cover",
        "three: one trial each in 25-35, 20-30, 15-25 (D4318). four: 15-20, 20-25, 25-30, 30-35 (stricter school).",
    )
    one_point_window: Window = setting(
        Window.NARROW,
        "one-point window",
        "22-28 blows keeps the one-point factor within 1.5 % (T 89); 20-30 is D4318's; 15-35 is nobody's standard.",
    )
    one_point_specimens: Specimens = setting(
        Specimens.ONE,
        "one-point specimens",
        "One at 22-28 blows is T 89 method B; D4318 method B takes two, agreeing within one percent of water.",
    )
    one_point_exponent: float = setting(
        0.121,
        "one-point exponent",
        "0.121 is behind the published factors; regional studies differ.",
        low=0.05,
        high=0.25,
    )
    seasoning: Seasoning = setting(
        Seasoning.HOURS_16,
        "seasoning",
        "16 h is the reference time; 30 min is the referee minimum, fat clay stands overnight.",
    )
    off_line_percent: float = setting(
        4.0,
        "largest distance from the line",
        "A trial further off than this share of the liquid limit is queried.",
        unit="% of LL",
        low=0.1,
        high=20,
    )
    least_r_squared: float = setting(0.95, "least r squared", "Below this the trials scatter too much.", low=0, high=1)
    replicate_spread_percent: float = setting(
        2.0, "largest spread of replicates", "Replicates further apart ask for another.", unit="%", low=0.1, high=10
    )
    tins_dried: TinsDried = tins_dried()
    hand_line_dry_percent: float | None = setting(
        None,
        "line by hand, w at 35 blows",
        "Dragged on the figure; empty means least squares.",
        unit="%",
        low=0,
        high=1000,
    )
    hand_line_wet_percent: float | None = setting(
        None,
        "line by hand, w at 15 blows",
        "Dragged on the figure; empty means least squares.",
        unit="%",
        low=0,
        high=1000,
    )

    @property
    def cone(self) -> Cone | None:
        """Return the cone of the school, None for the cup."""
        return CONES.get(self.school)

    @property
    def accepted(self) -> tuple[float, float]:
        """Return the blows or penetrations in which a trial counts."""
        return (self.cone.least_mm, self.cone.most_mm) if self.cone else self.window

    @property
    def window(self) -> tuple[int, int]:
        """Return the accepted blow counts of the school."""
        if self.school == School.ONE_POINT:
            low, high = self.one_point_window.split("-")
            return int(low), int(high)
        return 15, 35

    @property
    def bands(self) -> tuple[tuple[int, int], ...]:
        """Return the blow ranges that must each hold a trial, dry side first."""
        if self.coverage == "four":
            return (30, 35), (25, 30), (20, 25), (15, 20)
        return (25, 35), (20, 30), (15, 25)


class LiquidLimitContext(Context):
    """The tins' register and the state of the cup."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    cup: str | None = Field(default=None, description="name of the cup in use")
    cup_inspection: Literal["fit", "adjust", "replace", "missing", "overdue"] | None = Field(
        default=None, description="state of the cup's inspection on the day; leave out when it is not known here"
    )
