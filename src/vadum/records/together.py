"""What a page walks over, read at once: one query for all samples of a project, not one for each location."""

from typing import Any

from sqlalchemy import inspect
from sqlalchemy.orm import defer, joinedload, selectinload
from sqlalchemy.orm.attributes import set_committed_value
from sqlmodel import Session, col, select

from vadum.records.tables import Location, Project, Sample, Test

# What SQLModel calls a list is an attribute to be loaded.
_of: Any = selectinload
_beside: Any = joinedload
_LOCATION: Any = Sample.location
_PROJECT: Any = Location.project
_TESTS: Any = Sample.tests
# With a test its sample, location and project, or the piece it is an inspection of.
WITH_PLACES: Any = (
    _beside(Test.sample).joinedload(_LOCATION).joinedload(_PROJECT),
    _beside(Test.location).joinedload(_PROJECT),
    _beside(Test.equipment),
)


def with_places(query: Any) -> Any:
    """Return a query of tests that brings their samples, locations and projects along."""
    return query.options(*WITH_PLACES)


# What lists show of a test is its summary: its readings are long.
_READINGS: Any = (Test.kept, Test.origins, Test.settings, Test.setting_origins)
WITHOUT_READINGS = tuple(defer(column) for column in _READINGS)

# With a row where it is from.
ITS_PLACES: dict[type, Any] = {Test: WITH_PLACES, Sample: (_beside(_LOCATION).joinedload(_PROJECT),)}


def samples_with_places(query: Any) -> Any:
    """Return a query of samples that brings their locations along."""
    return query.options(_beside(_LOCATION))


def samples_around(session: Session, hole: Location) -> list[Sample]:
    """Return all samples of a location's project with their locations; with them those of the location are read."""
    query = select(Sample).join(Location).where(Location.project_id == hole.project_id)
    found = list(session.exec(samples_with_places(query.order_by(col(Location.id), col(Sample.top_m)))).all())
    set_committed_value(hole, "samples", [sample for sample in found if sample.location_id == hole.id])
    return found


def hole_of(session: Session, location: Location) -> Location:
    """Return a location with its strata, and its samples with their tests, read at once."""
    samples = [sample for sample in location.samples if not has(sample, "tests")]
    if samples:
        asked = select(Test).where(col(Test.sample_id).in_([sample.id for sample in samples])).order_by(col(Test.id))
        tests = session.exec(asked).all()
        for sample in samples:
            set_committed_value(sample, "tests", [test for test in tests if test.sample_id == sample.id])
    return location


def places_of(session: Session, project: Project, *, readings: bool = True) -> list[Location]:
    """Return the locations of a project with strata, samples and tests: held, nothing of it is asked for again.

    Without ``readings`` that of a test which is long is left where it is: a list shows its summary.
    """
    if has(project, "locations") and all(map(_walked, project.locations)):
        return project.locations
    query = select(Location).where(Location.project_id == project.id).order_by(col(Location.id))
    left = () if readings else WITHOUT_READINGS
    of_samples = _of(Location.samples).selectinload(_TESTS).options(*left)
    of_places = _of(Location.tests).options(*left)
    found = list(session.exec(query.options(of_samples, of_places, _of(Location.strata))).all())
    set_committed_value(project, "locations", found)
    return found


def _walked(location: Location) -> bool:
    return has(location, "samples", "strata", "tests") and all(has(sample, "tests") for sample in location.samples)


def has(row: Any, *names: str) -> bool:
    """Return whether what a row leads to was read already."""
    return inspect(row).unloaded.isdisjoint(names)
