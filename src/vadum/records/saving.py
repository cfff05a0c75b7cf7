"""Saving a test: every change is a revision, a stale change is refused, a change sent twice is kept once."""

from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from pydantic import ValidationError
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from vadum.records.context import gather
from vadum.records.tables import Equipment, Revision, Test, now
from vadum.soil.cells import Sheet, enter
from vadum.soil.method import Method, Reduction
from vadum.soil.registry import method as method_of

LOCKED = ("checked", "issued", "void")


@dataclass(frozen=True)
class Change:
    """What a person changed, and on which revision they were looking when they did."""

    base_revision: int
    who: str
    cells: dict[str, str] = field(default_factory=dict)
    settings: dict[str, Any] = field(default_factory=dict)
    uses: list[int] | None = None
    reason: str = ""
    save_key: str = field(default_factory=lambda: uuid4().hex)


class StaleSave(Exception):
    """Somebody saved in between. Carries both versions; nothing was saved."""

    def __init__(self, theirs: Test, by: Revision | None, yours: Sheet) -> None:
        super().__init__("this sheet was changed in between")
        self.theirs, self.by, self.yours = theirs, by, yours


class LockedTest(Exception):
    """The test is checked, issued or void: it can be read, not changed."""

    def __init__(self, state: str) -> None:
        super().__init__(f"This test is {state}; reopen it with a reason before changing it.")


class BadSettings(Exception):
    """A setting the method does not take."""

    def __init__(self, error: ValidationError) -> None:
        super().__init__("a setting cannot be taken")
        self.error = error


def reduce_test(session: Session, test: Test) -> Reduction:
    """Return the reduction of a test's newest readings."""
    method = method_of(test.method)
    return method.reduce_raw(test.readings, test.settings, gather(session, test, method))


def save(session: Session, test: Test, change: Change) -> Reduction:
    """Save a change as a new revision and return the reduction it leads to.

    Raises
    ------
    StaleSave
        If the test moved on since ``change.base_revision``.
    LockedTest
        If the test may not be changed.
    UnknownCell, BadSettings
        If a cell or setting does not exist or cannot be taken.
    """
    if saved_as(session, test, change.save_key) is not None:
        return reduce_test(session, test)
    if test.state in LOCKED:
        raise LockedTest(test.state)
    method = method_of(test.method)
    sheet = enter(method.Readings, Sheet(test.readings, test.unread), change.cells)
    if change.base_revision != test.revision:
        raise StaleSave(test, newest_revision(session, test), sheet)
    test.settings = _merged(method, test.settings, change.settings)
    test.readings, test.unread = sheet.readings, sheet.unread
    if change.uses is not None:
        _use(session, test, change.uses)
    if test.state == "planned" and test.readings:
        test.state = "running"
    test.updated_at = now()
    reduction = reduce_test(session, test)
    test.summary = summarise(reduction)
    record(session, test, who=change.who, what=_what(change), reason=change.reason, save_key=change.save_key)
    _refresh_dependents(session, test)
    return reduction


def record(session: Session, test: Test, *, who: str, what: str, reason: str = "", save_key: str | None = None) -> None:
    """Append a revision with the test as it stands, and commit.

    Raises
    ------
    StaleSave
        If another save took this revision number first.
    """
    mine = Sheet(dict(test.readings), dict(test.unread))
    test.revision += 1
    session.add(test)
    session.add(
        Revision(
            test_id=test.id or 0,
            number=test.revision,
            who=who,
            what=what,
            reason=reason,
            save_key=save_key or uuid4().hex,
            state=test.state,
            readings=test.readings,
            unread=test.unread,
            settings=test.settings,
        )
    )
    try:
        session.commit()
    except IntegrityError:
        session.rollback()
        session.refresh(test)
        raise StaleSave(test, newest_revision(session, test), mine) from None


def saved_as(session: Session, test: Test, save_key: str) -> int | None:
    """Return the revision a save became, None when it never arrived."""
    return session.exec(
        select(Revision.number).where(Revision.test_id == test.id, Revision.save_key == save_key)
    ).first()


def newest_revision(session: Session, test: Test) -> Revision | None:
    return session.exec(
        select(Revision).where(Revision.test_id == test.id).order_by(col(Revision.number).desc())
    ).first()


def summarise(reduction: Reduction) -> dict[str, Any]:
    """Return what lists, the ground column and other tests need of a reduction."""
    severities = [finding.severity for finding in reduction.findings]
    return {
        "parameters": {
            p.key: {"symbol": p.symbol, "text": p.text, "unit": p.unit, "reported": p.reported}
            for p in reduction.parameters
        },
        "stops": severities.count("stop"),
        "warnings": severities.count("warn"),
        "complete": reduction.complete,
        "reportable": reduction.reportable,
        "next_action": reduction.next_action,
    }


def _merged(method: Method[Any, Any, Any], old: dict[str, Any], new: dict[str, Any]) -> dict[str, Any]:
    """Return the settings that differ from the method's defaults, after a change."""
    if not new:
        return old
    try:
        settings = method.Settings.model_validate({**old, **new})
    except ValidationError as error:
        raise BadSettings(error) from error
    chosen: dict[str, Any] = settings.model_dump(mode="json", exclude_defaults=True)
    return chosen


def _use(session: Session, test: Test, equipment_ids: list[int]) -> None:
    test.uses = list(session.exec(select(Equipment).where(col(Equipment.id).in_(equipment_ids))).all())


def _what(change: Change) -> str:
    parts = []
    if change.cells:
        parts.append(", ".join(f"{path} = {text.strip()[:40] or 'cleared'}" for path, text in change.cells.items()))
    if change.settings:
        parts.append("setting " + ", ".join(f"{name} = {value}" for name, value in change.settings.items()))
    if change.uses is not None:
        parts.append("equipment")
    return "; ".join(parts)[:600]


def _refresh_dependents(session: Session, test: Test) -> None:
    """Renew the summaries of the sample's other tests, which may lean on this one."""
    if test.sample_id is None:
        return
    others = session.exec(select(Test).where(Test.sample_id == test.sample_id, Test.id != test.id)).all()
    changed = False
    for other in others:
        if other.state in LOCKED or not other.readings:
            continue
        summary = summarise(reduce_test(session, other))
        if summary != other.summary:
            other.summary = summary
            session.add(other)
            changed = True
    if changed:
        session.commit()
