"""Spreadsheets into a test: a preview that saves nothing, then one save of all of it or of nothing."""

import json
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, File, Form, HTTPException, Request, Response, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import ValidationError
from sqlmodel import Session

from vadum.drawing import render
from vadum.exchange.headings import Column, Target
from vadum.exchange.joining import held, joined, next_number, too_many
from vadum.exchange.marks import Decimal
from vadum.exchange.own_files import sheet_of
from vadum.exchange.preparing import How
from vadum.exchange.readings_import import AS_FOUND, Proposal, propose, targets
from vadum.exchange.spreadsheet import SpreadsheetError, read_grid
from vadum.exchange.workbook import LONGEST_TITLE
from vadum.present import reduction_in
from vadum.records.attachments import attach_file
from vadum.records.context import footing
from vadum.records.logs import with_logs
from vadum.records.mappings import recall, recorder, remember
from vadum.records.saving import Change, locked, save
from vadum.records.tables import Test
from vadum.records.units import units_of_test
from vadum.soil.contract.cells import Sheet, cell_text, enter
from vadum.soil.contract.field import Readings, unit_of
from vadum.soil.registry import method as method_of
from vadum.web.rendering import Db, Who, get, page, to
from vadum.web.view import verdict

router = APIRouter()
_FIRST_ROWS, _LAST_ROWS = 8, 3
_FIGURE = (560.0, 380.0)


@dataclass(frozen=True)
class Asked:
    """How a person wants a file to be read."""

    target: str
    mapping: list[str] | None
    sheet: str
    append: bool
    constants: dict[str, str]
    how: How | None

    @classmethod
    def sent(
        cls,
        target: Annotated[str, Form()] = "",
        mapping: Annotated[str, Form()] = "",
        sheet: Annotated[str, Form()] = "",
        mode: Annotated[Literal["replace", "append", ""], Form()] = "",
        constants: Annotated[str, Form(max_length=4000)] = "",
        how: Annotated[str, Form(max_length=20_000)] = "",
    ) -> "Asked":
        """Return what a form says."""
        try:
            names = [str(name) for name in json.loads(mapping)] if mapping else None
            known = {str(key): str(value) for key, value in (json.loads(constants) if constants else {}).items()}
            said = How.model_validate_json(how) if how else None
        except ValidationError as error:
            raise HTTPException(422, "How the columns are to be read cannot be understood.") from error
        except (json.JSONDecodeError, TypeError, AttributeError) as error:
            raise HTTPException(422, "The matching of columns cannot be read.") from error
        return cls(target, names, sheet, mode == "append", known, said)


@router.get("/tests/{test_id}/import", response_class=HTMLResponse)
def import_page(request: Request, session: Db, test_id: int) -> Response:
    test = get(session, Test, test_id, "test")
    method = method_of(test.method)
    if locked(test) or not targets(method.Readings):
        return to(request, "worksheet", test_id=test_id)
    return page(request, "imports/import.html", test=test, method=method, wanted=_wanted(test))


@router.post("/api/tests/{test_id}/import/preview")
def import_preview(
    session: Db, test_id: int, file: Annotated[UploadFile, File()], asked: Annotated[Asked, Depends(Asked.sent)]
) -> Response:
    """Say what a file would bring, with every fault by row; nothing is saved."""
    test = get(session, Test, test_id, "test")
    proposal, sheets, _ = _proposed(session, test, file, asked)
    return JSONResponse(_shown(session, test, proposal, asked, file.filename or "", sheets))


