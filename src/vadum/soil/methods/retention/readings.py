"""What is weighed of a ring of soil while suction takes its water."""

from typing import Literal

from pydantic import Field, field_validator

from vadum.soil.bench.particle import assumed_setting, particle_density_reading
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
    setting,
)
from vadum.soil.numbers.listed import listed
from vadum.soil.physics.retention import Curve, Device

PLAN_KPA = (1.0, 3.0, 6.0, 10.0, 20.0, 33.0, 60.0, 100.0)
_MOST_KPA = 20000.0


def _suctions_of(text: str) -> tuple[float, ...]:
    return listed(text, _MOST_KPA, what="suction in kPa", such="1 3 6 10 33 100")


class Tare(Choice):
    """What the mass of the apparatus was weighed with."""

    WITHOUT = "without", "without the ring"
    WITH = "with", "with the ring"


class WeighingRow(Row):
    """One weighing of the whole apparatus."""

    suction: float | None = reading(
        "suction",
        "",
        about="as the device shows it, in the unit beside it; as above when left blank",
        low=0,
        high=_MOST_KPA,
        absent=HARMLESS,
    )
    device: Device | None = answer("in", "where the device was changed; blank as in the row above")
    day: float | None = reading(
        "day",
        "d",
        about="days since the soil was saturated",
        low=0,
        high=400,
        since="weigh-wet",
        absent="the drift cannot be judged",
    )
    mass_g: float | None = reading("mass", "g", low=0, high=60000, resolution=0.01, hand="row", absent=REQUIRED)


class RetentionReadings(Readings):
    """Ring, apparatus, weighings, and the dry soil at the end."""

    volume_cm3: float | None = reading(
        "volume of ring",
        "cm³",
        low=10,
        high=5000,
        resolution=0.01,
        also=("volume", "volume change"),
        absent=REQUIRED,
        usual=(40, 500),
        piece=True,
    )
    mass_apparatus_g: float | None = reading(
        "apparatus", "g", about="without soil", low=0, high=50000, resolution=0.01, absent=REQUIRED, piece=True
    )
    mass_ring_g: float | None = reading(
        "ring", "g", low=0, high=5000, resolution=0.01, shown={"tare": [Tare.WITHOUT]}, absent=REQUIRED, piece=True
    )
    rated_kpa: float | None = reading(
        "plate rated to",
        "kPa",
        about="where the plate lets air through, or the cell is not to be loaded further",
        low=1,
        high=_MOST_KPA,
        absent=HARMLESS,
        piece=True,
    )
    saturated_twice: Literal["yes", "no"] | None = answer(
        "saturated twice 24 h", "in 0.01 M calcium chloride", absent="nobody can say that the pores were full"
    )
    plate_saturated: Literal["yes", "no"] | None = answer(
        "plate saturated", "", absent="nobody can say that the plate was full"
    )
    weighings: list[WeighingRow] = Field(default_factory=list, title="weighings", max_length=200)
    mass_dry_g: float | None = reading(
        "dry soil",
        "g",
        about="oven-dry, at the end; with its can where the can's mass is given",
        low=0,
        high=20000,
        resolution=0.01,
        also=("dry soil", "soil dry"),
        absent=REQUIRED,
    )
    mass_can_g: float | None = reading(
        "can",
        "g",
        about="that the dry soil was weighed in, with the ring if it was in it; blank where the dry soil is net",
        low=0,
        high=10000,
        resolution=0.01,
        absent=HARMLESS,
    )
    particle_density: float | None = particle_density_reading()


class RetentionSettings(Settings):
    """Device, when a step is over, what is drawn from the curve."""

    device: Device = setting(
        Device.GAUGE, "suction is read in", "Where its row does not say otherwise; the device may change on the way."
    )
    plan_kpa: str = setting(
        "", "steps", "Suctions in kPa, such as 1 3 6 10 20 33 60 100, which are taken where it is blank."
    )
    tare: Tare = setting(Tare.WITHOUT, "apparatus weighed", "With its ring in it, or the ring by itself.")
    field_capacity_kpa: float = setting(
        33.0, "field capacity at", "33 kPa; 10 or 6 kPa for sand and in other schools.", unit="kPa", low=1, high=100
    )
    stable_g_day: float = setting(
        0.1, "stable below", "A step is over when the mass changes by less in a day.", unit="g/d", low=0.005, high=2
    )
    model: Curve = setting(
        Curve.VAN_GENUCHTEN, "reported curve", "Both are fitted and shown; Akaike's value says which fits better."
    )
    assumed_particle_density: float = assumed_setting(2.65)

    @field_validator("plan_kpa")
    @classmethod
    def _suctions(cls, value: str) -> str:
        _suctions_of(value)
        return value

    @property
    def plan(self) -> tuple[float, ...]:
        """Return the suctions planned, in kPa."""
        return _suctions_of(self.plan_kpa) or PLAN_KPA


class RetentionContext(Context):
    """Particle density."""

    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
