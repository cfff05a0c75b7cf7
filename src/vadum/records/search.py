"""Finding things of the laboratory by a few words."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from sqlalchemy import ColumnElement, LargeBinary, case, cast
from sqlalchemy.orm import joinedload
from sqlmodel import Session, col, func, or_, select

from vadum.records.conditions import of_record
from vadum.records.plainly import plain
from vadum.records.row_number import row_number
from vadum.records.tables import STATES, Equipment, Location, Project, Sample, Test
from vadum.records.together import WITHOUT_READINGS, with_places
from vadum.soil.registry import METHODS

MOST = 15


@dataclass(frozen=True)
class Found:
    """Projects, locations, samples, tests and equipment in which every word occurs; whether there are more behind."""

    projects: list[Project]
    locations: list[Location]
    samples: list[Sample]
    tests: list[Test]
    equipment: list[Equipment]
    more: bool = False

    @property
    def nothing(self) -> bool:
        return not (self.projects or self.locations or self.samples or self.tests or self.equipment)


def search(session: Session, words: str, projects: set[int] | None = None, skip: int = 0) -> Found:
    """Return what holds all the words, newest first, ``MOST`` of each kind after the first ``skip``; only of
    ``projects`` where these are given.

    Capitals and accents count for nothing. A test is found by its method or another word for it, its place and project,
    its state and its number.
    """
    parts = plain(words).split()[:6]
    if not parts:
        return Found([], [], [], [], [])
    of_project = [_in(col(Project.name), col(Project.client), col(Project.note), word=w) for w in parts]
    of_place = [_in(col(Location.name), col(Location.kind), col(Project.name), word=w) for w in parts]
    of_sample = [
        _in(col(Sample.name), col(Sample.description), col(Location.name), col(Project.name), word=w) for w in parts
    ]
    of_piece = [_in(col(Equipment.name), col(Equipment.kind), col(Equipment.note), word=w) for w in parts]
    project: Any = Location.project
    location: Any = Sample.location
    mine = [] if projects is None else [col(Project.id).in_(projects)]
    places = select(Location).join(Project).where(*of_place, *mine).options(joinedload(project))
    samples = (
        select(Sample)
        .join(Location)
        .join(Project)
        .where(*of_sample, *mine)
        .options(joinedload(location).joinedload(project))
    )
    queries = (
        select(Project).where(*of_project, *mine).order_by(col(Project.id).desc()),
        places.order_by(col(Location.id).desc()),
        samples.order_by(col(Sample.id).desc()),
        _tests(parts, projects),
        select(Equipment).where(*of_piece, col(Equipment.kind) != "tin").order_by(col(Equipment.id)),
    )
    # One more than is shown tells whether there are more.
    found: list[Any] = [session.exec(query.offset(skip).limit(MOST + 1)).all() for query in queries]
    in_projects, locations, in_samples, tests, equipment = (list(rows[:MOST]) for rows in found)
    more = any(len(rows) > MOST for rows in found)
    return Found(in_projects, locations, in_samples, tests, equipment, more)


def _tests(parts: list[str], projects: set[int] | None) -> Any:
    """Return the query of the tests in which every word occurs, the last changed first."""
    query = select(Test).where(of_record())
    for word in parts:
        methods = [m.code for m in METHODS.values() if word in plain(" ".join((m.code, m.title, *m.known_as)))]
        number = [] if (one := row_number(word)) is None else [col(Test.id) == one]
        # Of samples and places there are far fewer than of tests: these are looked through, not every test's.
        named = col(Location.name), col(Project.name)
        places = select(Location.id).join(Project).where(_in(*named, word=word))
        samples = select(Sample.id).join(Location).join(Project).where(_in(col(Sample.name), *named, word=word))
        query = query.where(
            or_(
                col(Test.method).in_(methods),
                col(Test.state).in_([state for state in STATES if word in state]),
                col(Test.sample_id).in_(samples),
                col(Test.location_id).in_(places),
                *number,
            )
        )
    if projects is not None:
        mine = select(Location.id).where(col(Location.project_id).in_(projects))
        of_mine = select(Sample.id).where(col(Sample.location_id).in_(mine))
        query = query.where(or_(col(Test.location_id).in_(mine), col(Test.sample_id).in_(of_mine)))
    return with_places(query.order_by(col(Test.updated_at).desc())).options(*WITHOUT_READINGS)


def _in(*columns: Any, word: str) -> ColumnElement[bool]:
    return or_(*(_holds(column, word) for column in columns))


# A word is looked for in the same columns by each kind of thing; to write it down takes longer than to look.
@lru_cache(maxsize=256)
def _holds(column: Any, word: str) -> ColumnElement[bool]:
    """Return whether a text holds a word; what is plain but for its capitals, as most texts, SQLite compares itself."""
    ascii_only = func.length(cast(column, LargeBinary)) == func.length(column)
    own, plainly = (text.contains(word, autoescape=True) for text in (column, func.plain(column)))
    return case((ascii_only, own), else_=plainly)
