"""What is written beside the cell: the specimen, and each measurement of water through it."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.water_at import water_temperature
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
    shown_only,
)


class Head(Choice):
    """How the water is driven."""

    CONSTANT = "constant", "constant head"
    FALLING = "falling", "falling head"


_CONSTANT, _FALLING = {"head": [Head.CONSTANT]}, {"head": [Head.FALLING]}


class FlowRow(Row):
    """Water that came through under one head."""

    head_mm: float | None = reading(
        "head", "mm", about="difference of the two tubes", low=0.5, high=5000, resolution=0.5, absent=REQUIRED
    )
    volume_cm3: float | None = reading(
        "water", "cm³", low=0.1, high=100000, resolution=1.0, also=("volume",), absent=REQUIRED
    )
    seconds: float | None = reading(
        "in", "s", low=1, high=1000000, resolution=0.5, by="stopwatch", also=("time", "t"), absent=REQUIRED
    )
    temperature_c: float | None = water_temperature(absent=REQUIRED)


class FallRow(Row):
    """The water of the tube from one mark to another."""

    from_mm: float | None = reading(
        "from", "mm", about="above the outflow", low=1, high=5000, resolution=1.0, also=("h1",), absent=REQUIRED
    )
    to_mm: float | None = reading("to", "mm", low=0.5, high=5000, resolution=1.0, also=("h2",), absent=REQUIRED)
    seconds: float | None = reading(
        "in", "s", low=1, high=1000000, resolution=0.5, by="stopwatch", also=("time", "t"), absent=REQUIRED
    )
    temperature_c: float | None = water_temperature(absent=REQUIRED)


class PermeabilityReadings(Readings):
    """One specimen and what went through it."""

    diameter_mm: float | None = reading(
        "diameter", "mm", low=20, high=500, resolution=0.1, absent=REQUIRED, usual=(38, 320), piece=True
    )
    length_mm: float | None = reading(
        "length", "mm", about="of the specimen", low=10, high=1000, resolution=0.1, absent=REQUIRED, usual=(20, 500)
    )
    taps_mm: float | None = reading(
        "between the tubes",
        "mm",
        about="along the specimen, where the two heads are read",
        low=10,
        high=1000,
        resolution=0.5,
        absent=REQUIRED,
        usual=(40, 300),
        shown=_CONSTANT,
        piece=True,
    )
    tube_mm: float | None = reading(
        "tube, inside",
        "mm",
        about="diameter of the tube whose water falls",
        low=1,
        high=100,
        resolution=0.01,
        absent=REQUIRED,
        usual=(2, 40),
        shown=_FALLING,
        piece=True,
    )
    mass_dry_g: float | None = reading(
        "dry mass", "g", about="of the specimen, before or after", low=10, high=100000, resolution=0.1, absent=REQUIRED
    )
    largest_mm: float | None = reading("largest grain", "mm", low=0.01, high=200, absent=HARMLESS)
    saturated: Literal["yes", "no"] | None = answer(
        "air driven out", "by vacuum, carbon dioxide or back pressure", absent="nobody can say that no air was in it"
    )
    deaired: Literal["yes", "no"] | None = answer(
        "water without air", "boiled or drawn under vacuum", absent="nobody can say that the water brought no air"
    )
    flows: list[FlowRow] = Field(
        default_factory=list, title="flows", max_length=60, json_schema_extra=shown_only(_CONSTANT)
    )
    falls: list[FallRow] = Field(
        default_factory=list, title="falls", max_length=60, json_schema_extra=shown_only(_FALLING)
    )


class PermeabilitySettings(Settings):
    """Constant or falling head, and what counts as steady."""

    head: Head = setting(Head.CONSTANT, "head", "Constant for sand and gravel, falling for silt and clay.")
    needed: int = setting(4, "measurements", "As many agree at the end, one way of time or another.", low=2, high=12)
    within_percent: float = setting(
        10.0, "agree within", "Of their mean, and without a trend in time.", unit="%", low=1, high=50
    )
    reference_c: float = setting(
        20.0, "water of", "To which k is taken; 10 by some codes.", unit="°C", low=5, high=30, followed=(20, 20)
    )


class PermeabilityContext(Context):
    """Density of particles and the densest state of the same sample."""

    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
    maximum_dry_density: Leant | None = leant("compaction.maximum_dry_density", "g/cm3")
