"""What is written beside a pycnometer."""

from pydantic import Field

from vadum.soil.contract.field import REQUIRED, Context, Readings, Row, Settings, reading, remark, setting


class Determination(Row):
    """One pycnometer: its calibration with water, then soil and water."""

    pycnometer: str | None = remark("no.", "number on the flask", longest=40, also=("flask", "flask no"))
    mass_empty_g: float | None = reading(
        "empty",
        "g",
        about="dry flask with stopper",
        low=0,
        high=5000,
        resolution=0.01,
        absent=REQUIRED,
        usual=(10, 1500),
    )
    mass_water_g: float | None = reading(
        "water", "g", about="flask filled with water", low=0, high=9000, resolution=0.01, absent=REQUIRED
    )
    temperature_water_c: float | None = reading(
        "at", "°C", about="temperature of that water", low=0, high=45, resolution=0.1, absent=REQUIRED, usual=(10, 35)
    )
    mass_soil_water_g: float | None = reading(
        "soil + water",
        "g",
        about="flask with soil, air removed, filled with water",
        low=0,
        high=9000,
        resolution=0.01,
        absent=REQUIRED,
    )
    temperature_c: float | None = reading(
        "at",
        "°C",
        about="temperature with the soil",
        low=0,
        high=45,
        resolution=0.1,
        also=("temperature", "temp"),
        absent=REQUIRED,
        usual=(10, 35),
    )
    mass_dry_g: float | None = reading(
        "dry soil",
        "g",
        about="oven-dry mass of that soil",
        low=0,
        high=2000,
        resolution=0.01,
        hand="row",
        also=("dry soil", "soil dry"),
        absent=REQUIRED,
        usual=(5, 500),
    )


class ParticleDensityReadings(Readings):
    """Determinations, at least two."""

    determinations: list[Determination] = Field(default_factory=list, title="pycnometers", max_length=12)


class ParticleDensitySettings(Settings):
    """How close two determinations must be."""

    spread: float = setting(
        0.03, "largest spread", "Two determinations further apart ask for a third.", low=0.005, high=0.2
    )
    least_mass_g: float = setting(
        10.0, "least dry mass", "Less soil and the balance shows in the result.", unit="g", low=1, high=200
    )


class ParticleDensityContext(Context):
    """Nothing is leant on."""
