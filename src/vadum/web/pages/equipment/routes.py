"""The register of equipment."""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from sqlmodel import col, select

from vadum.records.calibrations import calibrations_by_piece, why_not
from vadum.records.chosen import changes_of
from vadum.records.context import inspection_states
from vadum.records.corrections import keep_note, name_taken
from vadum.records.dependents import renew_users
from vadum.records.tables import EQUIPMENT_KINDS, Equipment, Test
from vadum.records.zone import today
from vadum.web.forms import EquipmentForm, filled
from vadum.web.rendering import Db, Posted, Who, get, page, to

router = APIRouter()


@router.get("/equipment", response_class=HTMLResponse)
def register(request: Request, session: Db) -> HTMLResponse:
    return _register(request, session)


def _register(request: Request, session: Db, **more: object) -> HTMLResponse:
    everything = session.exec(select(Equipment).order_by(Equipment.name)).all()
    day, calibrations = today(session), calibrations_by_piece(session, everything)
    cups = [piece for piece in everything if piece.kind == "cup"]
    inspected = inspection_states(session, cups, day)
    # By their numbers, which the index holds: to sort years of them by time, every one was read.
    last = select(Test.id).where(col(Test.equipment_id).is_not(None)).order_by(col(Test.id).desc()).limit(20)
    inspections = session.exec(select(Test).where(col(Test.id).in_(last)).order_by(col(Test.id).desc())).all()
    return page(
        request,
        "equipment/equipment.html",
        status_code=422 if more.get("errors") else 200,
        tins=[e for e in everything if e.kind == "tin"],
        others=[e for e in everything if e.kind not in ("tin", "cup")],
        cups=[(cup, inspected[cup.id or 0]) for cup in cups],
        inspections=inspections,
        kinds=EQUIPMENT_KINDS,
        changes=changes_of(session, None, "register"),
        run_out={key: why for key, every in calibrations.items() if (why := why_not(every, day))},
        **more,
    )


@router.post("/equipment", response_class=HTMLResponse)
def add_equipment(request: Request, session: Db, form: Posted, who: Who) -> Response:
    made, errors = filled(EquipmentForm, form)
    if made is not None and made.kind == "tin" and made.tare_g is None:
        errors = {"tare_g": "a tin needs its mass, clean and dry"}
    elif made is not None and (taken := name_taken(session, Equipment, made.name)):
        errors = {"name": f"“{taken}” is in the register already"}
    if made is None or errors:
        return _register(request, session, errors=errors, typed=dict(form))
    piece = Equipment(**made.model_dump(), inspect_every_days=1 if made.kind == "cup" else None)
    session.add(piece)
    session.flush()
    tare = "" if piece.tare_g is None else f", {piece.tare_g:g} g"
    keep_note(session, None, {"register: added": ["", f"{piece.name}, {piece.kind}{tare}"]}, who)
    renew_users(session, piece)
    session.commit()
    return to(request, "register")


@router.post("/equipment/{equipment_id}/inspections")
def inspect(request: Request, session: Db, equipment_id: int) -> RedirectResponse:
    """Begin an inspection of a cup."""
    cup = get(session, Equipment, equipment_id, "piece of equipment")
    test = Test(method="cup-inspection", equipment_id=cup.id)
    session.add(test)
    session.commit()
    return to(request, "worksheet", test_id=test.id)
