"""A figure as data. ``vadum.drawing`` turns it into SVG; nothing here knows pixels or colours."""

from typing import Literal

from pydantic import BaseModel, Field

Scale = Literal["linear", "log", "root-time"]
Point = tuple[float, float]


class Axis(BaseModel):
    """An axis. ``ticks`` are drawn and labelled where given, otherwise chosen by the scale."""

    label: str
    unit: str = ""
    scale: Scale = "linear"
    low: float
    high: float
    ticks: list[float] | None = None


class Mark(BaseModel):
    """A plotted reading. ``path`` names the row it came from, so that clicking it can leave it out."""

    x: float
    y: float
    label: str = ""
    path: str | None = None
    left_out: bool = False
    in_hand: bool = True


class Series(BaseModel):
    """Measured points of one test; ``subject`` series are this test's, others are quiet company."""

    key: str
    label: str
    marks: list[Mark]
    role: Literal["subject", "company"] = "subject"


class Line(BaseModel):
    """A polyline in data units: a fit, a reference line of the field, or a construction drawn by a person."""

    key: str
    label: str = ""
    points: list[Point]
    role: Literal["fit", "reference", "construction"] = "fit"


class Region(BaseModel):
    """A shaded part of the plot: accepted range, named zone."""

    key: str
    label: str = ""
    points: list[Point]
    role: Literal["accepted", "zone"] = "accepted"


class Handle(BaseModel):
    """A grip on a construction. Dragging it writes ``setting``; clearing the setting returns to automatic."""

    setting: str
    label: str
    x: float
    y: float
    along: Literal["x", "y"]
    low: float
    high: float
    step: float
    overridden: bool = False


class Figure(BaseModel):
    """A drawing with a title and a description that says in words what it shows."""

    key: str
    title: str
    description: str
    x: Axis
    y: Axis
    caption: str = ""
    regions: list[Region] = Field(default_factory=list)
    lines: list[Line] = Field(default_factory=list)
    series: list[Series] = Field(default_factory=list)
    handles: list[Handle] = Field(default_factory=list)
    result: Mark | None = None


def box(x: tuple[float, float], y: tuple[float, float]) -> list[Point]:
    """Return the corners of a rectangle in data units."""
    return [(x[0], y[0]), (x[1], y[0]), (x[1], y[1]), (x[0], y[1])]
