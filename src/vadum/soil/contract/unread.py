"""Texts that stand in cells and are no readings: what was read is on the sheet and counts nowhere."""

from collections.abc import Iterator, Mapping

from pydantic import BaseModel

from vadum.soil.contract.cells import cell_complaint, column_of
from vadum.soil.contract.field import Readings
from vadum.soil.contract.finding import Finding, stop
from vadum.soil.contract.places import Column, column

NOT_READ = stop("not-read", "{label}{where}: {why}.", "Type the reading again, or clear the cell if there is none.")


def not_read(readings: Readings, settings: BaseModel, unread: Mapping[str, str]) -> Iterator[Finding]:
    """Yield a stop for every text in use that could not be taken, by path; a cell of a row left out, or that the school
    does not show, is not in use."""
    model = type(readings)
    for path, text in unread.items():
        one = column(model, column_of(path))
        row = int(path.split(".")[1]) if one.table else 0
        if _in_use(one, row, readings, settings):
            yield NOT_READ.at(
                path,
                label=one.label[:1].upper() + one.label[1:],
                where=f" in {one.title}, row {row + 1}" if one.table else "",
                why=_why(cell_complaint(model, path, text), text),
            )


def _why(complaint: str, text: str) -> str:
    """Return a complaint with the text it is about."""
    quoted = f"“{text.strip()}”"
    return complaint if quoted in complaint else f"{quoted} is not taken, {complaint}"


def _in_use(one: Column, row: int, readings: Readings, settings: BaseModel) -> bool:
    rows = getattr(readings, one.table) if one.table else []
    return one.shown_in(settings) and (row >= len(rows) or rows[row].used)
