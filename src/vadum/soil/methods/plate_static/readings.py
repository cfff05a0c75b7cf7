"""What is written at the plate: stages with pressure and gauge, and how the set-up stood."""

from datetime import datetime
from typing import Literal

from pydantic import Field

from vadum.soil.bench.plate_load import LoadAs, force_reading, piston_reading, pump_reading
from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Readings,
    Row,
    Settings,
    clock_reading,
    reading,
    services_located,
    setting,
)
from vadum.soil.physics.plate import LAST_STAGE


class Plate(Choice):
    """The plate, by its diameter."""

    D300 = "300", "300 mm"
    D600 = "600", "600 mm"
    D762 = "762", "762 mm"


class Bedding(Choice):
    """What the plate is bedded on."""

    NONE = "none"
    SAND = "sand"
    GYPSUM_SET = "gypsum-set", "gypsum, set"
    GYPSUM_SOFT = "gypsum-not-set", "gypsum, not set"


class Wanted(Choice):
    """What the plate is loaded for."""

    MODULI = "moduli", "Ev1, Ev2 and their ratio"
    SUBGRADE = "ks", "ks alone, loaded once"


class Gauges(Choice):
    """Dial gauges on the plate."""

    ONE = "one"
    TWO = "two", "two, their mean"
    THREE = "three", "three, their mean"


class Runs(Choice):
    """Which way a gauge counts while the plate goes down."""

    UP = "up"
    DOWN = "down"


class MeBand(Choice):
    """The stretch of pressure over which ME is read, by the layer tested."""

    NONE = "none"
    SUBGRADE = "50-150", "50 to 150 kPa, subgrade"
    BASE = "150-250", "150 to 250 kPa, foundation layer"
    SURFACE = "250-350", "250 to 350 kPa, below the surfacing"

    @property
    def kpa(self) -> tuple[float, float] | None:
        """Both ends of the stretch, None where ME is not wanted."""
        low, _, high = self.value.partition("-")
        return (float(low), float(high)) if high else None


_SECOND, _THIRD = {"gauges": [Gauges.TWO, Gauges.THREE]}, {"gauges": [Gauges.THREE]}
_SUBGRADE = {"wanted": [Wanted.SUBGRADE]}

# Shares of the last stage in first loading; unloading; the reloading ends at the last but one.
_LOADING = (0.16, 0.32, 0.48, 0.64, 0.80, 0.90, 1.0)
UNLOADING = (0.5, 0.25, 0.02)
PRELOAD_KPA, PRELOAD_S = 10.0, 30.0


class Stage(Row):
    """One stage: planned, applied, read at the end of its hold."""

    planned_kpa: float | None = reading("planned", "kPa", low=0, high=2000, absent=HARMLESS)
    pressure_kpa: float | None = reading(
        "applied",
        "kPa",
        about="pressure below the plate; as planned when left blank",
        low=0,
        high=2000,
        also=("pressure", "stress"),
        absent=HARMLESS,
        instead="force_kn",
    )
    force_kn: float | None = force_reading()
    pump_bar: float | None = pump_reading()
    gauge_mm: float | None = reading(
        "gauge",
        "mm",
        about="after the hold; zeroed after the preload",
        low=-5,
        high=3000,
        resolution=0.01,
        hand="down",
        instrument="dial gauge",
        also=("gauge", "settlement", "dial", "gauge 1"),
        absent=REQUIRED,
    )
    gauge_2_mm: float | None = reading(
        "gauge 2", "mm", low=-5, high=3000, resolution=0.01, hand="down", shown=_SECOND, absent=REQUIRED
    )
    gauge_3_mm: float | None = reading(
        "gauge 3", "mm", low=-5, high=3000, resolution=0.01, hand="down", shown=_THIRD, absent=REQUIRED
    )
    last_minute_mm: float | None = reading(
        "last minute",
        "mm",
        about="settlement during the last minute of the hold",
        low=-1,
        high=50,
        resolution=0.01,
        shown=_SUBGRADE,
        absent="whether the plate had come to rest is not on record",
    )
    hold_s: float | None = reading("held", "s", about="blank when held as set", low=0, high=36000, absent=HARMLESS)

    @property
    def pressure(self) -> float | None:
        return self.pressure_kpa if self.pressure_kpa is not None else self.planned_kpa


