"""What a page walks over, read at once: one query for all samples of a project, not one for each location."""

from typing import Any

from sqlalchemy import inspect
from sqlalchemy.orm import joinedload, selectinload
from sqlalchemy.orm.attributes import set_committed_value
from sqlmodel import Session, col, select

from vadum.records.tables import Location, Project, Sample, Test

# What SQLModel calls a list is an attribute to be loaded.
_of: Any = selectinload
_beside: Any = joinedload
_LOCATION: Any = Sample.location
_PROJECT: Any = Location.project
_TESTS: Any = Sample.tests


def with_places(query: Any) -> Any:
    """Return a query of tests that brings their samples, locations and projects along."""
    of_sample = _beside(Test.sample).joinedload(_LOCATION).joinedload(_PROJECT)
    return query.options(of_sample, _beside(Test.location).joinedload(_PROJECT))


def samples_with_places(query: Any) -> Any:
    """Return a query of samples that brings their locations along."""
    return query.options(_beside(_LOCATION))


def hole_of(session: Session, location: Location) -> Location:
    """Return a location with its strata, and its samples with their tests, read at once."""
    query = select(Location).where(Location.id == location.id)
    return session.exec(query.options(_of(Location.samples).selectinload(_TESTS), _of(Location.strata))).one()


def places_of(session: Session, project: Project) -> list[Location]:
    """Return the locations of a project with strata, samples and tests: held, nothing of it is asked for again."""
    if has(project, "locations") and all(map(_walked, project.locations)):
        return project.locations
    query = select(Location).where(Location.project_id == project.id).order_by(col(Location.id))
    samples = _of(Location.samples).selectinload(_TESTS)
    found = list(session.exec(query.options(samples, _of(Location.strata), _of(Location.tests))).all())
    set_committed_value(project, "locations", found)
    return found


def _walked(location: Location) -> bool:
    return has(location, "samples", "strata", "tests") and all(has(sample, "tests") for sample in location.samples)


def has(row: Any, *names: str) -> bool:
    """Return whether what a row leads to was read already."""
    return inspect(row).unloaded.isdisjoint(names)
