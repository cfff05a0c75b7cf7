"""Spreadsheets into a test: a preview that saves nothing, then one save of all of it or of nothing."""

import json
from typing import Annotated, Any

from fastapi import APIRouter, File, Form, HTTPException, Request, Response, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse
from sqlmodel import Session

from vadum.drawing import render
from vadum.exchange.readings_import import Proposal, propose, targets
from vadum.exchange.spreadsheet import SpreadsheetError, read_grid
from vadum.present import reduction_in
from vadum.records.attachments import attach_file
from vadum.records.context import footing
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


@router.get("/tests/{test_id}/import", response_class=HTMLResponse)
def import_page(request: Request, session: Db, test_id: int) -> Response:
    test = get(session, Test, test_id, "test")
    method = method_of(test.method)
    if test.state in LOCKED or not targets(method.Readings):
        return to(request, "worksheet", test_id=test_id)
    return page(request, "imports/import.html", test=test, method=method, wanted=_wanted(test))


@router.post("/api/tests/{test_id}/import/preview")
def import_preview(
    session: Db,
    test_id: int,
    file: Annotated[UploadFile, File()],
    target: Annotated[str, Form()] = "",
    mapping: Annotated[str, Form()] = "",
    sheet: Annotated[str, Form()] = "",
) -> Response:
    """Say what a file would bring, with every fault by row; nothing is saved."""
    test = get(session, Test, test_id, "test")
    proposal, sheets, _ = _proposed(session, test, file, target, mapping, sheet)
    return JSONResponse(_shown(session, test, proposal, file.filename or "", sheets))


@router.post("/api/tests/{test_id}/import")
def import_readings(
    session: Db,
    who: Who,
    test_id: int,
    file: Annotated[UploadFile, File()],
    base_revision: Annotated[int, Form()],
    save_key: Annotated[str, Form(min_length=8, max_length=64)],
    target: Annotated[str, Form()] = "",
    mapping: Annotated[str, Form()] = "",
    sheet: Annotated[str, Form()] = "",
) -> Response:
    """Save all that a file brings as one revision, or nothing."""
    test = get(session, Test, test_id, "test")
    proposal, sheets, data = _proposed(session, test, file, target, mapping, sheet)
    if proposal.faults:
        return JSONResponse(
            _shown(session, test, proposal, file.filename or "", sheets)
            | {"message": "Nothing was saved: the file has faults."},
            422,
        )
    cells, logged = _change(test, proposal, file.filename or "")
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
    if mapping:
        remember(
            session,
            test.method,
            [c.heading for c in proposal.columns],
            proposal.target.name,
            [c.reading for c in proposal.columns],
        )
    save(session, test, change)
    return JSONResponse({"revision": test.revision, "count": proposal.count})


def _proposed(
    session: Session, test: Test, file: UploadFile, target: str, mapping: str, sheet: str
) -> tuple[Proposal, list[str], bytes]:
    """Return what the file would bring, the sheets of the workbook, and the file as it came."""
    model = method_of(test.method).Readings
    data = file.file.read()
    try:
        grid = read_grid(data, sheet)
        proposal = propose(model, grid, target, [str(name) for name in json.loads(mapping)] if mapping else None)
        known = None if mapping else recall(session, test.method, [c.heading for c in proposal.columns])
        if known and target in ("", known.target) and known.mapping != [c.reading for c in proposal.columns]:
            proposal = propose(model, grid, known.target, known.mapping)
            proposal.notes.append("Columns are matched as for the last file with these headings.")
        return proposal, grid.sheets, data
    except SpreadsheetError as error:
        raise HTTPException(422, str(error)) from error
    except (json.JSONDecodeError, TypeError) as error:
        raise HTTPException(422, "The matching of columns cannot be read.") from error


def _change(test: Test, proposal: Proposal, name: str) -> tuple[dict[str, str], dict[str, Any]]:
    """Return the cells and logger files of a change that replaces the table by what the file brings."""
    if proposal.target.log:
        return {}, {proposal.target.name: {"file": name[:200], **proposal.columns_logged}}
    table = proposal.target.name
    old = test.readings.get(table, [])
    cells = {f"{table}.{i}.{key}": "" for i, row in enumerate(old) for key in row}
    for i, row in enumerate(proposal.rows):
        cells |= {f"{table}.{i}.{key}": _entered(value) for key, value in row.items()}
    return cells, {}


def _entered(value: Any) -> str:
    return repr(value) if isinstance(value, float) else str(value)


def _shown(session: Session, test: Test, proposal: Proposal, name: str, sheets: list[str]) -> dict[str, Any]:
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
        "rows": shown,
        "count": proposal.count,
        "faults": [{"row": f.row, "column": f.column, "message": f.message} for f in proposal.faults],
        "notes": proposal.notes,
        "revision": test.revision,
    }
    return answer | (_outcome(session, test, proposal, name) if not proposal.faults else {})


def _label(proposal: Proposal, key: str) -> str:
    info, unit = proposal.target.model.model_fields[key], unit_of(proposal.target.model, key)
    return f"{info.title or key}{f', {unit}' if unit else ''}"


def _outcome(session: Session, test: Test, proposal: Proposal, name: str) -> dict[str, Any]:
    """Return verdict, findings and figure the test would have with the file taken."""
    method = method_of(test.method)
    cells, logged = _change(test, proposal, name)
    sheet = enter(method.Readings, Sheet(dict(test.readings), {}), cells)
    context = footing(session, test).context
    reduction = reduction_in(method.reduce_raw(sheet.readings | logged, test.settings, context))
    return {
        "verdict": verdict(method, reduction).plain(),
        "findings": [f.model_dump(include={"severity", "message", "action"}) for f in reduction.findings[:8]],
        "figure": render(reduction.figures[0], *_FIGURE) if reduction.figures else "",
    }


def _wanted(test: Test) -> list[tuple[str, str]]:
    """Return for each table the headings a file may have, for the page's own words."""
    found = []
    for target in targets(method_of(test.method).Readings):
        names = [
            (target.model.model_fields[key].title or key)
            + (f" [{unit}]" if (unit := unit_of(target.model, key)) else "")
            for key in target.columns
        ]
        found.append((target.title, ", ".join(names)))
    return found
