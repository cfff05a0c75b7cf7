"""Tins into the register from a pasted list: first looked at, then kept as it was looked at."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session, select

from vadum.records.tables import Equipment
from vadum.records.tins import keep, look
from vadum.records.zone import today
from vadum.report.labels import labels, of_tin
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Who, as_download, page, to

router = APIRouter()
_LONGEST = 200_000
_USUAL_DAYS = 365


@router.get("/equipment/tins", response_class=HTMLResponse)
def tins_page(request: Request, session: Db) -> HTMLResponse:
    return _page(request, session, "", _USUAL_DAYS)


def _page(request: Request, session: Session, text: str, days: int | None) -> HTMLResponse:
    seen = look(session, text, today(session)) if text.strip() else None
    status = 422 if seen and seen.faults else 200
    return page(request, "tins/tins.html", status_code=status, text=text, days=days, seen=seen)


@router.post("/equipment/tins", response_class=HTMLResponse)
def tins_pasted(
    request: Request,
    session: Db,
    who: Who,
    text: Annotated[str, Form(max_length=_LONGEST)] = "",
    days: Annotated[int | None, Form(ge=1, le=3660)] = None,
    keeps: Annotated[str, Form()] = "",
) -> Response:
    """Show what a list would bring, or keep it once it was shown; with one line that cannot be read nothing is kept."""
    text = text.replace("\r\n", "\n")
    seen = look(session, text, today(session))
    if not keeps or seen.faults or not seen.tins:
        return _page(request, session, text, days)
    keep(session, seen.tins, days, who)
    return to(request, "register")


@router.get("/equipment/tins/labels.pdf", response_class=Response)
def tin_labels(session: Db) -> Response:
    """Return a label for every tin of the register, with its number as a code."""
    tins = session.exec(select(Equipment).where(Equipment.kind == "tin").order_by(Equipment.name)).all()
    if not tins:
        raise NotHere("tin to label")
    headers = {"Content-Disposition": as_download("labels-tins.pdf")}
    return Response(labels([of_tin(tin) for tin in tins]), media_type="application/pdf", headers=headers)
