"""What is written beside two rings: their sizes, how deep they are, and what kept the water up."""

from datetime import datetime
from math import pi
from typing import Literal

from pydantic import Field

from vadum.soil.bench.infiltrating import InfiltrationSettings
from vadum.soil.bench.position import latitude, longitude
from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    answer,
    clock_reading,
    reading,
    services_located,
    setting,
)


class Kept(Choice):
    """How the water that went in is known."""

    LEVELS = "levels", "levels of two supply tubes"
    VOLUMES = "volumes", "volumes poured in"


_QUARTER = pi / 4
_LEVELS, _VOLUMES = {"kept": [Kept.LEVELS]}, {"kept": [Kept.VOLUMES]}


class SupplyRow(Row):
    """What was read at one time."""

    elapsed_min: float | None = reading(
        "after", "min", low=0, high=20000, also=("time", "elapsed", "elapsed time", "minutes", "t"), absent=REQUIRED
    )
    inner_mm: float | None = reading(
        "inner tube",
        "mm",
        about="level on its scale",
        low=-100,
        high=3000,
        resolution=1.0,
        absent=REQUIRED,
        shown=_LEVELS,
    )
    outer_mm: float | None = reading(
        "outer tube",
        "mm",
        about="level on its scale",
        low=-100,
        high=3000,
        resolution=1.0,
        absent=HARMLESS,
        shown=_LEVELS,
    )
    inner_cm3: float | None = reading(
        "into inner",
        "cm³",
        about="since the row above, to bring the level back",
        low=0,
        high=100000,
        resolution=5.0,
        absent=HARMLESS,
        shown=_VOLUMES,
    )
    outer_cm3: float | None = reading(
        "into outer",
        "cm³",
        about="since the row above",
        low=0,
        high=300000,
        resolution=5.0,
        absent=HARMLESS,
        shown=_VOLUMES,
    )
    refilled: Literal["yes", "no"] | None = answer(
        "refilled", "yes: both tubes start anew with this row", shown=_LEVELS
    )


class RingReadings(Readings):
    """Two rings, their water and what it lost."""

    inner_mm: float | None = reading(
        "inner ring",
        "mm",
        about="diameter, inside",
        low=50,
        high=2000,
        resolution=1.0,
        absent=HARMLESS,
        usual=(140, 620),
        piece=True,
    )
    outer_mm: float | None = reading(
        "outer ring",
        "mm",
        about="diameter, inside",
        low=80,
        high=4000,
        resolution=1.0,
        absent="the velocity between the rings is not known",
        usual=(280, 1250),
        piece=True,
    )
    ring_cm2: float | None = reading(
        "inner ring, area", "cm²", about="where it was measured as an area", low=20, high=20000, absent=HARMLESS
    )
    inner_driven_mm: float | None = reading(
        "inner driven in", "mm", low=5, high=500, absent="nobody can say how deep the rings stand", usual=(40, 160)
    )
    outer_driven_mm: float | None = reading("outer driven in", "mm", low=5, high=800, absent=HARMLESS, usual=(40, 260))
    inner_head_mm: float | None = reading(
        "water, inner",
        "mm",
        about="kept above the ground",
        low=5,
        high=600,
        resolution=1.0,
        absent="nobody can say that both heads were equal",
        usual=(20, 200),
    )
    outer_head_mm: float | None = reading(
        "water, outer",
        "mm",
        about="kept above the ground",
        low=5,
        high=600,
        resolution=1.0,
        absent="nobody can say that both heads were equal",
        usual=(20, 200),
    )
    inner_tube_cm2: float | None = reading(
        "inner tube, section", "cm²", low=0.5, high=5000, resolution=0.1, absent=REQUIRED, shown=_LEVELS, piece=True
    )
    outer_tube_cm2: float | None = reading(
        "outer tube, section", "cm²", low=0.5, high=5000, resolution=0.1, absent=HARMLESS, shown=_LEVELS, piece=True
    )
    temperature_c: float | None = reading(
        "water",
        "°C",
        low=0,
        high=45,
        resolution=0.1,
        also=("temperature", "temp"),
        absent="20 °C assumed",
        usual=(4, 32),
    )
    sealed: Literal["yes", "no"] | None = answer(
        "rims sealed",
        "no water beside them",
        absent="nobody can say that no water went beside the rims",
        locks="Seal the rims first: water beside them is measured as if it went through the ground.",
    )
    services_located: Literal["yes", "no"] | None = services_located()
    readings: list[SupplyRow] = Field(default_factory=list, title="readings", max_length=600)
    water_table_m: float | None = reading(
        "water table", "m", about="below ground, where known", low=0, high=50, absent=HARMLESS
    )
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude()
    started_at: datetime | None = clock_reading("begun", "when the first level was read")

    @property
    def inner_area_cm2(self) -> float | None:
        """Area within the inner ring: as measured, else by its diameter."""
        if self.ring_cm2 is not None:
            return self.ring_cm2
        return None if self.inner_mm is None else _QUARTER * self.inner_mm**2 / 100

    @property
    def annular_area_cm2(self) -> float | None:
        """Area between the rings."""
        inner = self.inner_area_cm2
        if inner is None or self.outer_mm is None:
            return None
        between = _QUARTER * self.outer_mm**2 / 100 - inner
        return between if between > 0 else None


class RingSettings(InfiltrationSettings):
    """How the water is known, and when it is steady."""

    kept: Kept = setting(Kept.LEVELS, "water that went in", "By the scale of a supply tube each, or poured by hand.")
    steady_rates: int = setting(4, "of the last", "Three to five velocities that agree.", low=3, high=10)
    within_percent: float = setting(
        10.0, "steady within", "Of the last velocities, which must not go one way either.", unit="%", low=1, high=50
    )
    least_hours: float = setting(
        3.0,
        "read for",
        "At least so long; six hours by the standard, less where it is steady.",
        unit="h",
        low=0.5,
        high=48,
    )


class RingContext(Context):
    """Nothing of other tests."""
