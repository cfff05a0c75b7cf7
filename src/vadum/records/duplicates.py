"""Duplicates on record: tests of one sample by one method that a second person checked."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import and_, func
from sqlmodel import Session, col, select

from vadum.records.apart import told_apart
from vadum.records.conditions import unindexed
from vadum.records.once import each_once
from vadum.records.states import events_of, recorders
from vadum.records.tables import Check, Sample, Test
from vadum.records.together import WITHOUT_READINGS, with_places
from vadum.soil.contract.result import Parameter
from vadum.soil.uncertainty.combined import Hand
from vadum.soil.uncertainty.duplicates import COMPARED, Duplicate, Repeated, differences, goes_by_share, own_hand

REFERENCE = "reference soil"
"""The kind of a sample that is tested again and again to watch the laboratory."""
_CHECKED = ("checked", "issued")


@dataclass(frozen=True)
class _Checked:
    """What a checked, reportable test found, by the keys of its results: a check itself holds much more."""

    sample: int
    name: str
    test: int
    at: datetime
    who: str
    values: dict[str, float | None]


def repeated_of(session: Session, method: str, key: str) -> list[list[Repeated]]:
    """Return the checked, reportable tests of each sample that has more than one by a method."""
    by_sample: dict[int, list[Repeated]] = {}
    for sample, one in _found(checked_twice(session, [method])[method], key):
        by_sample.setdefault(sample, []).append(one)
    return [tests for tests in by_sample.values() if len(tests) > 1]


def of_reference(session: Session, method: str, key: str) -> list[Repeated]:
    """Return the checked, reportable tests of the laboratory's reference soils by a method, in the order of time."""
    tests = checked_of_reference(session, [method])[method]
    return sorted((one for _, one in _found(tests, key)), key=lambda one: one.at)


def checked_twice(session: Session, methods: Iterable[str]) -> dict[str, list[_Checked]]:
    """Return the checked tests, by their method, of samples that have more than one by it."""
    checked = col(Test.state).in_(_CHECKED), col(Test.sample_id).is_not(None)
    pairs: Any = select(Test.method, Test.sample_id).where(*checked)
    several = pairs.group_by(Test.method, Test.sample_id).having(func.count() > 1).subquery()
    among = select(Test.id).join(
        several, and_(unindexed(Test.method) == several.c.method, col(Test.sample_id) == several.c.sample_id)
    )
    return each_once(session, "checked twice", methods, lambda lacking: _checked(session, lacking, among))


def checked_of_reference(session: Session, methods: Iterable[str]) -> dict[str, list[_Checked]]:
    """Return the checked tests of the laboratory's reference soils by their method."""
    among = select(Test.id).join(Sample, col(Sample.id) == col(Test.sample_id)).where(Sample.kind == REFERENCE)
    return each_once(session, "of reference", methods, lambda lacking: _checked(session, lacking, among))


def reference_methods(session: Session) -> list[str]:
    """Return the methods by which a reference soil was tested and checked."""
    asked = select(Test.method).join(Sample, col(Sample.id) == col(Test.sample_id))
    asked = asked.where(Sample.kind == REFERENCE, col(Test.state).in_(_CHECKED)).distinct()
    return sorted(session.exec(asked).all())


def _checked(session: Session, methods: list[str], among: Any) -> dict[str, list[_Checked]]:
    """Return the checked, reportable tests among some by their method, of several checks of a test the last."""
    # Of a result only this is wanted; SQLite would take NaN in what was frozen for damage.
    query: Any = select(Test, Check.at, Check.result)
    query = with_places(query.join(Check, col(Check.test_id) == col(Test.id))).options(*WITHOUT_READINGS)
    checked = unindexed(Test.method).in_(methods), unindexed(Test.state).in_(_CHECKED)
    query = query.where(col(Test.id).in_(among), *checked).order_by(col(Check.id))
    last = {row[0].id: row for row in session.exec(query).all()}
    events_of(session, [test for test, *_ in last.values()])
    of_sample = {test.sample_id: test for test, *_ in last.values()}
    called = told_apart(of_sample.values())
    found: dict[str, list[_Checked]] = {method: [] for method in methods}
    for test, at, result in last.values():
        if result["reportable"] and test.id is not None and test.sample_id is not None:
            values = {p["key"]: p["value"] for p in result["parameters"]}
            who = ", ".join(sorted(recorders(session, test)))
            name = called[of_sample[test.sample_id].id or 0]
            found[test.method].append(_Checked(test.sample_id, name, test.id, at, who, values))
    return found


def _found(tests: list[_Checked], key: str) -> Iterator[tuple[int, Repeated]]:
    """Yield what some tests found, with the sample."""
    for one in tests:
        value = one.values.get(key)
        if value is not None:
            yield one.sample, Repeated(one.name, one.test, one.at, one.who, value)


def duplicates_of(session: Session, method: str, key: str) -> list[Duplicate]:
    """Return the duplicates of a result, in the order of time."""
    return differences(repeated_of(session, method, key), share=goes_by_share(method, key))


def own_repeatability(session: Session, method: str, parameters: Sequence[Parameter]) -> dict[str, Hand]:
    """Return what the laboratory itself repeats to, by key of the results that have duplicates enough."""
    found = {}
    for one in parameters:
        if one.key in COMPARED.get(method, ()) and one.value is not None:
            share = goes_by_share(method, one.key)
            own = own_hand(duplicates_of(session, method, one.key), one.value, one.unit, share=share)
            if own is not None:
                found[one.key] = own
    return found
