"""What a person types into a reading: ``38.62``, ``0,85``, ``3.4in``, ``1/2 in``, ``12 lbf``."""

import math
import re
import unicodedata

from vadum.soil.numbers.units import UnitError, convert

_NUMBER = r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?"
# A prime before a figure is no unit: 10' is ten feet, 12'345 is somebody's way of writing thousands.
_ENTRY = re.compile(rf"(?P<number>{_NUMBER})\s*(?P<unit>(?!['’]\d)[^\d\s.,:;+-].*)?")
_FRACTION = re.compile(r"(?:(?P<whole>\d+)(?:\s+|-))?(?P<top>\d+)/(?P<bottom>\d+)\s*(?P<unit>[^\d\s.,/].*)?")
# Minutes and seconds, or hours, minutes and seconds, in a column of times.
_CLOCK = re.compile(r"(?P<first>\d{1,4}):(?P<second>[0-5]\d)(?::(?P<third>[0-5]\d))?")
# Seconds of a column's unit, and of what stands before the only colon there: minutes, in a column of hours hours.
_CLOCKED = {"s": (1.0, 60.0), "min": (60.0, 60.0), "h": (3600.0, 3600.0)}
_EIGHTHS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_OF_A_RULE = (2, 4, 8, 16, 32, 64)
# Marks of pasted text that nobody sees: byte order, joiners, directions, soft hyphens.
_UNSEEN = dict.fromkeys("\ufeff\u200b\u200c\u200d\u2060\u200e\u200f\u00ad")
# Of these, joiners and marks of direction spell words of some languages; what turns the order of signs does not.
_UNSEEN_IN_WORDS = dict.fromkeys(map(ord, "\ufeff\u200b\u2060\u00ad\u202a\u202b\u202c\u202d\u202e"))
_LOOKALIKES = str.maketrans(
    {"−": "-", "\u2013": "-", "\u00a0": " ", "\u202f": " ", "\u2009": " "}
    | {"º": "°", "˚": "°", "℃": "°C", "℉": "°F"}
    | {sign: f" {plain}" for sign, plain in _EIGHTHS.items()}
    | _UNSEEN
)
# Letters that stand for figures where a hand, or what reads a photograph, took one for the other.
_LETTERS = str.maketrans("OoQlIS", "000115")
_SHOWN = 24


class EntryError(ValueError):
    """Text that is not a number the column can take; the message is meant for the person who typed it."""


def unit_typed(text: str) -> str:
    """Return the unit that was typed behind a number, "" for a bare number or for what is no number at all."""
    cleaned = text.translate(_LOOKALIKES).strip()
    match = _FRACTION.fullmatch(cleaned) or _ENTRY.fullmatch(cleaned)
    return (match["unit"] or "").strip() if match else ""


def words_typed(text: str) -> str:
    """Return typed words without marks that nobody sees, each sign written in the one way: names that look the same are
    the same."""
    return text if text.isascii() else unicodedata.normalize("NFC", text.translate(_UNSEEN_IN_WORDS))


def parse_entry(text: str, unit: str) -> float:
    """Read a typed number in the column's unit.

    Arguments
    ---------
    text : what was typed; a bare number is in the column's unit; a comma is a decimal mark
    unit : the column's unit, ``""`` for a plain number

    Returns
    -------
    The number in the column's unit.

    Raises
    ------
    EntryError
        If the text is not one finite number with at most one unit of the column's kind.
    """
    cleaned = text.translate(_LOOKALIKES).strip()
    if (match := _CLOCK.fullmatch(cleaned)) and unit in _CLOCKED:
        return _clock(match, unit)
    if match := _FRACTION.fullmatch(cleaned):
        number = int(match["whole"] or 0) + _fraction(match, cleaned)
    elif match := _ENTRY.fullmatch(cleaned):
        number = float(match["number"].replace(",", "."))
    else:
        raise EntryError(_complaint(cleaned, unit))
    if not math.isfinite(number):
        raise EntryError(f"“{_short(cleaned)}” is too large to be a reading")
    given = (match["unit"] or "").strip()
    if not given:
        return number
    try:
        # 3 in is 76.2 mm, not 76.19999999999999.
        return float(f"{_converted(number, given, unit):.12g}")
    except UnitError as error:
        raise EntryError(_complaint(cleaned, unit) if _is_lettered(cleaned) else str(error)) from error


def _converted(number: float, given: str, unit: str) -> float:
    if not unit:
        raise UnitError(f"“{_short(given)}” has no place here; this column is a plain number")
    return convert(number, given, unit)


def _fraction(match: re.Match[str], text: str) -> float:
    """Return a fraction. A bare one is a part of one as rules have them; else the key beside the mark was hit."""
    top, bottom = int(match["top"]), int(match["bottom"])
    if bottom == 0:
        raise EntryError(f"“{_short(text)}” divides by zero")
    told = (top < bottom, bottom in _OF_A_RULE)
    if not (any(told) if match["unit"] else all(told)):
        raise EntryError(f"“{_short(text)}” is two numbers; type one, with a decimal mark if {top}.{bottom} is meant")
    return top / bottom


def _clock(match: re.Match[str], unit: str) -> float:
    """Return a time with colons in the unit of its column: ``2:30`` is two and a half minutes, in a column of hours two
    and a half hours; ``1:02:30`` is hours, minutes and seconds everywhere."""
    counts, before = _CLOCKED[unit]
    first, second, third = (int(match[name] or 0) for name in ("first", "second", "third"))
    seconds = 3600 * first + 60 * second + third if match["third"] else before * first + before / 60 * second
    return float(f"{seconds / counts:.12g}")


def _is_lettered(text: str) -> bool:
    return re.search(r"\d", text) is not None and re.fullmatch(_NUMBER, text.translate(_LETTERS)) is not None


def _complaint(text: str, unit: str) -> str:
    shown = _short(text)
    if _is_lettered(text):
        return f"“{shown}” has a letter among its figures"
    if re.fullmatch(r"[\d.,\s'’]+(?:[^\d\s.,]+)?", text) and re.search(r"\d", text):
        return f"“{shown}” has two marks or a gap; type it with one decimal mark and no thousands mark"
    where = f"; this column takes a number in {unit}" if unit else "; this column takes a number"
    return f"“{shown}” is not a number{where}"


def _short(text: str) -> str:
    return text if len(text) <= _SHOWN else text[:_SHOWN] + "…"
