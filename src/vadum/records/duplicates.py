"""Duplicates on record: tests of one sample by one method that a second person checked."""

from collections.abc import Iterator, Sequence
from typing import Any

from sqlalchemy import func
from sqlmodel import Session, col, select

from vadum.records.states import recorders
from vadum.records.tables import Check, Sample, Test
from vadum.soil.contract.result import Parameter
from vadum.soil.uncertainty.combined import Hand
from vadum.soil.uncertainty.duplicates import COMPARED, Duplicate, Repeated, differences, goes_by_share, own_hand

REFERENCE = "reference soil"
"""The kind of a sample that is tested again and again to watch the laboratory."""
_CHECKED = ("checked", "issued")


def repeated_of(session: Session, method: str, key: str) -> list[list[Repeated]]:
    """Return the checked, reportable tests of each sample that has more than one by a method."""
    several = (
        select(Test.sample_id)
        .where(Test.method == method, col(Test.state).in_(_CHECKED), col(Test.sample_id).is_not(None))
        .group_by(col(Test.sample_id))
        .having(func.count() > 1)
    )
    by_sample: dict[int, list[Repeated]] = {}
    for sample, one in _found(session, method, key, several):
        by_sample.setdefault(sample, []).append(one)
    return [tests for tests in by_sample.values() if len(tests) > 1]


def of_reference(session: Session, method: str, key: str) -> list[Repeated]:
    """Return the checked, reportable tests of the laboratory's reference soils by a method, in the order of time."""
    samples = select(Sample.id).where(Sample.kind == REFERENCE)
    return sorted((one for _, one in _found(session, method, key, samples)), key=lambda one: one.at)


def reference_methods(session: Session) -> list[str]:
    """Return the methods by which a reference soil was tested and checked."""
    asked = select(Test.method).join(Sample, col(Sample.id) == col(Test.sample_id))
    asked = asked.where(Sample.kind == REFERENCE, col(Test.state).in_(_CHECKED)).distinct()
    return sorted(session.exec(asked).all())


def _found(session: Session, method: str, key: str, samples: Any) -> Iterator[tuple[int, Repeated]]:
    """Yield the checked, reportable tests of some samples, with the sample; of several checks of a test the last."""
    rows = session.exec(
        select(Test, Check)
        .join(Check, col(Check.test_id) == col(Test.id))
        .where(Test.method == method, col(Test.state).in_(_CHECKED), col(Test.sample_id).in_(samples))
        .order_by(col(Check.id))
    ).all()
    for test, check in {test.id: (test, check) for test, check in rows}.values():
        value = next((p["value"] for p in check.result["parameters"] if p["key"] == key), None)
        sample = test.sample
        if value is not None and check.result["reportable"] and sample is not None:
            name = f"{sample.location.name} {sample.name}" if sample.location else sample.name
            by = ", ".join(sorted(recorders(session, test)))
            yield sample.id or 0, Repeated(name, test.id or 0, check.at, by, value)


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
