"""What a page walks over, read at once: one query for all samples of a project, not one for each location."""

from typing import Any

from sqlalchemy.orm import selectinload
from sqlmodel import Session, col, select

from vadum.records.tables import Location, Project, Sample, Test

# What SQLModel calls a list is an attribute to be loaded.
_of: Any = selectinload
_LOCATION: Any = Sample.location
_PROJECT: Any = Location.project
_TESTS: Any = Sample.tests


def with_places(query: Any) -> Any:
    """Return a query of tests that brings their samples, locations and projects along."""
    of_sample = _of(Test.sample).selectinload(_LOCATION).joinedload(_PROJECT)
    return query.options(of_sample, _of(Test.location).joinedload(_PROJECT))


def samples_with_places(query: Any) -> Any:
    """Return a query of samples that brings their locations along."""
    return query.options(_of(Sample.location))


def places_of(session: Session, project: Project) -> list[Location]:
    """Return the locations of a project with strata, samples and tests: held, nothing of it is asked for again."""
    query = select(Location).where(Location.project_id == project.id).order_by(col(Location.id))
    samples = _of(Location.samples).selectinload(_TESTS)
    return list(session.exec(query.options(samples, _of(Location.strata), _of(Location.tests))).all())
