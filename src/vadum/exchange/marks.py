"""Decimal marks and thousands marks of a file: what the whole of it shows is used for each of its numbers."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

from vadum.exchange.spreadsheet import Cell
from vadum.soil.choice import Choice

_NUMBER = re.compile(r"[+\-−]?[\d.,'’ \u00a0\u202f]*\d")
_GAPS = re.compile(r"(?<=\d)['’ \u00a0\u202f](?=\d{3}(?:\D|$))")
_LOOKED_AT = 2000


class Decimal(Choice):
    """Which mark stands before the decimals of a file."""

    FOUND = "found", "as the file shows"
    POINT = "point", "point"
    COMMA = "comma", "comma"


@dataclass(frozen=True)
class Marks:
    """The decimal mark of a file, and whether the other one parts thousands; "" where nothing tells."""

    decimal: str = ""

    @property
    def thousands(self) -> str:
        return {".": ",", ",": "."}.get(self.decimal, "")

    def plain(self, cell: Cell) -> Cell:
        """Return a number that is written with thousands marks without them, with a decimal point; others as they
        are."""
        if not isinstance(cell, str) or not _NUMBER.fullmatch(cell.strip()):
            return cell
        text = _GAPS.sub("", cell.strip())
        last = max(text.rfind("."), text.rfind(","))
        marks = [mark for mark in text if mark in ".,"]
        if len(marks) > 1:
            # The mark that stands last and once is the decimal one; a mark that repeats parts thousands.
            decimal = text[last] if marks.count(text[last]) == 1 else ""
            whole, behind = (text[:last], text[last + 1 :]) if decimal else (text, "")
            groups = re.split(r"[.,]", whole.lstrip("+-−"))
            if all(len(group) == 3 for group in groups[1:]) and 1 <= len(groups[0]) <= 3:
                return re.sub(r"[.,]", "", whole) + (f".{behind}" if decimal else "")
            return cell
        parted = len(marks) == 1 and marks[0] == self.thousands and re.fullmatch(r"[+\-−]?\d{1,3}[.,]\d{3}", text)
        return text.replace(marks[0], "") if parted else text if text != cell.strip() else cell


def marks_of(cells: Iterable[Cell], asked: Decimal = Decimal.FOUND) -> Marks:
    """Return the marks of a file, as a person says or as its numbers show.

    A number with both marks shows which is which; one with a single mark does where not exactly three digits follow.
    """
    if asked != Decimal.FOUND:
        return Marks("." if asked == Decimal.POINT else ",")
    shown: dict[str, int] = {".": 0, ",": 0}
    for text in (str(cell).strip() for _, cell in zip(range(_LOOKED_AT), cells, strict=False) if isinstance(cell, str)):
        if not _NUMBER.fullmatch(text):
            continue
        last = max(text.rfind("."), text.rfind(","))
        behind = len(text) - last - 1
        if last >= 0 and text.count(text[last]) == 1 and (behind != 3 or {".", ","} <= set(text)):
            shown[text[last]] += 1
    if bool(shown["."]) == bool(shown[","]):
        return Marks()
    return Marks("." if shown["."] else ",")
