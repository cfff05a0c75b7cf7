"""The results of a project for a report, as a workbook or as CSV."""

from datetime import date

from fastapi import APIRouter
from fastapi.responses import Response
from sqlmodel import Session

from vadum.exchange.results import Result, dictionary_csv, results_csv, results_xlsx
from vadum.exchange.workbook import MEDIA_TYPE
from vadum.present import reduction_in
from vadum.records.calibrations import days_of
from vadum.records.positions import tests_with_readings
from vadum.records.site import site_of
from vadum.records.standing import result_of
from vadum.records.tables import Project, Test
from vadum.records.units import units_in_files
from vadum.soil.registry import method as method_of
from vadum.web.rendering import Db, get

router = APIRouter(prefix="/projects/{project_id}")


@router.get("/results.xlsx", response_class=Response)
def workbook(session: Db, project_id: int) -> Response:
    """Return a line per sample, a line per result and the spread of each quantity as a workbook."""
    site = site_of(get(session, Project, project_id, "project"))
    book = results_xlsx(_results(session, project_id), site.spreads)
    return Response(book, media_type=MEDIA_TYPE, headers=_named(project_id, "xlsx"))


@router.get("/results.csv", response_class=Response)
def text(session: Db, project_id: int) -> Response:
    """Return a line per result as CSV."""
    lines = "\ufeff" + results_csv(_results(session, project_id))
    return Response(lines, media_type="text/csv; charset=utf-8", headers=_named(project_id, "csv"))


def _results(session: Session, project_id: int) -> list[Result]:
    project = get(session, Project, project_id, "project")
    tests = tests_with_readings(project)
    days = days_of(session, [test for _, test in tests if test.revision])
    return [_result(session, location.name, test, days.get(test.id or 0)) for location, test in tests]


def _result(session: Session, location: str, test: Test, on: date | None) -> Result:
    sample, method = test.sample, method_of(test.method)
    return Result(
        location=location,
        sample=sample.name if sample else "",
        top_m=sample.top_m if sample else None,
        base_m=sample.base_m if sample else None,
        number=test.id or 0,
        method=method.title,
        state=test.state,
        reduction=reduction_in(result_of(session, test), units_in_files(test), method),
        headline=tuple(method.headline),
        project=test.ground.project.name if test.ground else "",
        on=on,
        names={one.key: one.meaning for one in method.results if one.meaning and "{" not in one.key},
    )


@router.get("/results-dictionary.csv", response_class=Response)
def dictionary(session: Db, project_id: int) -> Response:
    """Return what each column of the results means."""
    get(session, Project, project_id, "project")
    name = {"Content-Disposition": 'attachment; filename="results-dictionary.csv"'}
    return Response("\ufeff" + dictionary_csv(), media_type="text/csv; charset=utf-8", headers=name)


def _named(project_id: int, ending: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="results-{project_id}.{ending}"'}
