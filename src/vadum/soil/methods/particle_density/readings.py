"""What is written beside a pycnometer."""

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    Settings,
    answer,
    reading,
    remark,
    setting,
)
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.water import REFERENCE_C


class Minerals(Choice):
    """What in the soil makes its grains lighter or heavier than quartz and clay."""

    USUAL = "usual"
    HEAVY = "heavy", "heavy: ores, iron oxides, slag"
    LIGHT = "light", "light: organic, gypsum, ash, shell"


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
        piece=True,
    )
    volume_cm3: float | None = reading(
        "volume",
        "cm³",
        about="of the flask at 20 °C by its calibration, or the register's; then no filling with water alone",
        low=5,
        high=3000,
        resolution=0.001,
        absent=HARMLESS,
        piece=True,
    )
    mass_water_g: float | None = reading(
        "water",
        "g",
        about="flask filled with water",
        low=0,
        high=9000,
        resolution=0.01,
        absent=REQUIRED,
        instead="volume_cm3",
    )
    temperature_water_c: float | None = reading(
        "water at",
        "°C",
        about="temperature of that water",
        low=0,
        high=45,
        resolution=0.1,
        absent=REQUIRED,
        instead="volume_cm3",
        usual=(10, 35),
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
        "soil at",
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
        about="oven-dry mass of that soil; from the dish when blank",
        low=0,
        high=2000,
        resolution=0.01,
        also=("dry soil", "soil dry"),
        absent=REQUIRED,
        instead="mass_dish_dry_g",
        usual=(5, 500),
    )
    mass_dish_g: float | None = reading(
        "dish", "g", about="empty", low=0, high=5000, resolution=0.01, absent=REQUIRED, beside="mass_dish_dry_g"
    )
    mass_dish_dry_g: float | None = reading(
        "dish + dry",
        "g",
        about="dish with the soil washed out of the flask and dried",
        low=0,
        high=7000,
        resolution=0.01,
        hand="row",
        absent=HARMLESS,
    )

    @property
    def dry_g(self) -> float | None:
        """Return the dry mass as weighed alone, else in its dish."""
        if self.mass_dry_g is not None or self.mass_dish_g is None or self.mass_dish_dry_g is None:
            return self.mass_dry_g
        return round(self.mass_dish_dry_g - self.mass_dish_g, 6)

    @property
    def filled(self) -> tuple[float, float] | None:
        """Return the mass of the flask with water and the water's temperature, by weighing or by its volume."""
        if self.mass_water_g is not None and self.temperature_water_c is not None:
            return self.mass_water_g, self.temperature_water_c
        if self.mass_water_g is not None or self.volume_cm3 is None or self.mass_empty_g is None:
            return None
        return self.mass_empty_g + self.volume_cm3 * WATER, REFERENCE_C


class ParticleDensityReadings(Readings):
    """Determinations, at least two."""

    determinations: list[Determination] = Field(default_factory=list, title="pycnometers", max_length=12)
    minerals: Minerals | None = answer("minerals", "what is known to make the grains unusual; asked when Gs is")


class ParticleDensitySettings(Settings):
    """How close two determinations must be."""

    spread: float = setting(
        0.03, "largest spread", "Two determinations further apart ask for a third.", low=0.005, high=0.2
    )
    least_mass_g: float = setting(
        10.0, "least dry mass", "Less soil and the balance shows in the result.", unit="g", low=1, high=200
    )


class ParticleDensityContext(Context):
    """Flasks of the register."""

    flasks: dict[str, dict[str, float]] = Field(
        default_factory=dict, description="empty mass in g and volume in cm3 of each registered flask, by number"
    )


def with_flasks(readings: ParticleDensityReadings, flasks: dict[str, dict[str, float]]) -> ParticleDensityReadings:
    """Return the readings with what the register knows of each flask in the blanks of its row.

    A flask that was filled with water alone for this test is not calibrated once more: its volume stays out.
    """
    rows = []
    for row in readings.determinations:
        known = flasks.get(row.pycnometer or "", {})
        blank = {name: value for name, value in known.items() if getattr(row, name, 0.0) is None}
        if row.mass_water_g is not None:
            blank.pop("volume_cm3", None)
        rows.append(row.model_copy(update=blank) if blank else row)
    return readings.model_copy(update={"determinations": rows})
