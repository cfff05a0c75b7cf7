"""Which column of a file is which reading: by its heading, another usual one, and its unit."""

import re
from dataclasses import dataclass, replace
from functools import cache

from pydantic import BaseModel

from vadum.exchange.own_files import WORKED_OUT
from vadum.exchange.spreadsheet import Grid
from vadum.exchange.ways import Way
from vadum.soil.contract.field import also_named, unit_of
from vadum.soil.numbers.units import is_unit

HEADING_ROWS = 120
"""So many rows from the top are looked through for a heading."""


# What a clock or a logger calls the time since the beginning.
_TIMES = ("time", "clock", "time of day", "timestamp", "date time", "datetime", "date and time")


@dataclass(frozen=True)
class Target:
    """A table or logger file of the method, with the columns it takes."""

    name: str
    title: str
    model: type[BaseModel]
    columns: list[str]
    log: bool


@dataclass
class Column:
    """A column of the file: its heading and unit, the reading it was matched to (empty: not taken), its first cell,
    how it is read and could be, and the least and the most of what was read."""

    heading: str
    unit: str
    reading: str = ""
    sample: str = ""
    way: Way = Way.PLAIN
    ways: tuple[Way, ...] = (Way.PLAIN,)
    asked: str = ""
    """What a person has to say first, because nothing in the file tells."""
    found: tuple[float, float, int] | None = None
    """Least, most and how many, in the unit of the reading."""


def heading_row(grid: Grid, target: Target) -> tuple[int, list[Column]]:
    """Return the row that fits as heading, and its columns."""
    best: tuple[int, int, list[Column]] = (-1, 0, [])
    for at, row in enumerate(grid.rows[:HEADING_ROWS]):
        texts = [str(cell).strip() if cell is not None else "" for cell in row]
        columns = _matched(texts, target)
        fit = sum(1 for column in columns if column.reading)
        if fit > best[0]:
            best = (fit, at, columns)
    return best[1], best[2]


def names_hidden(heading: str, target: Target) -> bool:
    """Return whether a heading names a reading of the table that the test's school does not read."""
    hidden = [key for key in target.model.model_fields if key not in target.columns]
    known, elsewhere = (_matched([heading], one)[0].reading for one in (target, replace(target, columns=hidden)))
    return bool(elsewhere and not known)


def _matched(texts: list[str], target: Target) -> list[Column]:
    columns = [Column(text, *split_unit(text)[1:]) for text in texts]
    free = list(target.columns)
    for exact in (True, False):
        for column in columns:
            if column.reading or not column.heading or WORKED_OUT in column.heading:
                continue
            words = _words(split_unit(column.heading)[0])
            for key in free:
                # What is weighed in g is no number of a tin, whatever both are called.
                if column.unit and unit_of(target.model, key) is None:
                    continue
                names = _names(target.model, key)
                if words in names if exact else any(_alike(words, name) for name in names):
                    column.reading = key
                    free.remove(key)
                    break
    return columns


def _alike(words: str, name: str) -> bool:
    """Return whether one heading's words are all in the other's; single letters do not count as alike."""
    mine, theirs = set(words.split()), set(name.split())
    return bool(mine and theirs) and len(words) > 2 and len(name) > 2 and (mine <= theirs or theirs <= mine)


@cache
def _names(model: type[BaseModel], key: str) -> set[str]:
    unit = unit_of(model, key)
    bare = key.rsplit("_", 1)[0] if unit and "_" in key else key
    title = model.model_fields[key].title or key
    timed = _TIMES if unit == "min" and key.startswith("elapsed") else ()
    return {_words(key), _words(bare), _words(title), *(_words(name) for name in also_named(model, key)), *timed}


def _words(text: str) -> str:
    return " ".join(re.sub(r"[^a-z0-9]+", " ", text.lower()).split())


def split_unit(heading: str) -> tuple[str, str]:
    """Return heading and unit of ``mass [g]``, ``mass (g)``, ``mass, g`` or ``mass / g``."""
    match = re.fullmatch(r"(.*?)\s*(?:\[([^\]]*)\]|\(([^)]*)\)|[,/]\s*(\S+))\s*", heading)
    if match is None:
        return heading, ""
    return match[1], (match[2] or match[3] or match[4] or "").strip()


def heading_of(model: type[BaseModel], key: str) -> str:
    unit = unit_of(model, key)
    return f"“{model.model_fields[key].title or key}{f' [{unit}]' if unit else ''}”"


def units_below(grid: Grid, at: int, columns: list[Column]) -> int:
    """Take the row of units below the headings, where there is one; return how many rows that were."""
    row = grid.rows[at + 1] if at + 1 < len(grid.rows) else []
    texts = [str(cell).strip() if cell is not None else "" for cell in row]
    if at < 0 or not any(unit_in(text) for text in texts) or any(text and not unit_in(text) for text in texts):
        return 0
    for column, text in zip(columns, texts, strict=False):
        column.unit = column.unit or unit_in(text).strip("-")
    return 1


def unit_in(text: str) -> str:
    """Return the unit a cell holds, bare or in brackets; "-" and the like for none; "" when it holds something else."""
    bare = text.strip().strip("[]()").strip()
    if bare in ("-", "–", "1", "%"):
        return bare if bare == "%" else "-"
    return bare if is_unit(bare) else ""
