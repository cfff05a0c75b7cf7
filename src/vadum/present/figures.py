"""Figures as people read them: the same drawing on axes of other units."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import TypeVar

from vadum.soil.contract.figure import Axis, Band, Figure, Handle, Line, Mark, Path, Point, Region, Series
from vadum.soil.numbers.written import Units

Along = Callable[[float], float]
Words = Callable[[str], str]
Drawn = TypeVar("Drawn", Line, Region)
AnyDrawing = TypeVar("AnyDrawing", bound=Figure | Path)


def drawing_in(drawing: AnyDrawing, units: Units) -> AnyDrawing:
    """Return a drawing with axes, marks, lines and handles in a set of units.

    An axis on the scale of root time keeps its unit, its construction is drawn in minutes; so does one of sizes on a
    scale of powers, where grains are in millimetres for every reader.
    """
    if isinstance(drawing, Path) or units.plain:
        return drawing
    x, y = _along(drawing.x, units), _along(drawing.y, units)
    words = units.without(["mm"] if _of_grains(drawing.x) else []).words
    return replace(
        drawing,
        description=words(drawing.description),
        caption=words(drawing.caption),
        mark=units.mark,
        x=_axis(drawing.x, x, units, words),
        y=_axis(drawing.y, y, units, words),
        bands=[_band(band, x) for band in drawing.bands],
        regions=[_points(region, x, y, words) for region in drawing.regions],
        lines=[_points(line, x, y, words) for line in drawing.lines],
        series=[_series(series, x, y, words) for series in drawing.series],
        handles=[_handle(handle, drawing, units) for handle in drawing.handles],
        result=drawing.result and _mark(drawing.result, x, y, words),
    )


def _same(axis: Axis, units: Units) -> bool:
    return axis.hidden or axis.scale == "root-time" or _of_grains(axis) or units.unit(axis.unit) == axis.unit


def _of_grains(axis: Axis) -> bool:
    return axis.scale == "log" and axis.unit == "mm"


def _along(axis: Axis, units: Units) -> Along:
    return float if _same(axis, units) else partial(_value, axis.unit, units)


def _value(unit: str, units: Units, value: float) -> float:
    return units.value(value, unit)


def _axis(axis: Axis, along: Along, units: Units, words: Words) -> Axis:
    named = [(along(at), words(name)) for at, name in axis.named]
    if _same(axis, units):
        return replace(axis, named=named)
    return replace(
        axis,
        unit=units.unit(axis.unit),
        low=along(axis.low),
        high=along(axis.high),
        # Round ticks of one unit are not round in another: the scale chooses its own.
        ticks=None,
        named=named,
    )


def _band(band: Band, x: Along) -> Band:
    parts = [_band(part, x) for part in band.parts]
    return replace(band, low=x(band.low), high=x(band.high), parts=parts)


def _points(drawn: Drawn, x: Along, y: Along, words: Words) -> Drawn:
    points: list[Point] = [(x(across), y(up)) for across, up in drawn.points]
    return replace(drawn, points=points, label=words(drawn.label))


def _series(series: Series, x: Along, y: Along, words: Words) -> Series:
    marks = [_mark(mark, x, y, words) for mark in series.marks]
    return replace(series, marks=marks, label=words(series.label))


def _mark(mark: Mark, x: Along, y: Along, words: Words) -> Mark:
    return replace(mark, x=x(mark.x), y=y(mark.y), label=words(mark.label))


def _handle(handle: Handle, drawing: Figure, units: Units) -> Handle:
    x, y = _along(drawing.x, units), _along(drawing.y, units)
    axis, along = (drawing.x, x) if handle.along == "x" else (drawing.y, y)
    return replace(
        handle,
        # What the hand sets goes back to the record in the unit it was dragged in.
        unit="" if _same(axis, units) else units.unit(axis.unit),
        x=x(handle.x),
        y=y(handle.y),
        low=along(handle.low),
        high=along(handle.high),
        step=along(handle.step) - along(0.0),
    )
