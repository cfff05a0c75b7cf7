"""Instruments: what is on the bench, and readings taken from it."""

from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import BaseModel, Field
from sqlmodel import Session

from vadum.instruments.benches import Benches
from vadum.instruments.client import identified
from vadum.instruments.port import Identity, InstrumentTrouble
from vadum.instruments.standin import FAULTS
from vadum.instruments.wording import LONGEST, PatternError, read_line
from vadum.records import practice
from vadum.records.certificates import known
from vadum.records.demonstration import is_demonstration
from vadum.records.tables import Test
from vadum.soil.registry import method as method_of
from vadum.web.rendering import Db, get, page
from vadum.web.taking import Taking, bindable, offers

router = APIRouter()


def line(request: Request) -> Benches:
    found: Benches = request.app.state.instruments
    return found


Instruments = Annotated[Benches, Depends(line)]


class Wanted(BaseModel):
    """Cells to be read now, each with the minutes since the start of the test's clock where they matter; or only
    watched until an instrument stands where it should: then nothing was measured yet."""

    cells: dict[str, float | None] = Field(max_length=40)
    watching: bool = False


class Order(BaseModel):
    """Something to be done to an instrument: zero a quantity, or give a stand-in a fault."""

    quantity: str = ""
    fault: str = ""


@router.get("/instruments", response_class=HTMLResponse)
def instruments_page(request: Request, bench: Instruments) -> HTMLResponse:
    return page(request, "instruments/instruments.html", view=_listed(bench), faults=FAULTS)


@router.get("/api/instruments")
def bench_listed(bench: Instruments) -> Response:
    """Return the instruments on the bench with what each shows now, or the trouble in words."""
    return JSONResponse(_listed(bench, with_values=True))


@router.post("/api/instruments/{name}/{what}")
def order(bench: Instruments, name: str, what: str, order: Order) -> Response:
    """Zero an instrument (``zero``) or give a stand-in a fault (``fault``)."""
    try:
        remote = bench.instrument(name)
        if what == "zero":
            remote.zero(order.quantity)
        else:
            remote.set_fault(order.fault)
    except InstrumentTrouble as trouble:
        return JSONResponse({"message": str(trouble)}, 424)
    return JSONResponse(_listed(bench))


@router.get("/api/tests/{test_id}/instruments")
def of_test(session: Db, bench: Instruments, test_id: int) -> Response:
    """Return the columns of a test that instruments can fill, with what is offered for each."""
    test = get(session, Test, test_id, "test")
    try:
        identities, trouble = bench.identities(), ""
    except InstrumentTrouble as said:
        identities, trouble = [], str(said)
    if not _simulated(session, test) and any(one.stand_in for one in identities):
        identities = [one for one in identities if not one.stand_in]
        trouble = "Simulated instruments are not offered: what they show never enters a record."
    columns = bindable(method_of(test.method))
    return JSONResponse({"trouble": trouble, "columns": [c | {"offers": offers(c, identities)} for c in columns]})


@router.post("/api/tests/{test_id}/read")
def read(session: Db, bench: Instruments, test_id: int, wanted: Wanted) -> Response:
    """Take readings from the instruments bound to cells. Nothing is saved: the page sends them with its next save."""
    test = get(session, Test, test_id, "test")
    taking = Taking(test, bench, simulated=_simulated(session, test), registered=lambda name: known(session, name))
    for path, minutes in wanted.cells.items():
        taking.take(path, minutes)
    if test.practice and taking.cells and not wanted.watching:
        practice.mark_taken(test, list(taking.cells))
        session.add(test)
        session.commit()
    return JSONResponse({"cells": taking.cells, "origins": taking.origins, "troubles": taking.troubles})


class Tried(BaseModel):
    """A pattern, and what an instrument wrote on its line."""

    pattern: str = Field(max_length=LONGEST)
    written: str = Field(max_length=4000)
    rest: str = Field("", max_length=20)


@router.post("/api/pattern")
def try_pattern(tried: Tried) -> Response:
    """Return what a pattern reads in each line that was pasted."""
    try:
        lines = [(line, read_line(tried.pattern, line, tried.rest)) for line in tried.written.splitlines()[:20]]
    except PatternError as error:
        return JSONResponse({"message": str(error)}, 422)
    return JSONResponse([{"line": line, "shown": shown and asdict(shown)} for line, shown in lines if line.strip()])


def _simulated(session: Session, test: Test) -> bool:
    """Return whether stand-ins may fill this test's cells."""
    return bool(test.practice) or is_demonstration(session)


def _listed(bench: Benches, *, with_values: bool = False) -> dict[str, Any]:
    try:
        found = bench.listed()
    except InstrumentTrouble as trouble:
        return {"trouble": str(trouble), "instruments": []}
    if with_values:
        for plain in found:
            plain["values"] = _shown_now(bench, plain)
    return {"trouble": "", "instruments": found}


def _shown_now(bench: Benches, plain: dict[str, Any]) -> list[dict[str, str]]:
    """Return what an instrument shows now, or in words what it does not say of itself."""
    name = str(plain.get("name", ""))
    try:
        return _values(bench, identified({k: v for k, v in plain.items() if k != "fault"}, name))
    except InstrumentTrouble as trouble:
        return [{"name": "", "text": "", "trouble": str(trouble)}]


def _values(bench: Benches, identity: Identity) -> list[dict[str, str]]:
    values = []
    for quantity in identity.quantities:
        try:
            shown = bench.ask(identity.name, {"do": "read", "instrument": identity.name, "quantity": quantity.name})[
                "sample"
            ]
            decimals = max(0, len(f"{quantity.resolution:g}".partition(".")[2]))
            values.append(
                {"name": quantity.name, "text": f"{shown['value']:.{decimals}f} {shown['unit']}", "trouble": ""}
            )
        except (InstrumentTrouble, KeyError, TypeError, ValueError) as trouble:
            values.append({"name": quantity.name, "text": "", "trouble": str(trouble)})
            break  # one silence is enough for the page to wait for
    return values
