"""What is written at the press: specimen, loading, how it failed, and the remoulded run."""

from typing import Literal

from pydantic import Field

from vadum.soil.bench.cylinder.failure import Failure, failure_choice
from vadum.soil.bench.cylinder.specimen import SpecimenReadings, trimmings
from vadum.soil.bench.particle import assumed_setting, particle_density_reading
from vadum.soil.bench.peak import fall_setting
from vadum.soil.bench.plunger.readings import RingContext
from vadum.soil.bench.weighing import TinRow
from vadum.soil.contract.by_hand import HandSettings
from vadum.soil.contract.field import HARMLESS, REQUIRED, Leant, Log, Row, leant, reading, setting
from vadum.soil.physics.strength_classes import SensitivityWords, StrengthWords


class LoadingRow(Row):
    """Force at one shortening."""

    shortening_mm: float | None = reading(
        "short.",
        "mm",
        about="shortening of the specimen",
        low=-1,
        high=300,
        resolution=0.01,
        instrument="dial gauge",
        also=("displacement", "axial displacement", "deformation", "shortening"),
        absent=REQUIRED,
    )
    force_n: float | None = reading(
        "force",
        "N",
        low=-50,
        high=200000,
        resolution=0.1,
        hand="row",
        instrument="load cell",
        also=("load", "shear force", "shear load", "axial load", "axial force"),
        absent=REQUIRED,
    )


class LoadingLog(Log):
    """A loading frame's record."""

    shortening_mm: list[float] = Field(
        title="shortening",
        json_schema_extra={"unit": "mm", "also": ["displacement", "axial displacement", "deformation", "shortening"]},
    )
    force_n: list[float] = Field(
        title="force",
        json_schema_extra={"unit": "N", "also": ["load", "shear force", "shear load", "axial load", "axial force"]},
    )


class UnconfinedReadings(SpecimenReadings):
    """Specimen, loading and failure."""

    tins: list[TinRow] = trimmings()
    rate_mm_min: float | None = reading(
        "rate",
        "mm/min",
        about="as set on the press",
        low=0.01,
        high=50,
        absent="the rate is not on record",
        usual=(0.1, 10),
    )
    minutes_since_cut: float | None = reading(
        "cut",
        "min",
        about="minutes from trimming until the loading starts: it dries and gains strength",
        low=0,
        high=10000,
        since="trim",
        absent=HARMLESS,
    )
    loading: list[LoadingRow] = Field(default_factory=list, title="loading", max_length=400)
    remoulded: list[LoadingRow] = Field(default_factory=list, title="remoulded", max_length=400)
    remoulded_diameter_mm: float | None = reading(
        "remoulded, across",
        "mm",
        about="of the remoulded specimen; as the first one when left blank",
        low=20,
        high=400,
        resolution=0.1,
        absent=HARMLESS,
    )
    remoulded_length_mm: float | None = reading(
        "remoulded, length",
        "mm",
        about="of the remoulded specimen; as the first one when left blank",
        low=30,
        high=900,
        resolution=0.1,
        absent=HARMLESS,
    )
    largest_particle_mm: float | None = reading("largest particle", "mm", low=0, high=200, absent=HARMLESS)
    log: LoadingLog | None = Field(default=None, title="logger file")
    particle_density: float | None = particle_density_reading()
    failure: Failure | None = failure_choice()
    plane_angle: float | None = reading(
        "angle of plane", "°", about="from the horizontal", low=0, high=90, absent=HARMLESS
    )
    fissured: Literal["no", "yes"] | None = Field(default=None, title="fissured")
    patched: Literal["no", "yes"] | None = Field(default=None, title="stones patched at the surface")


class UnconfinedSettings(HandSettings):
    """Limits and constructions."""

    limit_percent: float = setting(
        15.0,
        "strain limit",
        "The strength is the peak, or the stress at this strain when none came before.",
        unit="%",
        low=5,
        high=30,
        followed=(15, 15),
    )
    peak_fall_percent: float = fall_setting()
    slowest_percent_min: float = setting(
        0.5, "slowest", "0.5 to 2 % a minute.", unit="%/min", low=0.05, high=5, followed=(0.5, None)
    )
    fastest_percent_min: float = setting(
        2.0, "fastest", "0.5 to 2 % a minute.", unit="%/min", low=0.1, high=20, followed=(None, 2)
    )
    toe: bool = setting(
        False,
        "start put right",
        "Off: strains as read. On: the steepest part is drawn back to the axis, for a specimen that beds in.",
    )
    peak_percent: float | None = setting(
        None,
        "peak by hand",
        "Dragged on the figure; empty is the largest stress within the limit.",
        unit="%",
        low=0,
        high=40,
    )
    strength_words: StrengthWords = setting(
        StrengthWords.TERZAGHI, "words of strength", "The same two tables as for the vane; the sheet names the school."
    )
    sensitivity_words: SensitivityWords = setting(
        SensitivityWords.SKEMPTON, "words of sensitivity", "Two schools; the sheet names the one chosen."
    )
    dry_min: float = setting(15.0, "start within", "Minutes from trimming to loading.", unit="min", low=1, high=600)
    assumed_particle_density: float = assumed_setting(2.70)


class UnconfinedContext(RingContext):
    """Tins, ring, Gs."""

    tins: dict[str, float] = Field(default_factory=dict, description="mass in g of each tin by number")
    particle_density: Leant | None = leant("particle-density.particle_density", "Gs at 20 degrees, plain number")
