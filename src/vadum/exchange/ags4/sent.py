"""What goes out: a project with its locations, samples and tests, free of the records they come from."""

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from vadum.soil.contract.reduction import Reduction

# One row of a group: its name, and what stands under its headings. The keys of location and sample are added when the
# file is written; None stands for nothing known.
Row = tuple[str, dict[str, Any]]


@dataclass(frozen=True)
class Layer:
    """A layer as logged, m below ground."""

    top_m: float
    base_m: float
    description: str


@dataclass(frozen=True)
class Way:
    """Who took a sample, how, in what condition it came in, and when both were."""

    by: str = ""
    how: str = ""
    condition: str = ""
    remark: str = ""


NOTHING_SAID = Way()


@dataclass(frozen=True)
class Taken:
    """A sample: depths in m below ground."""

    name: str
    kind: str
    top_m: float
    base_m: float
    description: str
    way: Way = NOTHING_SAID


@dataclass(frozen=True)
class Place:
    """A location with its layers and samples; position in degrees of WGS 84, levels and depths in m."""

    name: str
    kind: str
    depth_m: float
    level_m: float | None = None
    easting_m: float | None = None
    northing_m: float | None = None
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    layers: tuple[Layer, ...] = ()
    samples: tuple[Taken, ...] = ()


@dataclass(frozen=True)
class Sent:
    """A test with what it gave. ``readings`` and ``settings`` are of its method's own models."""

    number: int
    method: str
    basis: str
    state: str
    on: date
    place: Place
    sample: Taken | None
    readings: Any
    settings: Any
    reduction: Reduction

    def value(self, key: str) -> float | None:
        """Return a parameter as reported, so that every paper says the same."""
        found = self.reduction.parameter(key)
        return found.reported if found else None

    def text(self, key: str) -> str | None:
        """Return the text of a parameter as reported: words or figures."""
        found = self.reduction.parameter(key)
        return found.text if found else None

    def at(self, path: str) -> float | None:
        """Return a worked-out cell that is a number; none of a row that is left out goes to anybody."""
        table, number, _ = path.split(".")
        rows = getattr(self.readings, table)
        if int(number) < len(rows) and not rows[int(number)].used:
            return None
        found = self.reduction.computed.get(path)
        return found if isinstance(found, float) else None


@dataclass(frozen=True)
class Transfer:
    """A project to send. ``made`` is when, ``by`` the laboratory."""

    number: int
    name: str
    client: str
    note: str
    by: str
    made: datetime
    places: tuple[Place, ...]
    tests: tuple[Sent, ...] = field(default=())
