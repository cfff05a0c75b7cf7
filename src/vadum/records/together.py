"""What a page walks over, read at once: one query for all samples of a project, not one for each location."""

from collections.abc import Sequence
from functools import cache
from typing import Any, TypeVar

from sqlalchemy import bindparam, case, inspect
from sqlalchemy.orm import defer, joinedload, load_only, object_session, selectinload
from sqlalchemy.orm.attributes import set_committed_value
from sqlmodel import Session, SQLModel, col, func, select

from vadum.records.conditions import among
from vadum.records.tables import Location, Project, Sample, Stratum, Test
from vadum.soil.registry import METHODS

T = TypeVar("T", bound=SQLModel)

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

# What other tests and the ground column take of a test: its readings are long and rarely wanted.
_TAKEN: Any = (Test.id, Test.method, Test.state, Test.summary, Test.revision, Test.sample_id, Test.location_id)
AS_SUMMARY = load_only(*_TAKEN)

# With a row where it is from.
_WITH_ITS_PLACES: dict[type[SQLModel], Any] = {Test: WITH_PLACES, Sample: (_beside(_LOCATION).joinedload(_PROJECT),)}


def row_of(session: Session, table: type[T], key: int) -> T | None:
    """Return a row by its key, with where it is from."""
    return session.exec(_by_key(table), params={"key": key}).first()


@cache
def _by_key(table: type[T]) -> Any:
    columns: Any = table
    return select(table).where(columns.id == bindparam("key")).options(*_WITH_ITS_PLACES.get(table, ()))


class Listed:
    """Tests that satisfy a condition, in an order, as lists show them: with their places, without their readings."""

    def __init__(self, condition: Any, order: Any) -> None:
        self._count = select(func.count()).select_from(Test).where(condition)
        query = select(Test).where(condition).order_by(order).limit(bindparam("most"))
        self._shown = with_places(query).options(*WITHOUT_READINGS)

    def count(self, session: Session, **asked: Any) -> int:
        """Return how many there are; ``asked`` are the values that the condition leaves open."""
        return session.exec(self._count, params=asked).one()

    def first(self, session: Session, most: int | None, **asked: Any) -> list[Test]:
        """Return the first of them, all where ``most`` is None."""
        return list(session.exec(self._shown, params=asked | {"most": -1 if most is None else most}).all())


def samples_with_places(query: Any) -> Any:
    """Return a query of samples that brings their locations along."""
    return query.options(_beside(_LOCATION))


_SAMPLES_AROUND = samples_with_places(
    select(Sample)
    .join(Location)
    .where(Location.project_id == bindparam("project"))
    .order_by(col(Location.id), col(Sample.top_m))
)
# Beside a worksheet the mix starts with the mould that the soil was packed into: not another question, and not the
# readings of every press.
_KEPT: Any = Test.kept
_ID: Any = Test.id
_PACKED = [c for c, method in METHODS.items() if any(r.quantity == "maximum_dry_density" for r in method.results)]
_TESTS_OF = (
    select(Test, case((col(Test.method).in_(_PACKED), _KEPT)))
    .where(among(Test.sample_id, "samples"))
    .order_by(col(Test.id))
    .options(AS_SUMMARY)
)
_READINGS_OF = select(Test).where(among(Test.id, "tests")).options(load_only(_KEPT))
_USES_OF = select(Test).where(among(Test.id, "tests")).options(load_only(_ID), _of(Test.uses))
_STRATA_OF = select(Stratum).where(Stratum.location_id == bindparam("location")).order_by(col(Stratum.top_m))


def samples_around(session: Session, hole: Location) -> list[Sample]:
    """Return all samples of a location's project with their locations; with them those of the location are read."""
    found = list(session.exec(_SAMPLES_AROUND, params={"project": hole.project_id}).all())
    set_committed_value(hole, "samples", [sample for sample in found if sample.location_id == hole.id])
    return found


def hole_of(session: Session, location: Location) -> Location:
    """Return a location with its strata, and its samples with the summaries of their tests, read at once."""
    if not has(location, "strata"):
        set_committed_value(location, "strata", session.exec(_STRATA_OF, params={"location": location.id}).all())
    samples = [sample for sample in location.samples if not has(sample, "tests")]
    if samples:
        by_sample: dict[int | None, list[Test]] = {sample.id: [] for sample in samples}
        for test, kept in session.exec(_TESTS_OF, params={"samples": list(by_sample)}):
            by_sample[test.sample_id].append(test)
            if kept is not None and not has(test, "kept"):
                set_committed_value(test, "kept", kept)
        for sample in samples:
            set_committed_value(sample, "tests", by_sample[sample.id])
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


def read_readings(tests: Sequence[Test]) -> None:
    """Read the readings of tests that were read without, at once."""
    lacking = [test for test in tests if not has(test, "kept")]
    session: Any = object_session(lacking[0]) if lacking else None
    if session is not None:
        session.exec(_READINGS_OF, params={"tests": [test.id for test in lacking]}).all()


def read_uses(session: Session, tests: Sequence[Test]) -> None:
    """Read which equipment tests use, at once."""
    session.exec(_USES_OF, params={"tests": [test.id for test in tests]}).all()


def has(row: Any, *names: str) -> bool:
    """Return whether what a row leads to was read already."""
    return inspect(row).unloaded.isdisjoint(names)
