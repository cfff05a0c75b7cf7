"""Forms: fields declared like readings, text typed kept beside its complaint."""

from collections.abc import Mapping
from datetime import date
from itertools import pairwise
from typing import Any, Literal, TypeVar

from pydantic import Field, ValidationError, field_validator, model_validator

from vadum.records.custody import KINDS
from vadum.records.tables import EquipmentKind
from vadum.soil.bench.position import latitude, longitude
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.field import Entered, Readings, reading
from vadum.soil.contract.places import columns
from vadum.soil.registry import METHODS
from vadum.soil.site.infiltration import By, Kind

F = TypeVar("F", bound=Entered)


def filled(model: type[F], form: Mapping[str, Any]) -> tuple[F | None, dict[str, str]]:
    """Return the form as its model, or None with a complaint by field."""
    known = {name: _spaced(str(form[name])) for name in model.model_fields if name in form}
    try:
        return model.model_validate({name: text for name, text in known.items() if text}), {}
    except ValidationError as error:
        return None, {fault.place.split(".")[-1]: fault.message for fault in complaints(error)}


def _spaced(text: str) -> str:
    """Return typed text with one space where several stood, line by line: on a page they look the same."""
    return "\n".join(" ".join(line.split()) for line in text.strip().splitlines())


def _name(label: str) -> Any:
    return Field(title=label, min_length=1, max_length=80)


class ProjectForm(Entered):
    name: str = _name("project")
    client: str = Field(default="", title="client", max_length=120)
    order_number: str = Field(default="", title="order number", max_length=80)
    wanted_by: date | None = Field(default=None, title="wanted by")
    standard: str = Field(default="", title="standard asked for", max_length=120)
    report_to: str = Field(default="", title="report to", max_length=120)
    note: str = Field(default="", title="note", max_length=400)


# How the form of a project is laid out: field, label, hint.
PROJECT_FIELDS = (
    ("name", "project", ""),
    ("client", "for", ""),
    ("order_number", "order number", ""),
    ("wanted_by", "wanted by", "2026-12-11"),
    ("standard", "by which standard", "EN ISO 17892"),
    ("report_to", "report to", ""),
    ("note", "note", ""),
)

PLACE_KINDS = ("test pit", "borehole", "test point")


class LocationForm(Entered):
    name: str = _name("location")
    kind: Literal[*PLACE_KINDS] = "test pit"  # type: ignore[valid-type]
    depth_m: float = reading("depth", "m", low=0.1, high=500)
    level_m: float | None = reading("level", "m", low=-500, high=9000)
    easting_m: float | None = reading("easting", "m", low=-1e7, high=1e7)
    northing_m: float | None = reading("northing", "m", low=-1e7, high=1e8)
    latitude_deg: float | None = latitude()
    longitude_deg: float | None = longitude()
    water_struck_m: float | None = reading("water struck", "m", low=0, high=500)
    water_m: float | None = reading("water stands", "m", low=-5, high=500)

    @model_validator(mode="after")
    def _deep(self) -> "LocationForm":
        if self.depth_m is None:
            raise ValueError("give the depth in m")
        if (self.latitude_deg is None) != (self.longitude_deg is None):
            raise ValueError("give latitude and longitude, or neither")
        if (self.easting_m is None) != (self.northing_m is None):
            raise ValueError("give easting and northing, or neither")
        if any(water is not None and water > self.depth_m for water in (self.water_struck_m, self.water_m)):
            raise ValueError(f"water below {self.depth_m:g} m was not met in this hole")
        return self


# How the form of a location is laid out: field and label.
LOCATION_FIELDS = (
    ("name", "location"),
    ("depth_m", "depth, m"),
    ("level_m", "ground level, m"),
    ("easting_m", "easting, m"),
    ("northing_m", "northing, m"),
    ("latitude_deg", "latitude, °"),
    ("longitude_deg", "longitude, °"),
    ("water_struck_m", "water struck at, m"),
    ("water_m", "water stands at, m"),
)


class SampleForm(Entered):
    name: str = _name("sample")
    kind: Literal[*KINDS] = "bag"  # type: ignore[valid-type]
    top_m: float = reading("from", "m", low=0, high=500)
    base_m: float = reading("to", "m", low=0, high=500)
    mass_g: float | None = reading("mass", "g", low=0, high=1e6)
    largest_particle_mm: float | None = reading("largest particle", "mm", low=0, high=500)
    description: str = ""

    @model_validator(mode="after")
    def _ordered(self) -> "SampleForm":
        if self.top_m is None or self.base_m is None:
            raise ValueError("give the depths in m")
        if self.base_m < self.top_m:
            raise ValueError(f"the lower depth {self.base_m:g} m is above the upper, {self.top_m:g} m")
        return self


