"""How a specimen failed, drawn: bulge, one plane at its angle, split, several planes."""

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


def failure_choice() -> Any:
    """Declare how the specimen failed: chosen by tapping the shape."""
    return Field(default=None, title="failed by", json_schema_extra={"pictured": True})


def failure_figure(failure: Failure, angle_deg: float | None) -> Figure:
    """Return the sketch of a failed specimen, one diameter wide and about two high.

    Arguments
    ---------
    angle_deg : of the plane from the horizontal; drawn at 60 degrees and said so while it is not measured
    """
    angle = angle_deg if angle_deg is not None else _USUAL_ANGLE
    said = {
        Failure.BULGE: "bulged, no plane",
        Failure.ONE_PLANE: f"one plane at {angle:g}° from the horizontal"
        + ("" if angle_deg is not None else ", angle not measured"),
        Failure.SPLIT: "split along its axis",
        Failure.PLANES: "several planes",
    }[failure]
    return Figure(
        key="failure",
        title="Failure",
        description=f"Sketch of the specimen after failure: {said}.",
        caption=said,
        x=Axis(label="", low=-1.6, high=1.6, hidden=True),
        y=Axis(label="", low=-0.35, high=_HIGH + 0.35, hidden=True),
        equal=True,
        regions=[Region(key="specimen", role="solid", points=_body(failure))],
        lines=[
            Line(key=f"plane-{i}", role="construction", points=points)
            for i, points in enumerate(_planes(failure, angle))
        ],
    )


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
