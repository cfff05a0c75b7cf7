"""What leaves the laboratory: sheet, figure, readings."""

from typing import Annotated, Literal
from urllib.parse import urlencode

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from sqlmodel import Session, select

from vadum.drawing import THEMES, render
from vadum.exchange.bench_file import compose
from vadum.exchange.readings_csv import readings_csv
from vadum.exchange.readings_xlsx import readings_xlsx
from vadum.exchange.workbook import MEDIA_TYPE
from vadum.present import drawing_in, reduction_in, units_of
from vadum.records.calibrations import pieces_with_uses
from vadum.records.context import tins_in
from vadum.records.letterhead import letterhead_of
from vadum.records.standing import Standing, result_of, standing_of
from vadum.records.tables import IssuedSheet, Test
from vadum.records.units import units_in_files, units_of_test
from vadum.report.document import compiled
from vadum.report.issuing import issued_of
from vadum.report.sheet import Asked, sheet_number, sheet_of
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, get, page

router = APIRouter(prefix="/tests/{test_id}")


def _asked(
    derivation: Annotated[bool, Query(description="with the derivation of every number")] = False,
    uncertainty: Annotated[bool, Query(description="with the standard uncertainty of every number")] = False,
) -> Asked:
    return Asked(derivation, uncertainty)


Wanted = Annotated[Asked, Depends(_asked)]


def _sheet(
    session: Session, test: Test, asked: Asked, form: Literal["pdf", "png"] = "pdf", standing: Standing | None = None
) -> list[bytes]:
    part = sheet_of(session, test, asked, standing=standing)
    head = {"kind": "Sheet", "title": part.data["title"], "number": sheet_number(test), "state": test.state}
    return compiled(letterhead_of(session), [part], form, **head)


@router.get("/sheet", response_class=HTMLResponse)
def sheet_preview(request: Request, session: Db, test_id: int, asked: Wanted) -> HTMLResponse:
    test = get(session, Test, test_id, "test")
    pieces_with_uses(session, test)
    standing = standing_of(session, test)
    pages = _sheet(session, test, asked, "png", standing)
    return page(
        request,
        "sheet/sheet.html",
        test=test,
        method=method_of(test.method),
        pages=len(pages),
        asked=asked,
        query=urlencode({name: "true" for name in ("derivation", "uncertainty") if getattr(asked, name)}),
        figures=standing.reduction.figures,
        issued=issued_of(session, test),
    )


@router.get("/issued/{number}.pdf", response_class=Response)
def issued_pdf(session: Db, test_id: int, number: str) -> Response:
    """Return a sheet exactly as it was issued."""
    query = select(IssuedSheet).where(IssuedSheet.test_id == test_id, IssuedSheet.number == number)
    kept = session.exec(query).first()
    if kept is None:
        raise NotHere("issued sheet")
    headers = {"Content-Disposition": f'attachment; filename="{kept.number}.pdf"', "X-Sha256": kept.sha256}
    return Response(kept.data, media_type="application/pdf", headers=headers)


@router.get("/readings.xlsx", response_class=Response)
def xlsx(session: Db, test_id: int) -> Response:
    """Return readings and results as a workbook: real numbers, units in the headings."""
    test = get(session, Test, test_id, "test")
    standing = standing_of(session, test)
    workbook = readings_xlsx(standing.method, standing.readings, _in_files(test, standing))
    return Response(workbook, media_type=MEDIA_TYPE, headers=_named(test, "xlsx"))


@router.get("/sheet.pdf", response_class=Response)
def pdf(session: Db, test_id: int, asked: Wanted) -> Response:
    test = get(session, Test, test_id, "test")
    document = _sheet(session, test, asked)[0]
    return Response(document, media_type="application/pdf", headers=_named(test, "pdf"))


@router.get("/sheet/{number}.png", response_class=Response)
def sheet_page(session: Db, test_id: int, number: int, asked: Wanted) -> Response:
    pages = _sheet(session, get(session, Test, test_id, "test"), asked, "png")
    if not 1 <= number <= len(pages):
        raise NotHere("page")
    return Response(pages[number - 1], media_type="image/png")


@router.get("/figure/{key}.svg", response_class=Response)
def figure(session: Db, test_id: int, key: str, theme: str = "light") -> Response:
    test = get(session, Test, test_id, "test")
    found = next((f for f in result_of(session, test).figures if f.key == key), None)
    if found is None or theme not in THEMES:
        raise NotHere("figure")
    units = units_of(method_of(test.method), units_of_test(test))
    return Response(render(drawing_in(found, units), theme=theme), media_type="image/svg+xml")


@router.get("/readings.csv", response_class=Response)
def csv(session: Db, test_id: int) -> Response:
    test = get(session, Test, test_id, "test")
    standing = standing_of(session, test)
    text = readings_csv(standing.method, standing.readings, _in_files(test, standing))
    return Response("\ufeff" + text, media_type="text/csv; charset=utf-8", headers=_named(test, "csv"))


@router.get("/bench.json", response_class=JSONResponse)
def bench(session: Db, test_id: int) -> JSONResponse:
    """Return the test as a bench file, which ``vadum reduce`` and ``POST /api/reduce`` take."""
    test = get(session, Test, test_id, "test")
    standing = standing_of(session, test)
    context = dict(standing.context)
    if "tins" in context:
        used = tins_in(standing.readings)
        context["tins"] = {name: mass for name, mass in context["tins"].items() if name in used}
    return JSONResponse(
        compose(test.method, standing.readings, standing.settings, context), headers=_named(test, "json")
    )


def _named(test: Test, ending: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="{test.method}-{test.id}.{ending}"'}


def _in_files(test: Test, standing: Standing) -> Reduction:
    """Return what a test says in the units of its project; numbers in files have a point."""
    return reduction_in(standing.reduction, units_in_files(test), standing.method)
