"""Reports of a project: chosen, made in the background, looked at, issued; sheets of samples and logs at once."""

from subprocess import Popen
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from pydantic import ValidationError
from sqlalchemy.orm import defer
from sqlmodel import Session, col, select

from vadum.records.letterhead import letterhead_of
from vadum.records.tables import Location, Project, Report, Sample
from vadum.records.together import places_of
from vadum.records.zone import stamp
from vadum.report.document import compiled
from vadum.report.job import RUNNING, ReportError, begin, cancel, changed_since, look_after, start, unseen
from vadum.report.labels import labels, of_sample
from vadum.report.log import log_part
from vadum.report.sample import sample_part
from vadum.report.sheet import Asked, sheet_of
from vadum.report.wanted import CHAPTERS, WORDS, Wanted
from vadum.soil.contract.complaint import complaints
from vadum.soil.registry import METHODS
from vadum.web.access import require
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Posted, Who, as_download, get, page, role_of, to

router = APIRouter()


@router.get("/projects/{project_id}/reports", response_class=HTMLResponse)
def reports(request: Request, session: Db, project_id: int) -> HTMLResponse:
    return _page(request, session, get(session, Project, project_id, "project"), {})


def _page(
    request: Request, session: Session, project: Project, typed: dict[str, Any], problem: str = ""
) -> HTMLResponse:
    query = select(Report).where(Report.project_id == project.id).order_by(col(Report.id).desc()).limit(60)
    made = session.exec(query.options(defer(Report.data))).all()  # type: ignore[arg-type]
    for one in made:
        look_after(session, one, _processes(request).get(one.id or 0))
    places = places_of(session, project, readings=False)
    used = {t.method for p in places for t in (*p.tests, *(t for s in p.samples for t in s.tests))}
    asked = typed or {"chapters": list(CHAPTERS), "final": True, "every_parameter": True, "order": "place"}
    return page(
        request,
        "reports/reports.html",
        status_code=422 if problem else 200,
        project=project,
        reports=[(one, stamp(session, one.at)) for one in made],
        problem=problem,
        typed=asked,
        chapters=list(dict.fromkeys([*(c for c in asked["chapters"] if c in CHAPTERS), *CHAPTERS])),
        words=WORDS,
        used=[m for m in METHODS.values() if m.code in used],
        running=RUNNING,
    )


@router.post("/projects/{project_id}/reports", response_class=HTMLResponse)
def make_report(request: Request, session: Db, form: Posted, project_id: int, who: Who) -> Response:
    """Begin making a report in the background."""
    project = get(session, Project, project_id, "project")
    typed: dict[str, Any] = {
        "title": str(form.get("title", "")).strip(),
        "chapters": [str(c) for c in form.getlist("chapters")],
        "locations": [str(i) for i in form.getlist("locations")],
        "samples": [str(i) for i in form.getlist("samples")],
        "methods": [str(m) for m in form.getlist("methods")],
        "order": str(form.get("order", "place")),
    } | {
        name: form.get(name) == "true"
        for name in ("final", "every_parameter", "derivation", "uncertainty", "records", "issue")
    }
    if typed["issue"]:
        require(request, "check")
    try:
        report = begin(session, project, Wanted.model_validate(typed), who, role_of(request))
    except ValidationError as error:
        said = "; ".join(_said(fault.place, fault.message) for fault in complaints(error))
        return _page(request, session, project, typed, said)
    except ReportError as error:
        return _page(request, session, project, typed, str(error))
    _processes(request)[report.id or 0] = start(request.app.state.engine, report)
    return to(request, "report_page", report_id=report.id)


def _said(place: str, message: str) -> str:
    of = place.split(".")[0]
    return {
        "title": "give the report a title of at most 120 letters",
        "chapters": "choose what the report contains",
    }.get(of, f"{of}: {message}")


@router.get("/reports/{report_id}", response_class=HTMLResponse)
def report_page(request: Request, session: Db, report_id: int) -> HTMLResponse:
    report = _report(request, session, report_id)
    return page(
        request,
        "reports/report.html",
        report=report,
        project=get(session, Project, report.project_id, "project"),
        view=_view(report),
        changed=changed_since(session, report) if report.revisions else [],
        contains=[WORDS[chapter] for chapter in report.wanted["chapters"]],
    )


@router.get("/api/reports/{report_id}")
def progress(request: Request, session: Db, report_id: int) -> dict[str, Any]:
    """Return how far a report is made."""
    return _view(_report(request, session, report_id))


