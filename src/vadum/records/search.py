"""Finding things of the laboratory by a few words."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement
from sqlmodel import Session, col, or_, select

from vadum.records.tables import Equipment, Location, Project, Sample, Test, of_record
from vadum.soil.registry import METHODS

MOST = 30


@dataclass(frozen=True)
class Found:
    """Projects, locations, samples, tests and equipment in which every word occurs."""

    projects: list[Project]
    locations: list[Location]
    samples: list[Sample]
    tests: list[Test]
    equipment: list[Equipment]

    @property
    def nothing(self) -> bool:
        return not (self.projects or self.locations or self.samples or self.tests or self.equipment)


def search(session: Session, words: str, projects: set[int] | None = None) -> Found:
    """Return what holds all the words, newest first; only of ``projects`` where these are given.

    A test is found by its method, its place, its state and its number.
    """
    parts = words.lower().split()[:6]
    if not parts:
        return Found([], [], [], [], [])
    of_project = [_in(col(Project.name), col(Project.client), col(Project.note), word=w) for w in parts]
    of_place = [_in(col(Location.name), col(Location.kind), col(Project.name), word=w) for w in parts]
    of_sample = [_in(col(Sample.name), col(Sample.description), col(Location.name), col(Project.name), word=w) for w in parts]  # fmt: skip
    mine = [] if projects is None else [col(Project.id).in_(projects)]
    return Found(
        list(session.exec(select(Project).where(*of_project, *mine).order_by(col(Project.id).desc()).limit(MOST)).all()),
        list(session.exec(select(Location).join(Project).where(*of_place, *mine).order_by(col(Location.id).desc()).limit(MOST)).all()),
        list(session.exec(select(Sample).join(Location).join(Project).where(*of_sample, *mine).order_by(col(Sample.id).desc()).limit(MOST)).all()),
        _tests(session, parts, projects),
        list(session.exec(select(Equipment).where(*[_in(col(Equipment.name), col(Equipment.kind), col(Equipment.note), word=w) for w in parts], col(Equipment.kind) != "tin").limit(MOST)).all()),
    )  # fmt: skip


def _tests(session: Session, parts: list[str], projects: set[int] | None) -> list[Test]:
    place = Location.__table__.alias("place")  # type: ignore[attr-defined]
    query = (
        select(Test)
        .outerjoin(Sample)
        .outerjoin(place, or_(place.c.id == Sample.location_id, place.c.id == Test.location_id))
    )
    for word in parts:
        methods = [m.code for m in METHODS.values() if word in f"{m.code} {m.title}".lower()]
        number = [col(Test.id) == int(word)] if word.isdecimal() and len(word) < 18 else []
        query = query.where(
            or_(col(Test.method).in_(methods), _in(col(Sample.name), place.c.name, col(Test.state), word=word), *number)
        )
    if projects is not None:
        query = query.where(place.c.project_id.in_(projects))
    return list(session.exec(query.where(of_record()).order_by(col(Test.updated_at).desc()).limit(MOST)).all())


def _in(*columns: Any, word: str) -> ColumnElement[bool]:
    return or_(*(column.icontains(word, autoescape=True) for column in columns))
