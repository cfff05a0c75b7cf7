"""How the cells of a column are to be read: times of several kinds, masses that add up; and what is no reading."""

import re
from collections.abc import Sequence
from datetime import datetime, timedelta
from itertools import pairwise

from pydantic import BaseModel

from vadum.exchange.spreadsheet import Cell
from vadum.soil.choice import Choice
from vadum.soil.contract.field import unit_of
from vadum.soil.numbers.units import convert

_PARTS = re.compile(r"(\d+):(\d{1,2})(?::(\d{1,2}(?:[.,]\d+)?))?")
_STAMPS = ("%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M", "%d/%m/%Y %H:%M:%S", "%d/%m/%Y %H:%M", "%Y/%m/%d %H:%M:%S")
_TIMES = frozenset({"s", "min", "h", "d"})
_SUMMED = re.compile(r"(?<![a-z])(cum|cumul[a-z]*|total|accumulated|running|summed)(?![a-z])")
_OF_DAY = re.compile(r"\b(clock|time of day)\b")
# An elapsed time hardly begins between six in the morning and the evening; a time of day does.
_WORKING_HOURS = range(6, 24)
_LEAST_RISING = 5
_BLANK = frozenset({"", "-", "–", "—", "n.a.", "na", "n/a", "nan", "none", "null", "...", "…", "#n/a", "missing"})
_SUMMARY = re.compile(
    r"(average|mean|avg|sum|total|min|max|minimum|maximum|median|st(an)?d\.?( dev\.?)?|range)[:.]?", re.I
)


class Way(Choice):
    """How a column is read."""

    PLAIN = "plain", "as it is written"
    ADDS_UP = "adds-up", "adds up from row to row"
    MIN_SEC = "min-sec", "minutes:seconds"
    HOUR_MIN = "hour-min", "hours:minutes(:seconds)"
    OF_DAY = "of-day", "time of day, from the first row"
    STAMP = "stamp", "date and time, from the first row"
    DAYS = "days", "fraction of a day"


TIMED = (Way.PLAIN, Way.MIN_SEC, Way.HOUR_MIN, Way.OF_DAY, Way.STAMP, Way.DAYS)
# What a heading's unit may say of a time.
BY_UNIT = {
    "mm:ss": Way.MIN_SEC,
    "m:ss": Way.MIN_SEC,
    "min:s": Way.MIN_SEC,
    "min:sec": Way.MIN_SEC,
    "h:mm": Way.HOUR_MIN,
    "hh:mm": Way.HOUR_MIN,
    "h:mm:ss": Way.HOUR_MIN,
    "hh:mm:ss": Way.HOUR_MIN,
    "h:min": Way.HOUR_MIN,
}


def offered(model: type[BaseModel], key: str) -> tuple[Way, ...]:
    """Return the ways a reading may stand in a file; one alone where there is nothing to choose."""
    if unit_of(model, key) in _TIMES:
        return TIMED
    return (
        (Way.PLAIN, Way.ADDS_UP) if key.replace("_retained_", "_cumulative_") in _beside(model, key) else (Way.PLAIN,)
    )


def _beside(model: type[BaseModel], key: str) -> set[str]:
    return set(model.model_fields) - {key}


def proposed(ways: Sequence[Way], heading: str, cells: Sequence[Cell], others: Sequence[str] = ()) -> tuple[Way, str]:
    """Return the way a column seems to be read, and what is to be asked because nothing tells; "" for nothing.

    Arguments
    ---------
    heading : in small letters, without unit
    cells : of the column, from the first row on
    others : headings of the other columns; where one of them says that it adds up, this one does not
    """
    texts = [str(cell).strip() for cell in cells if cell is not None and str(cell).strip()]
    if Way.ADDS_UP in ways:
        if _SUMMED.search(heading):
            return Way.ADDS_UP, ""
        if any(_SUMMED.search(other) for other in others):
            return Way.PLAIN, ""
        values = [value for text in texts if (value := _float(text)) is not None]
        if len(values) >= _LEAST_RISING and all(a < b for a, b in pairwise(values)):
            return Way.PLAIN, "it rises in every row: say whether it is the mass on each sieve, or adds up"
    if Way.STAMP not in ways or not texts:
        return Way.PLAIN, ""
    if _stamp(texts[0]) is not None:
        return Way.STAMP, ""
    parts = [_PARTS.fullmatch(text) for text in texts[:200]]
    whole = [part for part in parts if part]
    if not whole:
        return Way.PLAIN, ""
    if _OF_DAY.search(heading):
        return Way.OF_DAY, ""
    if any(part[3] for part in whole):
        return (Way.OF_DAY if int(whole[0][1]) in _WORKING_HOURS else Way.HOUR_MIN), ""
    if len(whole) == len(parts) and int(whole[0][1]) in _WORKING_HOURS:
        return Way.MIN_SEC, "it begins at " + whole[0][
            0
        ] + ": say whether that is a time of day, or minutes and seconds"
    return Way.MIN_SEC, ""


