"""Duplicates on record: tests of one sample by one method that a second person checked."""

from collections.abc import Sequence

from sqlalchemy import func
from sqlmodel import Session, col, select

from vadum.records.states import recorders
from vadum.records.tables import Check, Test
from vadum.soil.contract.result import Parameter
from vadum.soil.uncertainty.combined import Hand
from vadum.soil.uncertainty.duplicates import COMPARED, Duplicate, Repeated, differences, goes_by_share, own_hand

_CHECKED = ("checked", "issued")


def repeated_of(session: Session, method: str, key: str) -> list[list[Repeated]]:
    """Return the checked, reportable tests of each sample that has more than one by a method."""
    several = (
        select(Test.sample_id)
        .where(Test.method == method, col(Test.state).in_(_CHECKED), col(Test.sample_id).is_not(None))
        .group_by(col(Test.sample_id))
        .having(func.count() > 1)
    )
    rows = session.exec(
        select(Test, Check)
        .join(Check, col(Check.test_id) == col(Test.id))
        .where(Test.method == method, col(Test.state).in_(_CHECKED), col(Test.sample_id).in_(several))
        .order_by(col(Check.id))
    ).all()
    # Of several checks of a test the last one counts.
    newest = {test.id: (test, check) for test, check in rows}
    found: dict[int, list[Repeated]] = {}
    for test, check in newest.values():
        value = next((p["value"] for p in check.result["parameters"] if p["key"] == key), None)
        sample = test.sample
        if value is not None and check.result["reportable"] and sample is not None:
            name = f"{sample.location.name} {sample.name}" if sample.location else sample.name
            by = ", ".join(sorted(recorders(session, test)))
            found.setdefault(sample.id or 0, []).append(Repeated(name, test.id or 0, check.at, by, value))
    return [tests for tests in found.values() if len(tests) > 1]


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