class LiftForm(Entered):
    compaction: int = Field(title="compaction test", ge=1)
    least_percent: float = reading("at least", "%", low=50, high=110)
    drier_percent: float = reading("drier by", "%", low=0, high=30)
    wetter_percent: float = reading("wetter by", "%", low=0, high=30)

    @model_validator(mode="after")
    def _whole(self) -> "LiftForm":
        for name in ("least_percent", "drier_percent", "wetter_percent"):
            if getattr(self, name) is None:
                raise ValueError("give the least degree and both ends of the window")
        return self


class AgainstForm(Entered):
    compaction: int = Field(title="held against", ge=0)


class InfiltrationForm(Entered):
    kind: Kind = Field(title="of")
    required_mm_h: float | None = reading("rate required", "mm/h", low=0.01, high=5000)
    by: By = Field(title="by")
    safety_factor: float = reading("factor of safety", "", low=1, high=20)
    design_c: float | None = reading("water of", "°C", low=0, high=35)

    @model_validator(mode="after")
    def _whole(self) -> "InfiltrationForm":
        if self.safety_factor is None:
            raise ValueError("give the factor of safety; 1 for none")
        return self


_SHEETS: list[type[Readings]] = [method.Readings for method in METHODS.values()]
CONSTANTS = tuple(sorted({one.name for sheet in _SHEETS for one in columns(sheet) if one.extra.get("piece")}))
"""What a piece of equipment can bring to a test, by the names of the readings it fills."""


class _Calibrated(Entered):
    """What a calibration tells: a ring's table, a piece's constants, as a person types them."""

    @field_validator("constants", mode="before", check_fields=False)
    @classmethod
    def _named(cls, typed: Any) -> Any:
        """Read the constants of a piece: name and number, separated by semicolons or lines."""
        if not isinstance(typed, str):
            return typed
        words = [part.replace(",", ".").split() for part in typed.replace("\n", ";").split(";") if part.strip()]
        if any(len(part) != 2 or part[0] not in CONSTANTS for part in words):
            raise ValueError(f"write name and number: constant 0.35; full_scale 100. Names are {', '.join(CONSTANTS)}")
        return dict(words)

    @field_validator("calibration", "table", mode="before", check_fields=False)
    @classmethod
    def _pairs(cls, typed: Any) -> Any:
        """Read a ring's calibration: divisions and kN, one pair after the other, separated by semicolons or lines."""
        if not isinstance(typed, str):
            return typed
        pairs = [pair.replace(",", ".").split() for pair in typed.replace("\n", ";").split(";") if pair.strip()]
        if any(len(pair) != 2 for pair in pairs):
            raise ValueError("write divisions and kN in pairs: 0 0; 100 0.51; 200 1.03")
        return pairs


class EquipmentForm(_Calibrated):
    name: str = _name("name")
    kind: EquipmentKind = "tin"
    tare_g: float | None = reading("tare", "g", low=0, high=100000)
    note: str = ""
    calibration: list[tuple[float, float]] = Field(default_factory=list, title="calibration", max_length=100)

    constants: dict[str, float] = Field(default_factory=dict, title="constants")

    @model_validator(mode="after")
    def _rising(self) -> "EquipmentForm":
        table = self.calibration
        if any(b[0] <= a[0] or b[1] <= a[1] for a, b in pairwise(table)) or len(table) == 1:
            raise ValueError("a calibration has at least two pairs, both columns rising")
        if self.kind == "load ring" and not table:
            raise ValueError("a load ring needs its calibration")
        return self


class PieceForm(Entered):
    """What a piece is called; what it measures like is told by its calibrations."""

    name: str = _name("name")
    note: str = Field(default="", title="note", max_length=200)


class CalibrationForm(_Calibrated):
    on: date = Field(title="day")
    due: date | None = Field(default=None, title="runs out")
    table: list[tuple[float, float]] = Field(default_factory=list, title="table", max_length=100)
    constants: dict[str, float] = Field(default_factory=dict, title="constants")
    uncertainty: float | None = Field(default=None, title="uncertainty", gt=0, le=1000)
    certificate_number: str = Field(default="", title="certificate number", max_length=80)
    note: str = ""

    @field_validator("uncertainty", mode="before")
    @classmethod
    def _comma(cls, typed: Any) -> Any:
        return typed.replace(",", ".") if isinstance(typed, str) else typed

    @field_validator("due", "on", mode="before")
    @classmethod
    def _blank(cls, typed: Any) -> Any:
        return typed.strip() or None if isinstance(typed, str) else typed

    @model_validator(mode="after")
    def _whole(self) -> "CalibrationForm":
        if self.due is not None and self.due <= self.on:
            raise ValueError("it runs out after its day")
        if any(b[0] <= a[0] or b[1] <= a[1] for a, b in pairwise(self.table)) or len(self.table) == 1:
            raise ValueError("a table has at least two pairs, both columns rising")
        return self
