"""A hole, pit or standpipe that is filled and read while its water falls, once or several times."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.levels import Series, iso, levels_view, read_of
from vadum.soil.bench.water_at import water_temperature
from vadum.soil.contract.field import HARMLESS, REQUIRED, Row, clock_reading, reading
from vadum.soil.contract.finding import Finding, stop, warn
from vadum.soil.contract.rows import numbered

MOST_FILLS = 12
Way = Literal["falls", "rises", ""]

TIME_BACK = stop(
    "time-back",
    "Fill {number}: {elapsed_min:g min} does not come after {last:g min}.",
    "Put the levels in the order in which they were read, or leave the row out with the reason.",
)
NUMBER_SKIPS = warn(
    "number-skips",
    "Number {number:g} comes after {before:g}: {missing:g} is not there.",
    "Look at the number in the first row of it; leave it blank where the one above goes on.",
)
WATER_STANDS = stop(
    "water-stands",
    "Fill {number}: the level is the same for {stood:g min}.",
    "Look whether the float or the dipper hangs; leave those rows out with the reason.",
)
WRONG_WAY = stop(
    "wrong-way",
    "Fill {number}: the water moves away from where it should go until {to_min:g min}.",
    "Misread, or water was added: number a new fill from there, or put the level right.",
)
_STANDS = 3


class FillRow(Row):
    """One fill: its water, and when its clock was started."""

    temperature_c: float | None = water_temperature()
    started_at: datetime | None = clock_reading("filled", "when its clock was started")


class LevelRow(Row):
    """The level of one fill at one time."""

    fill: int | None = reading(
        "fill", "", about="1, 2, 3; as above when left blank", low=1, high=MOST_FILLS, absent=HARMLESS
    )
    elapsed_min: float | None = reading(
        "after",
        "min",
        about="since this fill",
        low=0,
        high=20000,
        also=("time", "elapsed", "elapsed time", "minutes", "t"),
        absent=REQUIRED,
    )
    level_mm: float | None = reading(
        "level",
        "mm",
        about="on the scale, or down to the water",
        low=-100,
        high=60000,
        resolution=1.0,
        hand="row",
        absent=REQUIRED,
    )


@dataclass(frozen=True)
class Fill:
    """The readings of one fill in the order of the sheet: rows, minutes, and levels in the unit of their column."""

    number: int
    rows: list[int]
    minutes: NDArray[np.float64]
    level: NDArray[np.float64]
    reading: str = "level_mm"

    def cell(self, k: int) -> str:
        """Return the cell of its level number ``k``."""
        return f"levels.{self.rows[k]}.{self.reading}"

    @property
    def in_order(self) -> bool:
        return bool((np.diff(self.minutes) > 0).all())


def fills_of(levels: Sequence[Any], reading: str = "level_mm") -> list[Fill]:
    """Return the fills that are read, in the order of their numbers; ``reading`` is the column of the level."""
    kept: dict[int, list[tuple[int, float, float]]] = {}
    for i, number, row in numbered(levels, "fill"):
        level = getattr(row, reading)
        if row.used and row.elapsed_min is not None and level is not None:
            kept.setdefault(number, []).append((i, row.elapsed_min, level))
    return [
        Fill(
            number,
            [i for i, _, _ in read],
            np.array([t for _, t, _ in read]),
            np.array([z for _, _, z in read]),
            reading,
        )
        for number, read in sorted(kept.items())
    ]


def water_at(fills: Sequence[FillRow], number: int) -> float | None:
    """Return the temperature of a fill's water; as in the fill before where it was not read again."""
    read = [row.temperature_c for row in fills[:number] if row.used and row.temperature_c is not None]
    return read[-1] if read else None


def water_cell(fills: Sequence[FillRow], number: int) -> str:
    """Return the cell in which the temperature of a fill's water is typed: the last there is, where it has none."""
    return f"fills.{max(min(number, len(fills)), 1) - 1}.temperature_c"


def number_findings(levels: Sequence[Any]) -> list[Finding]:
    """Return where a number is missing between one row and the next; rows left out count, for they were there."""
    found, before = [], 0
    for i, number, _ in numbered(levels, "fill"):
        if number > before + 1:
            found.append(NUMBER_SKIPS.at(f"levels.{i}.fill", number=number, before=before, missing=before + 1))
        before = max(before, number)
    return found


def order_findings(fills: Sequence[Fill], *, rises: bool) -> list[Finding]:
    """Return what is wrong with times and with the way the water goes.

    Arguments
    ---------
    rises : whether the readings grow as the test goes on: a dipper's do while water falls
    """
    found: list[Finding] = []
    for fill in fills:
        for (t0, i), (t1, j) in pairwise(zip(fill.minutes.tolist(), fill.rows, strict=True)):
            if t1 <= t0:
                found.append(
                    TIME_BACK.at(
                        f"levels.{j}.elapsed_min",
                        f"levels.{i}.elapsed_min",
                        number=fill.number,
                        elapsed_min=t1,
                        last=t0,
                    )
                )
        moved = np.diff(fill.level) * (1 if rises else -1)
        found += [
            WRONG_WAY.at(fill.cell(k + 1), number=fill.number, to_min=float(fill.minutes[k + 1]))
            for k in np.flatnonzero(moved < 0).tolist()
        ]
        if len(moved) >= _STANDS and not moved[-_STANDS:].any():
            stood = float(fill.minutes[-1] - fill.minutes[-1 - _STANDS])
            found.append(WATER_STANDS.at(fill.cell(-1), number=fill.number, stood=stood))
    return found


def fills_view(
    levels: Sequence[Any],
    fills: Sequence[FillRow],
    figure: str,
    least: int,
    says: dict[int, str],
    name: str,
    towards: float | None = None,
    way: Way = "",
    reading: str = "level_mm",
    unit: str = "mm",
) -> dict[str, Any]:
    """Return run mode's view of fills that are read side by side, each with its clock.

    Arguments
    ---------
    least : how many are shown at least; one more than was begun is always there
    says : what is said of each, by number
    name : what one of them is called: ``fill``, ``run``
    towards, way : the level that the readings go towards, so that their first one tells which way they go; or that way
    """
    read: dict[int, list[tuple[int, float | None, float | None]]] = {}
    begun = 0
    for i, number, row in numbered(levels, "fill"):
        level = getattr(row, reading)
        if row.used:
            read.setdefault(number, []).append((i, row.elapsed_min, level))
        # The number of one that was left out is not given to another.
        begun = max(begun, number if level is not None else 0)
    found = []
    for k in range(1, min(MOST_FILLS, max(least, begun + 1)) + 1):
        row = fills[k - 1] if k <= len(fills) else None
        found.append(
            Series(
                number=k,
                name=f"{name} {k}",
                clock=f"fills.{k - 1}.started_at",
                startedAt=iso(row.started_at if row else None),
                read=read_of(read.get(k, [])),
                says=says.get(k, ""),
                towards=towards,
                way=way,
            )
        )
    return levels_view("levels", "fill", reading, "level", figure, found, unit)
