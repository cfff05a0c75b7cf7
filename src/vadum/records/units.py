"""In what units a project is shown and printed."""

from dataclasses import replace
from typing import Any

from pydantic import BaseModel, Field
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


class Shown(BaseModel):
    """How numbers are shown and printed."""

    units: str = Field(default=SI.name, title="units")
    decimal_mark: str = Field(default=".", title="decimal mark")


def first_units(session: Session) -> Shown:
    """Return the set of units and the decimal mark that a new project is shown in."""
    kept = setting(session, _FIRST)
    return shown_in(*kept.rsplit(" ", 1)) if kept else Shown()


def shown_in(name: str, mark: str) -> Shown:
    """Return the choice of a set of units and a decimal mark; SI and a point for what is none of them."""
    units = units_named(name, mark)
    return Shown(units=units.name, decimal_mark=units.mark)


def keep_first_units(session: Session, first: Shown) -> None:
    """Show projects that are begun from now on in a set of units, and commit."""
    keep_setting(session, _FIRST, f"{first.units} {first.decimal_mark}")
