"""Presets: what new tests of a method are begun with, in the laboratory and in a project."""

from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response
from sqlmodel import Session

from vadum.records.chosen import changes_of
from vadum.records.corrections import CorrectionError
from vadum.records.presets import Presets, keep_preset, part_of, presettable, said, words
from vadum.records.saving import BadSettings
from vadum.records.tables import Project
from vadum.soil.contract.complaint import complaints
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of
from vadum.web.correcting import refused, seen_by
from vadum.web.rendering import Db, Posted, Who, get, page, to
from vadum.web.view.frame import settings_view

router = APIRouter()


@router.get("/presets", response_class=HTMLResponse)
def presets(request: Request, session: Db) -> HTMLResponse:
    """Show what the laboratory chooses for each method."""
    return _list(request, session, None)


@router.get("/projects/{project_id}/presets", response_class=HTMLResponse)
def project_presets(request: Request, session: Db, project_id: int) -> HTMLResponse:
    """Show what a project chooses for each method, beside the laboratory's choice."""
    return _list(request, session, get(session, Project, project_id, "project"))


@router.get("/presets/{code}", response_class=HTMLResponse)
def method_preset(request: Request, session: Db, code: str) -> HTMLResponse:
    return _form(request, session, None, code)


@router.get("/projects/{project_id}/presets/{code}", response_class=HTMLResponse)
def project_method_preset(request: Request, session: Db, project_id: int, code: str) -> HTMLResponse:
    return _form(request, session, get(session, Project, project_id, "project"), code)


@router.post("/presets/{code}", response_class=HTMLResponse)
def keep_method_preset(request: Request, session: Db, form: Posted, who: Who, code: str) -> Response:
    """Keep what the laboratory's new tests of a method are begun with."""
    return _kept(request, session, None, code, form, who)


@router.post("/projects/{project_id}/presets/{code}", response_class=HTMLResponse)
def keep_project_preset(request: Request, session: Db, form: Posted, who: Who, project_id: int, code: str) -> Response:
    """Keep what a project's new tests of a method are begun with."""
    return _kept(request, session, get(session, Project, project_id, "project"), code, form, who)


def _list(request: Request, session: Session, project: Project | None) -> HTMLResponse:
    chosen = Presets.of(session, project)
    lines = [
        (method, words(method, chosen.in_project(method)), words(method, chosen.in_laboratory(method)))
        for method in METHODS.values()
        if presettable(method)
    ]
    return page(request, "presets/presets.html", project=project, lines=lines)


def _form(request: Request, session: Session, project: Project | None, code: str, **more: Any) -> HTMLResponse:
    method = method_of(code)
    presets = Presets.of(session, project)
    below = presets.in_laboratory(method) if project else {}
    known = set(presettable(method))
    usual = method.Settings.model_validate(below)
    begun = method.Settings.model_validate(presets.chosen(method))
    shown = [s for s in settings_view(method, begun) if s.name in known]
    return page(
        request,
        "presets/preset.html",
        status_code=422 if more.get("errors") else 200,
        project=project,
        method=method,
        settings=shown,
        usual={s.name: s.value for s in settings_view(method, usual)},
        changes=changes_of(session, project, part_of(method)),
        usual_words={name: said(method, name, getattr(usual, name)) for name in known},
        **more,
    )


def _kept(request: Request, session: Session, project: Project | None, code: str, form: Posted, who: str) -> Response:
    method = method_of(code)
    try:
        wanted = {} if form.get("own") else _wanted(method, form)
        keep_preset(session, method, project, wanted, who, seen_by(form))
    except CorrectionError as error:
        # A switch that is on is sent, one that is off is not.
        now = method.Settings.model_validate(Presets.of(session, project).chosen(method))
        on = {name: "yes" for name in error.others if getattr(now, name) is True}
        errors, typed = refused(error, form, on)
        return _form(request, session, project, code, errors=errors, typed=typed)
    except BadSettings as bad:
        errors = {fault.place.split(".")[-1]: fault.message for fault in complaints(bad.error)}
        return _form(request, session, project, code, errors=errors, typed=dict(form))
    if project:
        return to(request, "project_presets", project_id=project.id)
    return to(request, "presets")


def _wanted(method: Any, form: Posted) -> dict[str, Any]:
    """Return what a form says: a switch that is not sent is off, a blank number is the method's own."""
    wanted: dict[str, Any] = {}
    for name in presettable(method):
        if method.Settings.model_fields[name].annotation is bool:
            wanted[name] = name in form
        elif str(form.get(name, "")).strip():
            wanted[name] = str(form[name]).strip()
    return wanted
