"""A figure as data. ``vadum.drawing`` turns it into SVG; nothing here knows pixels or colours."""

from dataclasses import dataclass, field
from math import ceil, floor, log10
from typing import Annotated, Literal

from pydantic import Field

Scale = Literal["linear", "log", "root-time"]
Point = tuple[float, float]
SeriesRole = Literal["subject", "company"]
RegionRole = Literal["accepted", "zone", "chosen", "solid", "coarse", "water", "air"]


@dataclass(slots=True, kw_only=True)
class Axis:
    """An axis. ``ticks`` are drawn and labelled where given, otherwise chosen by the scale."""

    label: str
    unit: str = ""
    scale: Scale = "linear"
    low: float
    high: float
    ticks: list[float] | None = None
    named: list[tuple[float, str]] = field(default_factory=list)
    """Places along the far side of the plot with a name of their own, such as sieve numbers."""
    down: bool = False
    """True for an axis that grows downward, as settlement does."""
    hidden: bool = False
    """True for a drawing whose coordinates mean nothing by themselves (phase diagram, triangle)."""


@dataclass(slots=True, kw_only=True)
class Band:
    """A named stretch of the x axis, drawn as a strip above the plot; ``parts`` divide it further."""

    label: str
    low: float
    high: float
    parts: list["Band"] = field(default_factory=list)


@dataclass(slots=True)
class Mark:
    """A plotted reading. ``path`` names the row it came from, so that clicking it can leave it out.

    A plain class: a record makes hundreds of them at every key.
    """

    x: float
    y: float
    label: str = ""
    path: str | None = None
    left_out: bool = False
    in_hand: bool = True


@dataclass(slots=True, kw_only=True)
class Series:
    """Measured points of one test; ``subject`` series are this test's, others are quiet company."""

    key: str
    label: str
    marks: list[Mark]
    role: SeriesRole = "subject"


@dataclass(slots=True, kw_only=True)
class Line:
    """A polyline in data units: a fit, a reference line of the field, or a construction drawn by a person."""

    key: str
    label: str = ""
    points: list[Point]
    role: Literal["fit", "company", "reference", "construction"] = "fit"
    arrow: bool = False
    """True to show which way along it the test went."""


@dataclass(slots=True, kw_only=True)
class Region:
    """A shaded part of the plot: accepted range, named zone, phase of a soil; ``chosen`` is where the sample falls."""

    key: str
    label: str = ""
    points: list[Point]
    role: RegionRole = "accepted"


@dataclass(slots=True, kw_only=True)
class Handle:
    """A grip on a construction. Dragging it writes ``setting``; clearing the setting returns to automatic."""

    setting: str
    label: str
    x: float
    y: float
    along: Literal["x", "y"]
    low: float
    high: float
    step: float
    unit: str = ""
    """The unit it is dragged in, where that is not the laboratory's: a project may be shown in others."""
    overridden: bool = False


@dataclass(slots=True, kw_only=True)
class Fork:
    """One question on the way through a decision tree: what was asked, the number put in, the road taken.

    ``others`` are what the roads not taken would have led to. An ``open`` fork could not be decided.
    """

    question: str
    answer: str
    taken: str
    others: str = ""
    open: bool = False


@dataclass(slots=True, kw_only=True)
class Path:
    """A walk through a decision tree, drawn fork by fork down to where it ends."""

    kind: Literal["path"] = "path"
    key: str
    title: str
    description: str
    forks: list[Fork]
    end: str
    end_note: str = ""
    handles: list[Handle] = field(default_factory=list)


@dataclass(slots=True, kw_only=True)
class Figure:
    """A drawing with a title and a description that says in words what it shows."""

    kind: Literal["figure"] = "figure"
    key: str
    title: str
    description: str
    x: Axis
    y: Axis
    caption: str = ""
    equal: bool = False
    """True when both axes are to one scale, so that circles are circles; an axis then reaches further than asked."""
    bands: list[Band] = field(default_factory=list)
    regions: list[Region] = field(default_factory=list)
    lines: list[Line] = field(default_factory=list)
    series: list[Series] = field(default_factory=list)
    handles: list[Handle] = field(default_factory=list)
    result: Mark | None = None
    mark: str = "."
    """The decimal mark of what stands along the axes."""


Drawing = Annotated[Figure | Path, Field(discriminator="kind")]


def box(x: tuple[float, float], y: tuple[float, float]) -> list[Point]:
    """Return the corners of a rectangle in data units."""
    return [(x[0], y[0]), (x[1], y[0]), (x[1], y[1]), (x[0], y[1])]


def end_beyond(value: float) -> float:
    """Return a round end of an axis a little beyond a value; 1 for what is not positive."""
    if value <= 0:
        return 1.0
    step = 10.0 ** floor(log10(value)) / 2
    return float(ceil(value * 1.04 / step) * step)
