"""Tables that carry several things at once, told apart by a number in one of their columns."""

from collections.abc import Container, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.field import Log, Readings, Row

R = TypeVar("R", bound=Row)
Read = TypeVar("Read", bound=Readings)


@dataclass(frozen=True)
class Parts:
    """The table whose rows are parts of a test, specimens or cylinders; the column by which rows of other tables name
    theirs, and the tables that follow its order."""

    table: str
    column: str
    in_order: tuple[str, ...] = ()


def without_left_out(readings: Read, parts: Parts | None) -> Read:
    """Return the readings in which all that is told of a part left out is left out with it."""
    rows: list[Row] = getattr(readings, parts.table) if parts else []
    gone = {number: row.left_out for number, row in enumerate(rows, 1) if not row.used}
    if parts is None or not gone:
        return readings
    changed: dict[str, Any] = {}
    for name, told in readings.__dict__.items():
        if isinstance(told, Log):
            if parts.column in type(told).model_fields:
                changed[name] = _of_others(told, getattr(told, parts.column), gone)
        elif isinstance(told, list) and told and isinstance(told[0], Row) and name != parts.table:
            if name in parts.in_order:
                whose: list[tuple[int, int, Row]] = [(i, i + 1, row) for i, row in enumerate(told)]
            elif parts.column in type(told[0]).model_fields:
                whose = numbered(told, parts.column)
            else:
                continue
            changed[name] = [
                row.model_copy(update={"left_out": gone[number]}) if number in gone and row.used else row
                for _, number, row in whose
            ]
    return readings.model_copy(update=changed)


def _of_others(log: Log, numbers: list[float], gone: dict[int, str | None]) -> Log:
    """Return a log without the rows of some parts."""
    kept = [i for i, number in enumerate(numbers) if number not in gone]
    return log.model_copy(update={name: [column[i] for i in kept] for name, column in log.columns().items()})


def numbered(rows: Sequence[R], column: str = "specimen") -> list[tuple[int, int, R]]:
    """Return place in the table, number and row, for every row; a blank number stands for the one above, 1 at first."""
    found, number = [], 1
    for i, row in enumerate(rows):
        if (own := row.__dict__[column]) is not None:
            number = own
        found.append((i, number, row))
    return found


def next_part(rows: Sequence[Row], done: Container[int]) -> int:
    """Return the number of the part that comes next; that of one left out is not given again."""
    waiting = (number for number, row in enumerate(rows, 1) if row.used and number not in done)
    return next(waiting, len(rows) + 1)


def called(i: int, name: str | None) -> str:
    """Return what a place in a row of a table is called: by its own name, else by its number."""
    return name or f"place {i + 1}"


def by_row(table: str, key: str, rows: NDArray[np.int64], values: NDArray[np.float64]) -> dict[str, float]:
    """Return worked-out cells by path; what comes from a logger file has row -1, and no cell."""
    typed = rows >= 0
    return {f"{table}.{i}.{key}": value for i, value in zip(rows[typed].tolist(), values[typed].tolist(), strict=True)}
