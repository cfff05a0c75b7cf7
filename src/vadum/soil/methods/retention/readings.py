"""What is weighed of a ring of soil while suction takes its water."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.particle import assumed_setting, particle_density_reading
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
from vadum.soil.physics.retention import Curve, Device

PLAN_KPA = (1.0, 3.0, 6.0, 10.0, 20.0, 33.0, 60.0, 100.0)


class WeighingRow(Row):
    """One weighing of the whole apparatus."""

    suction: float | None = reading(
        "suction",
        "",
        about="as the device shows it: cm of column, or bar; as above when left blank",
        low=0,
        high=20000,
        absent=HARMLESS,
    )
    day: float | None = reading(
        "day", "", about="days since the soil was saturated", low=0, high=400, absent="the drift cannot be judged"
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
        "apparatus", "g", about="without ring and soil", low=0, high=50000, resolution=0.01, absent=REQUIRED, piece=True
    )
    mass_ring_g: float | None = reading("ring", "g", low=0, high=5000, resolution=0.01, absent=REQUIRED, piece=True)
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
        about="oven-dry, at the end",
        low=0,
        high=20000,
        resolution=0.01,
        also=("dry soil", "soil dry"),
        absent=REQUIRED,
    )
    particle_density: float | None = particle_density_reading()


class RetentionSettings(Settings):
    """Device, when a step is over, what is drawn from the curve."""

    device: Device = setting(Device.GAUGE, "suction is read", "A column of water or mercury in cm, or a gauge in bar.")
    stable_g_day: float = setting(
        0.1, "stable below", "A step is over when the mass changes by less in a day.", unit="g/d", low=0.005, high=2
    )
    model: Curve = setting(
        Curve.VAN_GENUCHTEN, "reported curve", "Both are fitted and shown; Akaike's value says which fits better."
    )
    assumed_particle_density: float = assumed_setting(2.65)


class RetentionContext(Context):
    """Particle density."""

    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
