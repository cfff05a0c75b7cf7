"""One piece of equipment: its calibrations with certificate and residuals, and the sheets it touches."""

from datetime import date
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session
from starlette.datastructures import UploadFile

from vadum.drawing import render
from vadum.records.apart import told_apart
from vadum.records.calibrations import calibrations_of, in_force, used_in, why_not
from vadum.records.corrections import CorrectionError, corrections_of, needs_reason, remove
from vadum.records.dependents import renew_users
from vadum.records.tables import Calibration, Equipment
from vadum.records.zone import today
from vadum.soil.bench.plunger.residuals import residual_figure
from vadum.web.correcting import corrected
from vadum.web.forms import CalibrationForm, PieceForm, filled
from vadum.web.guard import SANDBOXED
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Posted, Who, as_download, get, page, seen, to

router = APIRouter()
_PLOT = (740.0, 340.0)


@router.get("/equipment/{equipment_id}", response_class=HTMLResponse)
def piece_page(request: Request, session: Db, equipment_id: int, since: date | None = None) -> HTMLResponse:
    """Show a piece; ``since`` limits the sheets it touches to those of that day and later."""
    return _page(request, session, get(session, Equipment, equipment_id, "piece of equipment"), since)


def _page(request: Request, session: Session, piece: Equipment, since: date | None, **more: Any) -> HTMLResponse:
    day = today(session)
    every = calibrations_of(session, piece)
    valid = in_force(every, day)
    table = valid.table if valid and valid.table else piece.calibration
    tests = seen(request, used_in(session, piece, since))
    return page(
        request,
        "piece/piece.html",
        status_code=422 if more.get("errors") or more.get("correcting") else 200,
        needs_reason=needs_reason,
        corrections=corrections_of(session, piece),
        piece=piece,
        every=list(reversed(every)),
        valid=valid,
        bad=why_not(every, day) if every else "",
        plot=render(residual_figure(table), *_PLOT) if len(table) > 2 else "",
        tests=tests,
        called=told_apart(tests, projects=True),
        since=since,
        **more,
    )


@router.post("/equipment/{equipment_id}", response_class=HTMLResponse)
def change_piece(request: Request, session: Db, form: Posted, who: Who, equipment_id: int) -> Response:
    """Correct what a piece is called."""
    piece = get(session, Equipment, equipment_id, "piece of equipment")
    if no := corrected(session, piece, PieceForm, form, who):
        return _page(request, session, piece, None, correcting=no[0], corrected_as=no[1])
    return to(request, "piece_page", equipment_id=equipment_id)


@router.post("/equipment/{equipment_id}/remove", response_class=HTMLResponse)
def remove_piece(request: Request, session: Db, who: Who, equipment_id: int) -> Response:
    """Take a piece out of the register that no test used."""
    piece = get(session, Equipment, equipment_id, "piece of equipment")
    try:
        remove(session, piece, who)
    except CorrectionError as error:
        return _page(request, session, piece, None, correcting={"": str(error)}, corrected_as={})
    return to(request, "register")


@router.post("/equipment/{equipment_id}/calibrations", response_class=HTMLResponse)
def calibrate(request: Request, session: Db, form: Posted, who: Who, equipment_id: int) -> Response:
    """Record a calibration; tests of earlier days keep the one that was in force then."""
    piece = get(session, Equipment, equipment_id, "piece of equipment")
    made, errors = filled(CalibrationForm, {k: v for k, v in form.items() if isinstance(v, str)})
    if made is None:
        return _page(request, session, piece, None, errors=errors, typed=dict(form))
    file = form.get("certificate")
    bytes_, name = (
        (file.file.read(), file.filename or "") if isinstance(file, UploadFile) and file.filename else (None, "")
    )
    session.add(
        Calibration(
            equipment_id=equipment_id,
            **made.model_dump(exclude={"table"}),
            table=made.table,
            who=who,
            certificate=bytes_,
            certificate_name=name,
        )
    )
    session.flush()
    renew_users(session, piece)
    session.commit()
    return to(request, "piece_page", equipment_id=equipment_id)


@router.get("/certificates/{calibration_id}", response_class=Response)
def certificate(request: Request, session: Db, calibration_id: int) -> Response:
    """Return a certificate to those who see all projects, or a test that used the piece."""
    kept = get(session, Calibration, calibration_id, "calibration")
    piece = get(session, Equipment, kept.equipment_id, "piece of equipment")
    limited = getattr(request.state, "projects", None) is not None
    of_theirs = [t for t in used_in(session, piece) if t.ground is not None]
    if kept.certificate is None or (limited and not seen(request, of_theirs)):
        raise NotHere("certificate")
    headers = SANDBOXED | {"Content-Disposition": as_download(kept.certificate_name)}
    return Response(kept.certificate, media_type="application/octet-stream", headers=headers)
