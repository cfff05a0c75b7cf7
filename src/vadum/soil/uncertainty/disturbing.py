"""What instruments and typed constants leave in doubt: by disturbing what went into a result and reducing again.

Every reading that declares a resolution is taken as rounded to it: rectangular, standard uncertainty resolution /
sqrt(12) (ISO/IEC Guide 98-3, 4.3.7). A calibration moves all readings of its piece by one unknown amount (F.1.2.3). The
effects add in squares (5.1.2): they are taken as independent. The sample and the operator are not in it: see
:mod:`vadum.soil.uncertainty.combined`.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Any

import numpy as np
from pydantic import BaseModel

from vadum.soil.contract.field import Row, resolution_of
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction

# A column up to this long is disturbed cell by cell, a longer one all at once at random, so many times.
_CELL_BY_CELL = 24
_DRAWS = 60
_LEADING = 3
_TOLD = 0.01  # a smaller share is not worth a word


@dataclass(frozen=True)
class Lead:
    """A reading, or a long column of them, and its share of the squared uncertainty, 0 to 1."""

    path: str
    label: str
    share: float


@dataclass(frozen=True)
class Uncertainty:
    """Standard uncertainty of one parameter, in its unit, with the readings that matter most, the gravest first."""

    key: str
    standard: float
    leading: tuple[Lead, ...]


@dataclass(frozen=True)
class Shared:
    """Readings of one piece of equipment, by path, with the standard uncertainty of its calibration in their unit."""

    label: str
    paths: frozenset[str]
    standard: float


@dataclass(frozen=True)
class Typed:
    """A constant that was typed, assumed or leant on: where it is held, and its standard uncertainty.

    ``by_default`` says that nothing but the table of defaults tells how well it is known.
    """

    label: str
    holders: tuple[BaseModel, ...]
    name: str
    standards: tuple[float, ...]
    by_default: bool = True


@dataclass(frozen=True)
class Cell:
    """A reading with a resolution: where it stands, and the model and field that hold it."""

    path: str
    column: str
    label: str
    holder: BaseModel
    name: str
    resolution: float

    @property
    def value(self) -> float:
        return float(getattr(self.holder, self.name))

    def set(self, value: float) -> None:
        setattr(self.holder, self.name, value)


def uncertainties(
    method: Method[Any, Any, Any],
    readings: Any,
    settings: Any,
    context: Any,
    resolutions: Mapping[str, float] | None = None,
    shared: Sequence[Shared] = (),
    typed: Callable[[Any, Any, Any], Iterable[Typed]] = lambda *_: (),
    draws: int = _DRAWS,
) -> list[Uncertainty]:
    """Return the standard uncertainty of every numeric parameter.

    Arguments
    ---------
    readings, settings, context : of the method's own models; left as they are
    resolutions : resolution by path, where the instrument in use shows another step than the field declares
    shared : calibrations: what is off by one unknown amount in all readings of a piece
    typed : gives the constants that are not read, of readings, settings and context
    draws : how often a long column is disturbed; the error of its part is about 1 / sqrt(2 draws)

    Source: ISO/IEC Guide 98-3 (2008), 5.1.3 note 2: the derivative by disturbing each input by its own uncertainty.
    """
    own, settings, context = (one.model_copy(deep=True) for one in (readings, settings, context))
    base = _values(method, method.work_out(own, settings, context))
    effects: dict[str, dict[tuple[str, str], float]] = {key: {} for key in base}
    for column in _columns(own, resolutions or {}):
        made = _one_by_one if len(column) <= _CELL_BY_CELL else _all_at_once
        for where, squares in made(method, own, settings, context, base, column, draws):
            for key, square in squares.items():
                effects[key][where] = square
    models = (method, own, settings, context, base)
    for one in shared:
        cells = [cell for cell in cells_of(own) if cell.path in one.paths]
        moved = [(cell.holder, cell.name, one.standard) for cell in cells]
        for key, square in _together(*models, moved).items():
            effects[key][one.label, one.label] = square
    for constant in typed(own, settings, context):
        moved = [(h, constant.name, u) for h, u in zip(constant.holders, constant.standards, strict=True)]
        for key, square in _together(*models, moved).items():
            effects[key][constant.name, constant.label] = square
    return [Uncertainty(key, sqrt(sum(found.values())), _leading(found)) for key, found in effects.items()]


def cells_of(readings: BaseModel, resolutions: Mapping[str, float] | None = None) -> Iterator[Cell]:
    """Return every reading that is taken by an instrument with a resolution; counts are exact, left-out rows do not
    matter."""
    given = resolutions or {}
    several = (
        sum(isinstance(getattr(readings, n), list) and bool(getattr(readings, n)) for n in type(readings).model_fields)
        > 1
    )
    for name, info in type(readings).model_fields.items():
        value = getattr(readings, name)
        if isinstance(value, list):
            table = f"{info.title or name}: " if several else ""
            for i, row in enumerate(value):
                if isinstance(row, Row) and row.used:
                    for key, of in type(row).model_fields.items():
                        yield from _cell(
                            row,
                            key,
                            f"{name}.{i}.{key}",
                            f"{name}.{key}",
                            f"{table}{of.title or key}, row {i + 1}",
                            given,
                        )
        else:
            yield from _cell(readings, name, name, name, info.title or name, given)


def _cell(
    holder: BaseModel, name: str, path: str, column: str, label: str, resolutions: Mapping[str, float]
) -> Iterator[Cell]:
    resolution = resolutions.get(path) or resolution_of(type(holder), name)
    if resolution and isinstance(getattr(holder, name), float):
        yield Cell(path, column, label, holder, name, resolution)


def _columns(readings: BaseModel, resolutions: Mapping[str, float]) -> list[list[Cell]]:
    found: dict[str, list[Cell]] = {}
    for cell in cells_of(readings, resolutions):
        found.setdefault(cell.column, []).append(cell)
    return list(found.values())


def _values(method: Method[Any, Any, Any], reduction: Reduction) -> dict[str, float]:
    # How well determinations agree is a measure of doubt itself; a value for design is a decision, not a measurement.
    left = [one for one in method.results if one.agreement or one.opinion]
    return {
        p.key: p.value
        for p in reduction.parameters
        if p.value is not None and not any(one.gives(p.key) for one in left)
    }


def _together(
    method: Any,
    readings: Any,
    settings: Any,
    context: Any,
    base: dict[str, float],
    moved: list[tuple[BaseModel, str, float]],
) -> dict[str, float]:
    """Return the squared effect of what is off together: all of it moved up, and down, at once."""
    at = [float(getattr(holder, name)) for holder, name, _ in moved]
    found = []
    for sign in (1, -1):
        for (holder, name, standard), value in zip(moved, at, strict=True):
            setattr(holder, name, value + sign * standard)
        found.append(_values(method, method.work_out(readings, settings, context)))
    for (holder, name, _), value in zip(moved, at, strict=True):
        setattr(holder, name, value)
    above, below = found
    return _squares(base, above, below)


def _squares(base: dict[str, float], above: dict[str, float], below: dict[str, float]) -> dict[str, float]:
    """Return the squared effect of one step: half the difference between one up and one down."""
    return {key: ((above[key] - below[key]) / 2) ** 2 for key in base.keys() & above.keys() & below.keys()}


Squares = Iterator[tuple[tuple[str, str], dict[str, float]]]


def _one_by_one(
    method: Any, readings: Any, settings: Any, context: Any, base: dict[str, float], column: list[Cell], draws: int
) -> Squares:
    """Return the squared effect of each cell of a column: one step up and one down."""
    for cell in column:
        at, step = cell.value, cell.resolution / sqrt(12)
        cell.set(at + step)
        above = _values(method, method.work_out(readings, settings, context))
        cell.set(at - step)
        below = _values(method, method.work_out(readings, settings, context))
        cell.set(at)
        yield (cell.path, cell.label), _squares(base, above, below)


def _all_at_once(
    method: Any, readings: Any, settings: Any, context: Any, base: dict[str, float], column: list[Cell], draws: int
) -> Squares:
    """Return the squared effect of a long column: the variance when each of its cells is rounded at random.

    That is the sum over the cells where the result follows them; where it picks among them (the steepest part of a
    curve) a cell alone would tell too much.
    """
    rng = np.random.default_rng(0)
    at = [cell.value for cell in column]
    found: dict[str, list[float]] = {}
    for _ in range(draws):
        for cell, value, part in zip(column, at, rng.uniform(-0.5, 0.5, len(column)), strict=True):
            cell.set(value + float(part) * cell.resolution)
        for key, value in _values(method, method.work_out(readings, settings, context)).items():
            if key in base:
                found.setdefault(key, []).append(value)
    for cell, value in zip(column, at, strict=True):
        cell.set(value)
    title = column[0].label.rsplit(", row", 1)[0]
    yield (
        (column[0].column, f"{title}, {len(column)} rows"),
        {key: float(np.var(values)) for key, values in found.items()},
    )


def _leading(effects: dict[tuple[str, str], float]) -> tuple[Lead, ...]:
    total = sum(effects.values())
    gravest = sorted(effects.items(), key=lambda item: -item[1])[:_LEADING]
    return tuple(
        Lead(path, label, square / total) for (path, label), square in gravest if total and square >= _TOLD * total
    )
