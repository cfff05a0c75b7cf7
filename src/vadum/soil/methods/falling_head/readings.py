"""What is written beside the cylinders: the cylinder, moistures, positions, heads by time."""

from datetime import datetime
from typing import Literal

from pydantic import Field

from vadum.soil.bench.position import latitude, longitude
from vadum.soil.choice import Choice
from vadum.soil.contract.field import (
    HARMLESS,
    REQUIRED,
    Context,
    Leant,
    Log,
    Readings,
    Row,
    Settings,
    answer,
    clock_reading,
    reading,
    services_located,
    setting,
)


class Moisture(Choice):
    """What the moisture meter shows."""

    DIAL = "dial", "dial 0 to 10"
    PERCENT = "percent-by-volume", "percent by volume"
    MASS = "percent-by-mass", "percent by mass, of tins"


MOST_CYLINDERS = 6


class CylinderRow(Row):
    """One place: its moisture before and after, its water, where it is."""

    moisture_before: float | None = reading(
        "before",
        "",
        about="as the meter gives it; several places around, their mean",
        low=0,
        high=1000,
        absent=REQUIRED,
        usual=(0.5, 100),
    )
    moisture_after: float | None = reading(
        "after", "", about="right below, once the water is gone", low=0, high=1000, absent=REQUIRED, usual=(0.5, 100)
    )
    temperature_c: float | None = reading(
        "water",
        "°C",
        low=0,
        high=45,
        resolution=0.1,
        also=("temperature", "temp"),
        absent="20 °C assumed",
        usual=(2, 30),
    )
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude(hand="row")
    started_at: datetime | None = clock_reading("filled", "when its clock was started")


class HeadRow(Row):
    """The head in one cylinder at one time."""

    cylinder: int | None = reading(
        "cyl.", "", about="as above when left blank", low=1, high=MOST_CYLINDERS, absent=HARMLESS
    )
    elapsed_min: float | None = reading(
        "after", "min", low=0, high=20000, also=("time", "elapsed", "elapsed time", "minutes", "t"), absent=REQUIRED
    )
    head_mm: float | None = reading(
        "head", "mm", about="water above the ground", low=-50, high=2000, resolution=1.0, hand="row", absent=REQUIRED
    )


class HeadLog(Log):
    """A level logger's record of one or several cylinders."""

    cylinder: list[float] = Field(title="cylinder", json_schema_extra={"unit": ""})
    elapsed_min: list[float] = Field(
        title="time", json_schema_extra={"unit": "min", "also": ["time", "elapsed", "elapsed time", "minutes", "t"]}
    )
    head_mm: list[float] = Field(title="head", json_schema_extra={"unit": "mm"})


class FallingHeadReadings(Readings):
    """The cylinders and what happens in them."""

    radius_mm: float | None = reading(
        "inner radius",
        "mm",
        about="of the cylinder: half its inner diameter",
        low=20,
        high=500,
        resolution=0.1,
        absent=REQUIRED,
        usual=(40, 90),
        piece=True,
    )
    embedded_mm: float | None = reading(
        "driven in", "mm", about="below the ground inside", low=5, high=300, absent=REQUIRED, usual=(30, 90)
    )
    porosity: float | None = reading(
        "porosity",
        "",
        about="a share; from a ring of the same ground, else assumed",
        low=0.05,
        high=0.9,
        shown={"moisture": [Moisture.DIAL]},
        absent="assumed",
        usual=(0.25, 0.7),
    )
    dry_density_g_cm3: float | None = reading(
        "dry density",
        "g/cm³",
        about="of a ring of the same ground: by it a water content by mass becomes one by volume",
        low=0.2,
        high=2.6,
        shown={"moisture": [Moisture.MASS]},
        absent=REQUIRED,
        usual=(0.9, 2.0),
    )
    cylinders: list[CylinderRow] = Field(default_factory=list, title="cylinders", max_length=MOST_CYLINDERS)
    heads: list[HeadRow] = Field(default_factory=list, title="heads", max_length=900)
    log: HeadLog | None = Field(default=None, title="logger file")
    soil: Literal["sand", "silt", "clay"] | None = Field(default=None, title="ground", description="by hand and eye")
    sealed: Literal["yes", "no"] | None = answer(
        "rim sealed",
        "no water beside it",
        absent="nobody can say that no water went beside the rim",
        locks="Seal the rim first: water beside it is measured as if it went through the ground.",
    )
    services_located: Literal["yes", "no"] | None = services_located()
    scour_plate: Literal["yes", "no"] | None = Field(
        default=None, title="scour plate", description="takes the jet of the filling off the ground"
    )


class SiteValue(Choice):
    """Which value stands for the site."""

    MEAN = "geometric-mean", "geometric mean"
    LOWEST = "lowest", "lowest place"


class FallingHeadSettings(Settings):
    """Moisture, what is required, and what counts as clean."""

    moisture: Moisture = setting(
        Moisture.DIAL,
        "moisture is read",
        "A dial counts tenths of saturation, rounded up before and after, times the porosity: true to a tenth of"
        " saturation either way; percent by volume, from a probe; or by mass, times the dry density.",
    )
    assumed_porosity: float = setting(
        0.4, "porosity if unknown", "0.35 sand to 0.5 clay; printed as assumed.", low=0.1, high=0.8
    )
    least_start_mm: float = setting(
        300.0, "start head at least", "Less leaves too little of the fall.", unit="mm", low=50, high=2000
    )
    required_mm_h: float | None = setting(
        None, "rate required", "By the design of the project; empty: not judged.", unit="mm/h", low=0.1, high=5000
    )
    site_value: SiteValue = setting(
        SiteValue.MEAN, "site by", "The geometric mean of the places; the lowest where one tight spot rules."
    )
    safety_factor: float = setting(2.0, "factor of safety", "The site's value over it meets the rate.", low=1, high=10)
    design_c: float | None = setting(
        None,
        "design at water of",
        "The coldest water that must go in; blank: at the temperature of the site's value.",
        unit="°C",
        low=0,
        high=35,
    )
    resolution_mm: float = setting(1.0, "level read to", "Step of the scale or logger.", unit="mm", low=0.05, high=10)


class FallingHeadContext(Context):
    """Porosity from a ring of the same ground."""

    porosity: Leant | None = Field(default=None, description="a share")