@router.post("/api/tests/{test_id}/import")
def import_readings(
    session: Db,
    who: Who,
    test_id: int,
    file: Annotated[UploadFile, File()],
    base_revision: Annotated[int, Form()],
    save_key: Annotated[str, Form(min_length=8, max_length=64)],
    asked: Annotated[Asked, Depends(Asked.sent)],
) -> Response:
    """Save all that a file brings as one revision, or nothing.

    It replaces what the table holds, or with ``mode=append`` stands below it; ``constants`` is a JSON object of what
    stands in every row, by reading. A number of the specimen that the file lacks is the next that is free.
    """
    test = get(session, Test, test_id, "test")
    proposal, sheets, data = _proposed(session, test, file, asked)
    if proposal.faults:
        return JSONResponse(
            _shown(session, test, proposal, asked, file.filename or "", sheets)
            | {"message": "Nothing was saved: the file has faults."},
            422,
        )
    cells, logged = joined(proposal, _whole(session, test), file.filename or "", append=asked.append)
    change = Change(
        base_revision,
        who,
        cells=cells,
        logs=logged,
        reason=f"from {file.filename or 'a file'}"[:400],
        save_key=save_key,
    )
    # In one transaction with the readings: the file as it came, and how its columns were matched by hand.
    attach_file(session, test, file.filename or "file", data, who)
    if asked.mapping or asked.how:
        remember(
            session,
            test.method,
            [c.heading for c in proposal.columns],
            recorder(test),
            proposal.target.name,
            [c.reading for c in proposal.columns],
            (asked.how or AS_FOUND).model_dump(mode="json"),
        )
    save(session, test, change)
    return JSONResponse({"revision": test.revision, "count": proposal.count})


def _whole(session: Session, test: Test) -> dict[str, Any]:
    """Return the readings of a test with the rows of its logger files."""
    return with_logs(session, test.readings)


def _proposed(session: Session, test: Test, file: UploadFile, asked: Asked) -> tuple[Proposal, list[str], bytes]:
    """Return what the file would bring, the sheets of the workbook, and the file as it came."""
    method = method_of(test.method)
    model, settings = method.Readings, method.Settings.model_validate(test.settings)
    data = file.file.read()
    readings = _whole(session, test)

    def constants(target: Target) -> dict[str, str]:
        return next_number(target, readings, append=asked.append) | asked.constants

    try:
        grid = read_grid(data, asked.sheet)
        # A workbook of ours begins with the results: the sheet of a table is the one to read.
        if not asked.sheet and (own := sheet_of(grid.sheets, _sheet_names(model, asked.target))):
            grid = read_grid(data, own)
        proposal = propose(model, grid, asked.target, asked.mapping, constants, settings, asked.how or AS_FOUND)
        untold = not asked.mapping and not asked.how
        by = recorder(test)
        known = recall(session, test.method, [c.heading for c in proposal.columns], by) if untold else None
        if known and asked.target in ("", known.target):
            how = How.model_validate(known.how)
            if how != AS_FOUND or known.mapping != [c.reading for c in proposal.columns]:
                proposal = propose(model, grid, known.target, known.mapping, constants, settings, how)
                proposal.notes.append(_remembered(known.instrument, by))
    except SpreadsheetError as error:
        raise HTTPException(422, str(error)) from error
    if asked.append and not proposal.faults:
        proposal.faults += too_many(proposal, readings, model)
    return proposal, grid.sheets, data


def _remembered(known: str, by: str) -> str:
    """Return what is said of columns that are read as before."""
    if known == by:
        of = f" from {by}" if by else ""
        return f"Columns are matched and read as for the last file with these headings{of}."
    theirs = f"from {known}" if known else "of a test that names no instrument"
    return f"Columns are matched and read as for a file {theirs}: look at units and signs."


def _sheet_names(model: type[Readings], target: str) -> list[str]:
    """Return what sheets of the tables are called, of one of them where it is asked for."""
    return [name for t in targets(model) if target in ("", t.name) for name in (t.title[:LONGEST_TITLE], t.name)]