class PlateStaticReadings(Readings):
    """Lever, preload, stages, and what can spoil them."""

    lever_plate_mm: float | None = reading(
        "pivot to plate", "mm", about="h_P of a measuring beam", low=10, high=5000, absent=REQUIRED, piece=True
    )
    lever_gauge_mm: float | None = reading(
        "pivot to gauge", "mm", about="h_M of a measuring beam", low=10, high=5000, absent=REQUIRED, piece=True
    )
    piston_cm2: float | None = piston_reading()
    preload_kpa: float | None = reading(
        "preload", "kPa", low=0, high=200, expected=(10, 10), usual=(5, 30), absent=HARMLESS
    )
    preload_s: float | None = reading("preload held", "s", low=0, high=3600, expected=(30, 60), absent=HARMLESS)
    gauge_start_mm: float | None = reading(
        "gauges began at",
        "mm",
        about="what they showed after the preload, where they were not set to zero",
        low=-5,
        high=3000,
        resolution=0.01,
        absent=HARMLESS,
    )
    largest_particle_mm: float | None = reading("largest particle", "mm", low=0, high=500, absent=HARMLESS)
    stages: list[Stage] = Field(default_factory=list, title="stages", max_length=60)
    depth_m: float | None = reading("level of test", "m", about="below ground", low=0, high=30, absent=HARMLESS)
    datum_m: float | None = reading(
        "datum from plate",
        "m",
        about="feet of the datum or beam to the plate's centre",
        low=0,
        high=10,
        absent=HARMLESS,
    )
    reaction_m: float | None = reading(
        "reaction from plate", "m", about="wheels or tracks to the plate's edge", low=0, high=20, absent=HARMLESS
    )
    bedding: Bedding | None = Field(default=None, title="bedding")
    tilted: Literal["no", "yes"] | None = Field(default=None, title="plate tilted")
    reaction_lifted: Literal["no", "yes"] | None = Field(default=None, title="reaction lifted")
    services_located: Literal["yes", "no"] | None = services_located()
    stage_started_at: datetime | None = clock_reading("stage begun", "run mode's clock of the stage in hand")


class PlateStaticSettings(Settings):
    """Plate, hold, fit and what the project asks."""

    plate: Plate = setting(
        Plate.D300, "plate", "300 mm on fine and mixed soils; 600 and 762 mm on coarse ones and for subgrade moduli."
    )
    diameter_mm: float | None = setting(
        None,
        "another diameter",
        "Of a plate of another size; blank for the one named.",
        unit="mm",
        low=100,
        high=1500,
        followed=(300, 762),
    )
    wanted: Wanted = setting(
        Wanted.MODULI, "wanted", "ks alone needs no reloading; each stage waits until the plate comes to rest."
    )
    load_as: LoadAs = setting(
        LoadAs.PRESSURE, "load typed as", "A force or an oil pressure is turned into pressure by the areas."
    )
    gauges: Gauges = setting(Gauges.ONE, "gauges", "One below the centre, or two or three around the edge.")
    gauge_runs: Runs = setting(Runs.UP, "gauges count", "Down where the stem comes out as the plate settles.")
    me_band: MeBand = setting(
        MeBand.NONE, "ME over", "ME = D Δσ/Δs over a fixed stretch of pressure (SN 670 317), beside the other moduli."
    )
    last_stage_kpa: float | None = setting(
        None,
        "last stage",
        "Blank: 500, 250 or 200 kPa by plate, or a settlement of 5, 8 or 13 mm before.",
        unit="kPa",
        low=50,
        high=2000,
    )
    gauge: Literal["direct", "beam"] = setting(
        "direct", "gauge", "On the plate, or at the end of a beam: s = s_M h_P / h_M."
    )
    hold_s: float = setting(
        120.0, "hold", "120 s per stage; 60 s in road building.", unit="s", low=10, high=7200, followed=(60, None)
    )
    least_stages: int = setting(
        6, "least stages", "About equal steps of first loading.", low=3, high=20, followed=(6, None)
    )
    zero_in_first: bool = setting(
        False, "zero point in the first fit", "The preload with no settlement; left out, for the plate beds in."
    )
    last_unloading_in_second: bool = setting(
        True, "last unloading point in the second fit", "Counts as the start of the second loading."
    )
    reported: Literal["quadratic", "secant"] = setting(
        "quadratic", "school reported", "Both are shown; a difference above a tenth is pointed out."
    )
    required_ev2_mpa: float | None = setting(
        None, "Ev2 required", "The project's limit; empty for none.", unit="MPa", low=1, high=1000
    )
    required_ratio: float | None = setting(
        None, "Ev2/Ev1 at most", "The project's limit; empty for none.", low=1, high=10
    )
    exempt: bool = setting(
        True, "ratio exempted", "A larger ratio is accepted when Ev1 alone reaches 0.6 of the Ev2 required."
    )
    least_datum_m: float = setting(
        1.5,
        "datum at least",
        "1.5 m from the plate's centre; 0.75 m in another rule.",
        unit="m",
        low=0.2,
        high=5,
        followed=(0.75, None),
    )

    @property
    def size_mm(self) -> float:
        return self.diameter_mm or float(self.plate.value)

    @property
    def nominal_mm(self) -> int:
        """The plate of the standard nearest to this one, whose last stage and distances count."""
        return min(LAST_STAGE, key=lambda size: abs(size - self.size_mm))

    @property
    def last_kpa(self) -> float:
        return self.last_stage_kpa or LAST_STAGE[self.nominal_mm][0]

    @property
    def ends_at_mm(self) -> float:
        return LAST_STAGE[self.nominal_mm][1]


class PlateStaticContext(Context):
    """Nothing of other tests."""


def planned_stages(settings: PlateStaticSettings) -> list[dict[str, float]]:
    """Return the stages of a whole test as plain data, kPa rounded to 5 but for the last unloading."""
    last = settings.last_kpa
    loading = [5.0 * round(share * last / 5) for share in _LOADING]
    if settings.wanted == Wanted.SUBGRADE:
        return [{"planned_kpa": kpa} for kpa in loading]
    unloading = [share * last for share in UNLOADING]
    return [{"planned_kpa": round(kpa, 1)} for kpa in (*loading, *unloading, *loading[:-1])]