def turned(way: Way, cells: Sequence[Cell], unit: str) -> list[Cell]:
    """Return the cells of a column as numbers in a unit of time, or as single masses; what cannot be stays as it is."""
    if way == Way.PLAIN:
        return list(cells)
    if way == Way.ADDS_UP:
        return _single(cells)
    if way in (Way.OF_DAY, Way.STAMP):
        return _since_first(way, cells, unit)
    return [_spanned(way, cell, unit) for cell in cells]


def is_blank(cell: Cell) -> bool:
    """Return whether a cell says that there is no reading."""
    return cell is None or (isinstance(cell, str) and cell.strip().casefold() in _BLANK)


def no_reading(row: Sequence[Cell], taken: Sequence[int], number_in: Sequence[int]) -> str:
    """Return why a row is none of readings: a mean below the rows, a sentence; "" where it is one.

    Arguments
    ---------
    taken : places of the columns that are taken
    number_in : those of them that take numbers
    """
    filled = [i for i, cell in enumerate(row) if not is_blank(cell)]
    if not filled:
        return ""
    first = str(row[filled[0]]).strip()
    if _SUMMARY.fullmatch(first):
        return first
    # Words alone in a row of a table of numbers.
    if len(filled) == 1 and len(taken) > 1 and number_in and _float(first) is None and " " in first:
        return first[:40]
    return ""


def _single(cells: Sequence[Cell]) -> list[Cell]:
    made: list[Cell] = []
    before = 0.0
    for cell in cells:
        value = cell if isinstance(cell, float) else _float(str(cell or ""))
        made.append(cell if value is None else float(f"{value - before:.10g}"))
        before = before if value is None else value
    return made


def _since_first(way: Way, cells: Sequence[Cell], unit: str) -> list[Cell]:
    made: list[Cell] = []
    first: datetime | None = None
    before, days = None, 0
    for cell in cells:
        at = _stamp(str(cell).strip()) if way == Way.STAMP else _of_day(str(cell).strip())
        if at is None:
            made.append(cell)
            continue
        # After midnight a clock begins again.
        if way == Way.OF_DAY and before is not None and at < before:
            days += 1
        before = at
        at = at + timedelta(days=days)
        first = first or at
        made.append(_in(unit, (at - first).total_seconds()))
    return made


def _spanned(way: Way, cell: Cell, unit: str) -> Cell:
    if way == Way.DAYS:
        value = cell if isinstance(cell, float) else _float(str(cell or ""))
        return cell if value is None else _in(unit, value * 86_400)
    part = _PARTS.fullmatch(str(cell).strip()) if cell is not None else None
    if part is None:
        return cell
    if part[3] or way == Way.HOUR_MIN:
        return _in(unit, int(part[1]) * 3600 + int(part[2]) * 60 + float((part[3] or "0").replace(",", ".")))
    return _in(unit, int(part[1]) * 60 + int(part[2]))


def _of_day(text: str) -> datetime | None:
    part = _PARTS.fullmatch(text)
    if part is None or int(part[1]) > 23:
        return None
    seconds = float((part[3] or "0").replace(",", "."))
    return datetime(2000, 1, 1) + timedelta(hours=int(part[1]), minutes=int(part[2]), seconds=seconds)


def _stamp(text: str) -> datetime | None:
    if len(text) < 10 or not text[0].isdigit() or ":" not in text:
        return None
    try:
        return datetime.fromisoformat(text).replace(tzinfo=None)
    except ValueError:
        pass
    for form in _STAMPS:
        try:
            return datetime.strptime(text, form)
        except ValueError:
            continue
    return None


def _in(unit: str, seconds: float) -> float:
    return float(f"{convert(seconds, 's', unit):.12g}")


def _float(text: str) -> float | None:
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        return None