def _shown(
    session: Session, test: Test, proposal: Proposal, asked: Asked, name: str, sheets: list[str]
) -> dict[str, Any]:
    """Return the preview: matched columns, first rows, faults, and what the readings would come to."""
    keys = proposal.target.columns
    count = proposal.count if not (proposal.target.log and proposal.faults) else 0
    first, last = range(min(_FIRST_ROWS, count)), range(max(_FIRST_ROWS, count - _LAST_ROWS), count)
    between = [["…"] * len(keys)] if count > _FIRST_ROWS + _LAST_ROWS else []
    shown = [_row(proposal, i) for i in first] + between + [_row(proposal, i) for i in last]
    answer: dict[str, Any] = {
        "file": name,
        "sheets": sheets,
        "target": proposal.target.name,
        "targets": [{"name": t.name, "title": t.title} for t in targets(method_of(test.method).Readings)],
        "columns": [
            {
                "heading": c.heading or f"column {i}",
                "unit": c.unit,
                "reading": c.reading,
                "sample": c.sample,
                "way": "" if c.asked else c.way,
                "asked": c.asked,
                "ways": [{"code": way, "label": way.label} for way in c.ways] if len(c.ways) > 1 else [],
                "found": _found(c),
            }
            for i, c in enumerate(proposal.columns, 1)
        ],
        "keys": [{"key": key, "label": _label(proposal, key)} for key in keys],
        "constants": [
            {"key": key, "label": _label(proposal, key), "value": proposal.constants.get(key, "")}
            for key in proposal.unmatched
        ],
        "holds": held(proposal.target, _whole(session, test)),
        "rows": shown,
        "count": proposal.count,
        "faults": [{"row": f.row, "column": f.column, "message": f.message} for f in proposal.faults],
        "notes": proposal.notes,
        "dropped": proposal.dropped,
        "lacking": [_label(proposal, key) for key in proposal.lacking],
        "decimals": [{"code": mark, "label": mark.label} for mark in Decimal],
        "revision": test.revision,
    }
    return answer | (_outcome(session, test, proposal, asked, name) if not proposal.faults else {})


def _row(proposal: Proposal, i: int) -> list[str]:
    """Return a row as it will be read."""
    keys = proposal.target.columns
    if proposal.target.log:
        return [f"{proposal.columns_logged[key][i]:g}" for key in keys]
    return [cell_text(proposal.rows[i].get(key), None) for key in keys]


def _found(column: Column) -> str:
    """Return least, most and number of what a column gave."""
    if column.found is None:
        return ""
    least, most, count = column.found
    return f"{least:g} to {most:g}, {count}" if count > 1 else f"{least:g}"


def _label(proposal: Proposal, key: str) -> str:
    info, unit = proposal.target.model.model_fields[key], unit_of(proposal.target.model, key)
    return f"{info.title or key}{f', {unit}' if unit else ''}"


def _outcome(session: Session, test: Test, proposal: Proposal, asked: Asked, name: str) -> dict[str, Any]:
    """Return verdict, findings and figure the test would have with the file taken."""
    method = method_of(test.method)
    cells, logged = joined(proposal, _whole(session, test), name, append=asked.append)
    sheet = enter(method.Readings, Sheet(dict(test.readings), dict(test.unread)), cells)
    context = footing(session, test).context
    readings = with_logs(session, sheet.readings) | logged
    found = method.reduce_raw(readings, test.settings, context, sheet.unread)
    reduction = reduction_in(found, units_of_test(test), method)
    return {
        "verdict": verdict(method, reduction).plain(),
        "findings": [f.model_dump(include={"severity", "message", "action"}) for f in reduction.findings[:8]],
        "figure": render(reduction.figures[0], *_FIGURE) if reduction.figures else "",
    }


def _wanted(test: Test) -> list[tuple[str, str]]:
    """Return for each table the headings a file may have, for the page's own words."""
    found = []
    method = method_of(test.method)
    for target in targets(method.Readings, method.Settings.model_validate(test.settings)):
        names = [
            (target.model.model_fields[key].title or key)
            + (f" [{unit}]" if (unit := unit_of(target.model, key)) else "")
            for key in target.columns
        ]
        found.append((target.title, ", ".join(names)))
    return found
