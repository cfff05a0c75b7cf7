"""Figures as people read them: the same drawing on axes of other units."""

from collections.abc import Callable
from functools import partial
from typing import TypeVar

from vadum.soil.contract.figure import Axis, Band, Drawing, Handle, Line, Mark, Path, Point, Region, Series
from vadum.soil.numbers.written import SI, Units

Along = Callable[[float], float]
Drawn = TypeVar("Drawn", Line, Region)


def drawing_in(drawing: Drawing, units: Units = SI) -> Drawing:
    """Return a drawing with axes, marks, lines and handles in a set of units.

    An axis on the scale of root time keeps its unit: its construction is drawn in minutes.
    """
    if isinstance(drawing, Path) or (_same(drawing.x, units) and _same(drawing.y, units)):
        return drawing
    x, y = _along(drawing.x, units), _along(drawing.y, units)
    return drawing.model_copy(
        update={
            "x": _axis(drawing.x, x, units),
            "y": _axis(drawing.y, y, units),
            "bands": [_band(band, x) for band in drawing.bands],
            "regions": [_points(region, x, y) for region in drawing.regions],
            "lines": [_points(line, x, y) for line in drawing.lines],
            "series": [_series(series, x, y) for series in drawing.series],
            "handles": [_handle(handle, x, y) for handle in drawing.handles],
            "result": drawing.result and _mark(drawing.result, x, y),
        }
    )


def _same(axis: Axis, units: Units) -> bool:
    return axis.hidden or axis.scale == "root-time" or units.unit(axis.unit) == axis.unit


def _along(axis: Axis, units: Units) -> Along:
    return float if _same(axis, units) else partial(_value, axis.unit, units)


def _value(unit: str, units: Units, value: float) -> float:
    return units.value(value, unit)


def _axis(axis: Axis, along: Along, units: Units) -> Axis:
    if _same(axis, units):
        return axis
    return axis.model_copy(
        update={
            "unit": units.unit(axis.unit),
            "low": along(axis.low),
            "high": along(axis.high),
            # Round ticks of one unit are not round in another: the scale chooses its own.
            "ticks": None,
            "named": [(along(at), name) for at, name in axis.named],
        }
    )


def _band(band: Band, x: Along) -> Band:
    parts = [_band(part, x) for part in band.parts]
    return band.model_copy(update={"low": x(band.low), "high": x(band.high), "parts": parts})


def _points(drawn: Drawn, x: Along, y: Along) -> Drawn:
    points: list[Point] = [(x(across), y(up)) for across, up in drawn.points]
    return drawn.model_copy(update={"points": points})


def _series(series: Series, x: Along, y: Along) -> Series:
    return series.model_copy(update={"marks": [_mark(mark, x, y) for mark in series.marks]})


def _mark(mark: Mark, x: Along, y: Along) -> Mark:
    return mark.model_copy(update={"x": x(mark.x), "y": y(mark.y)})


def _handle(handle: Handle, x: Along, y: Along) -> Handle:
    along = x if handle.along == "x" else y
    return handle.model_copy(
        update={
            "x": x(handle.x),
            "y": y(handle.y),
            "low": along(handle.low),
            "high": along(handle.high),
            "step": along(handle.step) - along(0.0),
        }
    )
