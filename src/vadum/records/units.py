"""In what units a project is shown and printed."""

from dataclasses import replace
from typing import Any

from sqlmodel import Session

from vadum.present import number_in, units_of
from vadum.records.kept_settings import keep_setting, setting
from vadum.records.tables import Project, Test
from vadum.soil.numbers.unit_sets import units_named
from vadum.soil.numbers.written import SI, Units
from vadum.soil.registry import method as method_of

_FIRST = "first_units"


def units_of_project(project: Project) -> Units:
    """Return the set of units that a project's results are shown in, with its decimal mark."""
    return units_named(project.units, project.decimal_mark)


def units_of_test(test: Test) -> Units:
    """Return the set of units of the project that a test belongs to; SI for one of no project."""
    return units_of_project(test.ground.project) if test.ground else SI


def units_in_files(test: Test) -> Units:
    """Return the set of units of a test's project, with a point: what reads a file knows no other mark."""
    return replace(units_of_test(test), mark=".")


def found_by(test: Test) -> dict[str, dict[str, Any]]:
    """Return what a test found, by key, as lists and cards show it."""
    kept: dict[str, dict[str, Any]] = test.summary.get("parameters", {})
    units = units_of_test(test)
    if units.plain:
        return kept
    own = units_of(method_of(test.method), units)
    return {key: one | number_in(one["text"], one["unit"], one["reported"], own) for key, one in kept.items()}


def first_units(session: Session) -> tuple[str, str]:
    """Return the set of units and the decimal mark that a new project is shown in."""
    kept = setting(session, _FIRST)
    units = units_named(*kept.rsplit(" ", 1)) if kept else SI
    return units.name, units.mark


def keep_first_units(session: Session, name: str, mark: str) -> None:
    """Show projects that are begun from now on in a set of units, and commit."""
    units = units_named(name, mark)
    keep_setting(session, _FIRST, f"{units.name} {units.mark}")


def keep_units(session: Session, project: Project, name: str, mark: str) -> None:
    """Show the project in a set of units from now on, and commit. What was issued stays as it was printed."""
    units = units_named(name, mark)
    project.units, project.decimal_mark = units.name, units.mark
    session.add(project)
    session.commit()