@router.post("/reports/{report_id}/cancel")
def cancel_report(request: Request, session: Db, report_id: int) -> RedirectResponse:
    """Stop making a report."""
    cancel(session, get(session, Report, report_id, "report"), _processes(request).pop(report_id, None))
    return to(request, "report_page", report_id=report_id)


@router.post("/reports/{report_id}/issue", response_class=HTMLResponse)
def issue_report(request: Request, session: Db, report_id: int, who: Who) -> Response:
    """Make the same report once more, with a number and for good; refused while a test in it is not checked, or where
    it would tell what its draft did not."""
    draft = get(session, Report, report_id, "report")
    project = get(session, Project, draft.project_id, "project")
    wanted = Wanted.model_validate(draft.wanted | {"issue": True})
    if others := unseen(session, project, draft):
        named = ", ".join(f"{test.id} ({test.place})" for test in others[:6]) + (" and others" if others[6:] else "")
        said = (
            f"Not issued: the draft does not show what is on record now of {named}. Make it again and look at it first."
        )
        return _page(request, session, project, draft.wanted, said)
    try:
        report = begin(session, project, wanted, who, role_of(request))
    except ReportError as error:
        return _page(request, session, project, draft.wanted, str(error))
    _processes(request)[report.id or 0] = start(request.app.state.engine, report)
    return to(request, "report_page", report_id=report.id)


@router.post("/reports/{report_id}/remove")
def remove_report(request: Request, session: Db, report_id: int) -> RedirectResponse:
    """Remove a draft; an issued report stays."""
    report = get(session, Report, report_id, "report")
    if report.state != "issued":
        cancel(session, report, _processes(request).pop(report_id, None))
        session.delete(report)
        session.commit()
    return to(request, "reports", project_id=report.project_id)


@router.get("/reports/{report_id}/report.pdf", response_class=Response)
def report_pdf(session: Db, report_id: int) -> Response:
    report = get(session, Report, report_id, "report")
    if report.data is None:
        raise NotHere("report")
    name = report.number.replace(" ", "-")
    headers = {"Content-Disposition": f'attachment; filename="report-{name}.pdf"', "X-Sha256": report.sha256}
    return Response(report.data, media_type="application/pdf", headers=headers)


@router.get("/samples/{sample_id}/sheet.pdf", response_class=Response)
def sample_pdf(
    session: Db, sample_id: int, tests: Annotated[bool, Query(description="with the sheet of each test")] = False
) -> Response:
    """Return the identity card of a sample, with the sheets of its tests on request."""
    sample = get(session, Sample, sample_id, "sample")
    parts = [sample_part(session, sample)]
    if tests:
        parts += [
            sheet_of(session, test, Asked(records=False))
            for test in sample.tests
            if test.state not in ("void", "planned")
        ]
    return _at_once(session, parts, "Sample", f"{sample.location.name} {sample.name}", f"sample-{sample_id}")


@router.get("/projects/{project_id}/labels.pdf", response_class=Response)
def sample_labels(request: Request, session: Db, project_id: int) -> Response:
    """Return a label for every sample of a project, with the address of its page as a code."""
    samples = [one for place in get(session, Project, project_id, "project").locations for one in place.samples]
    if not samples:
        raise NotHere("sample to label")
    made = labels([of_sample(one, str(request.url_for("sample", sample_id=one.id))) for one in samples])
    headers = {"Content-Disposition": as_download(f"labels-{project_id}.pdf")}
    return Response(made, media_type="application/pdf", headers=headers)


@router.get("/locations/{location_id}/log.pdf", response_class=Response)
def log_pdf(session: Db, location_id: int) -> Response:
    """Return the log of a location."""
    place = get(session, Location, location_id, "location")
    return _at_once(session, [log_part(place)], "Log of", place.name, f"log-{location_id}")


def _at_once(session: Session, parts: list[Any], kind: str, number: str, name: str) -> Response:
    data = compiled(letterhead_of(session), parts, kind=kind, title=parts[0].data["title"], number=number)[0]
    headers = {"Content-Disposition": f'attachment; filename="{name}.pdf"'}
    return Response(data, media_type="application/pdf", headers=headers)


def _report(request: Request, session: Session, report_id: int) -> Report:
    report = get(session, Report, report_id, "report")
    look_after(session, report, _processes(request).get(report_id))
    return report


def _view(report: Report) -> dict[str, Any]:
    return {
        "state": report.state,
        "done": report.done,
        "steps": report.steps,
        "said": report.said,
        "number": report.number,
        "pages": report.pages,
        "sha256": report.sha256,
    }


def _processes(request: Request) -> dict[int, "Popen[bytes]"]:
    found: dict[int, Popen[bytes]] = request.app.state.report_processes
    return found
