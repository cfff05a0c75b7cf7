"""Spreadsheets into a test: a preview that saves nothing, then one save of all of it or of nothing."""

import json
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, File, Form, HTTPException, Request, Response, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse
from sqlmodel import Session

from vadum.drawing import render
from vadum.exchange.joining import held, joined, next_number, too_many
from vadum.exchange.readings_import import Proposal, Target, propose, targets
from vadum.exchange.spreadsheet import SpreadsheetError, read_grid
from vadum.present import reduction_in
from vadum.records.attachments import attach_file
from vadum.records.context import footing
from vadum.records.logs import with_logs
from vadum.records.mappings import recall, remember
from vadum.records.saving import LOCKED, Change, save
from vadum.records.tables import Test
from vadum.soil.contract.cells import Sheet, cell_text, enter
from vadum.soil.contract.field import unit_of
from vadum.soil.registry import method as method_of
from vadum.web.rendering import Db, Who, get, page, to
from vadum.web.view import verdict

router = APIRouter()
_SHOWN_ROWS = 12
_FIGURE = (560.0, 380.0)


@dataclass(frozen=True)
class Asked:
    """How a person wants a file to be read."""

    target: str
    mapping: list[str] | None
    sheet: str
    append: bool
    constants: dict[str, str]

    @classmethod
    def sent(
        cls,
        target: Annotated[str, Form()] = "",
        mapping: Annotated[str, Form()] = "",
        sheet: Annotated[str, Form()] = "",
        mode: Annotated[Literal["replace", "append", ""], Form()] = "",
        constants: Annotated[str, Form(max_length=4000)] = "",
    ) -> "Asked":
        """Return what a form says."""
        try:
            names = [str(name) for name in json.loads(mapping)] if mapping else None
            known = {str(key): str(value) for key, value in (json.loads(constants) if constants else {}).items()}
        except (json.JSONDecodeError, TypeError, AttributeError) as error:
            raise HTTPException(422, "The matching of columns cannot be read.") from error
        return cls(target, names, sheet, mode == "append", known)


@router.get("/tests/{test_id}/import", response_class=HTMLResponse)
def import_page(request: Request, session: Db, test_id: int) -> Response:
    test = get(session, Test, test_id, "test")
    method = method_of(test.method)
    if test.state in LOCKED or not targets(method.Readings):
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
    if asked.mapping:
        remember(
            session,
            test.method,
            [c.heading for c in proposal.columns],
            proposal.target.name,
            [c.reading for c in proposal.columns],
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
        proposal = propose(model, grid, asked.target, asked.mapping, constants, settings)
        known = None if asked.mapping else recall(session, test.method, [c.heading for c in proposal.columns])
        if known and asked.target in ("", known.target) and known.mapping != [c.reading for c in proposal.columns]:
            proposal = propose(model, grid, known.target, known.mapping, constants, settings)
            proposal.notes.append("Columns are matched as for the last file with these headings.")
    except SpreadsheetError as error:
        raise HTTPException(422, str(error)) from error
    if asked.append and not proposal.faults:
        proposal.faults += too_many(proposal, readings, model)
    return proposal, grid.sheets, data


def _shown(
    session: Session, test: Test, proposal: Proposal, asked: Asked, name: str, sheets: list[str]
) -> dict[str, Any]:
    """Return the preview: matched columns, first rows, faults, and what the readings would come to."""
    keys = proposal.target.columns
    shown = [[cell_text(row.get(key), None) for key in keys] for row in proposal.rows[:_SHOWN_ROWS]]
    if proposal.target.log and not proposal.faults:
        shown = [
            [f"{proposal.columns_logged[key][i]:g}" for key in keys] for i in range(min(_SHOWN_ROWS, proposal.count))
        ]
    answer: dict[str, Any] = {
        "file": name,
        "sheets": sheets,
        "target": proposal.target.name,
        "targets": [{"name": t.name, "title": t.title} for t in targets(method_of(test.method).Readings)],
        "columns": [
            {"heading": c.heading or f"column {i}", "unit": c.unit, "reading": c.reading, "sample": c.sample}
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
        "revision": test.revision,
    }
    return answer | (_outcome(session, test, proposal, asked, name) if not proposal.faults else {})


def _label(proposal: Proposal, key: str) -> str:
    info, unit = proposal.target.model.model_fields[key], unit_of(proposal.target.model, key)
    return f"{info.title or key}{f', {unit}' if unit else ''}"


def _outcome(session: Session, test: Test, proposal: Proposal, asked: Asked, name: str) -> dict[str, Any]:
    """Return verdict, findings and figure the test would have with the file taken."""
    method = method_of(test.method)
    cells, logged = joined(proposal, _whole(session, test), name, append=asked.append)
    sheet = enter(method.Readings, Sheet(dict(test.readings), {}), cells)
    context = footing(session, test).context
    readings = with_logs(session, sheet.readings) | logged
    reduction = reduction_in(method.reduce_raw(readings, test.settings, context))
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
