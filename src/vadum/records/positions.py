"""Where the tests of a project stand."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import object_session

from vadum.records.tables import Location, Project, Test
from vadum.records.together import places_of, read_readings
from vadum.soil.bench.position import Position, positions_in
from vadum.soil.contract.cells import tables
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of

# The methods whose readings say where they were taken; of all others the readings are not asked for.
_PLACED = {
    code
    for code, method in METHODS.items()
    if any("latitude_deg" in model.model_fields for model in (method.Readings, *tables(method.Readings).values()))
}


@dataclass(frozen=True)
class PlacedTest:
    """A test at a position: its own, one of its rows', or its location's."""

    test: Test
    location: Location
    position: Position
    path: str = ""

    @property
    def results(self) -> dict[str, dict[str, Any]]:
        """Return the parameters that belong to this position: a row's own where the test has several places."""
        found: dict[str, dict[str, Any]] = self.test.summary.get("parameters", {})
        if not self.path:
            return found
        number = int(self.path.rsplit(".", 1)[1]) + 1
        return {key: value for key, value in found.items() if key.endswith(f"_{number}")}

    @property
    def headline(self) -> str:
        """Return the value to write beside the place."""
        for key in (*method_of(self.test.method).headline, *self.results):
            if (found := self.results.get(key)) is not None:
                return f"{found['text']} {found.get('unit', '')}".strip()
        return ""


def placed_tests(project: Project) -> list[PlacedTest]:
    """Return every test of a project that has a position, in the order of locations; voided ones are left out."""
    found, tests = [], tests_in(project)
    read_readings([test for _, test in tests if test.method in _PLACED])
    for location, test in tests:
        own = positions_in(test.kept) if test.method in _PLACED else []
        if own:
            found += [PlacedTest(test, location, position, path) for path, position in own]
        elif location.latitude_deg is not None and location.longitude_deg is not None:
            found.append(PlacedTest(test, location, Position(location.latitude_deg, location.longitude_deg)))
    return found


def tests_in(project: Project) -> list[tuple[Location, Test]]:
    """Return the tests of a project with their location, those in the ground before those of its samples; voided ones
    are left out. Their readings are long and not read with them."""
    return _tests_at(project, readings=False)


def tests_with_readings(project: Project) -> list[tuple[Location, Test]]:
    """Return the same tests for whoever goes through the readings of them all."""
    return _tests_at(project, readings=True)


def _tests_at(project: Project, *, readings: bool) -> list[tuple[Location, Test]]:
    session: Any = object_session(project)
    # One that is not on record yet holds what it was given.
    places = places_of(session, project, readings=readings) if session is not None else project.locations
    return [
        (location, test)
        for location in places
        for test in (*location.tests, *(test for sample in location.samples for test in sample.tests))
        if test.state != "void"
    ]
