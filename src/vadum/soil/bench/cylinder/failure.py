"""How a specimen failed, drawn: bulge, one plane at its angle, split, several planes."""

from dataclasses import dataclass
from math import cos, pi, radians, sin, tan
from typing import Any

from pydantic import Field

from vadum.soil.choice import Choice
from vadum.soil.contract.figure import Axis, Figure, Line, Point, Region


class Failure(Choice):
    """How a cylinder broke."""

    BULGE = "bulge"
    ONE_PLANE = "one-plane", "one plane"
    SPLIT = "split"
    PLANES = "several-planes", "several planes"


# A plane whose angle is not measured is drawn at 45 + phi/2 of a soil of 30 degrees.
_USUAL_ANGLE = 60.0
_HALF, _HIGH = 0.5, 2.1
_APART = 1.8


def failure_choice() -> Any:
    """Declare how the specimen failed: chosen by tapping the shape."""
    return Field(default=None, title="failed by", json_schema_extra={"pictured": True})


@dataclass(frozen=True)
class Failed:
    """How one specimen failed; the angle of its plane from the horizontal, None while it is not measured."""

    failure: Failure
    angle_deg: float | None
    name: str = ""

    @property
    def angle(self) -> float:
        """The angle it is drawn at."""
        return self.angle_deg if self.angle_deg is not None else _USUAL_ANGLE

    @property
    def words(self) -> str:
        """The failure in words, behind the specimen's name where there are several."""
        measured = f"at {self.angle:g}°" if self.angle_deg is not None else "of no measured angle"
        said = {
            Failure.BULGE: "bulged",
            Failure.ONE_PLANE: f"one plane {measured}",
            Failure.SPLIT: "split",
            Failure.PLANES: "several planes",
        }[self.failure]
        return f"{self.name} {said}".lstrip()


def failure_figure(failed: list[Failed]) -> Figure:
    """Return the sketches of failed specimens side by side, each one diameter wide and about two high."""
    said = "; ".join(one.words for one in failed)
    reach = _APART * (len(failed) - 1)
    regions, lines = [], []
    for k, one in enumerate(failed):
        across = _APART * k - reach / 2
        regions.append(Region(key=f"specimen-{k}", role="solid", points=_moved(_body(one.failure), across)))
        lines += [
            Line(key=f"plane-{k}-{i}", role="construction", points=_moved(points, across))
            for i, points in enumerate(_planes(one.failure, one.angle))
        ]
    return Figure(
        key="failure",
        title="Failure",
        description=f"Sketch after failure, angles from the horizontal: {said}.",
        caption=said,
        x=Axis(label="", low=-1.6 - reach / 2, high=1.6 + reach / 2, hidden=True),
        y=Axis(label="", low=-0.35, high=_HIGH + 0.35, hidden=True),
        equal=True,
        regions=regions,
        lines=lines,
    )


def _moved(points: list[Point], across: float) -> list[Point]:
    return [(x + across, y) for x, y in points]


def _body(failure: Failure) -> list[Point]:
    out = 0.22 if failure == Failure.BULGE else 0.0
    heights = [_HIGH * i / 24 for i in range(25)]
    right = [(_HALF + out * sin(pi * h / _HIGH) ** 2, h) for h in heights]
    return right + [(-x, h) for x, h in reversed(right)]


def _planes(failure: Failure, angle: float) -> list[list[Point]]:
    middle = _HIGH / 2
    if failure == Failure.ONE_PLANE:
        return [_across(middle, angle)]
    if failure == Failure.PLANES:
        return [_across(middle + 0.35, angle), _across(middle - 0.35, angle), _across(middle, -angle)]
    if failure == Failure.SPLIT:
        wave = [0.05 * sin(9 * i / 10) for i in range(11)]
        return [[(x + w, _HIGH * (0.04 + 0.92 * i / 10)) for i, w in enumerate(wave)] for x in (-0.12, 0.16)]
    return []


def _across(height: float, angle: float) -> list[Point]:
    """Return a line through the axis at a height, as far as it stays in the specimen."""
    slope = radians(abs(angle))
    half = min(_HALF, (_HIGH / 2 - 0.1 - abs(height - _HIGH / 2)) / tan(slope)) if cos(slope) < 1 else _HALF
    rise = half * tan(slope) * (1 if angle > 0 else -1)
    return [(-half, height - rise), (half, height + rise)]
