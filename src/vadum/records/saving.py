"""Saving a test: every change is a revision, a stale change is refused, a change sent twice is kept once."""

import json
from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from pydantic import ValidationError
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from vadum.records.context import gather, leans_on
from vadum.records.tables import Equipment, Revision, Test, now
from vadum.records.times import note_times
from vadum.soil.cells import Sheet, UnknownCell, enter, logs
from vadum.soil.method import Method, Reduction
from vadum.soil.registry import method as method_of

LOCKED = ("checked", "issued", "void")


@dataclass(frozen=True)
class Change:
    """What a person changed, and on which revision they were looking when they did.

    ``origins`` name the instrument of cells that one filled; a cell changed without is the hand's.
    """

    base_revision: int
    who: str
    cells: dict[str, str] = field(default_factory=dict)
    settings: dict[str, Any] = field(default_factory=dict)
    logs: dict[str, Any] = field(default_factory=dict)
    uses: list[int] | None = None
    bindings: dict[str, str] | None = None
    origins: dict[str, dict[str, Any]] = field(default_factory=dict)
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
    try:
        return _save(session, test, change)
    except StaleSave:
        # The same save may have arrived twice at once: a page that reloads sends again what is still under way.
        if saved_as(session, test, change.save_key) is None:
            raise
        session.refresh(test)
        return reduce_test(session, test)


def _save(session: Session, test: Test, change: Change) -> Reduction:
    if saved_as(session, test, change.save_key) is not None:
        session.refresh(test)
        return reduce_test(session, test)
    if test.state in LOCKED:
        raise LockedTest(test.state)
    method = method_of(test.method)
    sheet = enter(method.Readings, Sheet(test.readings, test.unread), change.cells)
    if change.base_revision != test.revision:
        raise StaleSave(test, newest_revision(session, test), sheet)
    test.settings = _merged(method, test.settings, change.settings)
    test.readings, test.unread = _with_logs(method, sheet.readings, change.logs), sheet.unread
    test.origins = _origins(test, change)
    if change.uses is not None:
        _use(session, test, change.uses)
    if change.bindings is not None:
        test.bindings = {column: bound for column, bound in change.bindings.items() if bound}
    if test.state == "planned" and test.readings:
        test.state = "running"
    test.updated_at = now()
    reduction = reduce_test(session, test)
    before, test.summary = json.dumps(test.summary), summarise(reduction)
    note_times(session, test, change.who)
    record(session, test, who=change.who, what=_what(change), reason=change.reason, save_key=change.save_key)
    if json.dumps(test.summary) != before:
        refresh_dependents(session, test)
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
            origins=test.origins,
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
            p.key: {"symbol": p.symbol, "name": p.name, "text": p.text, "unit": p.unit, "reported": p.reported}
            for p in reduction.parameters
        },
        "curve": reduction.curve,
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


def _with_logs(method: Method[Any, Any, Any], readings: dict[str, Any], new: dict[str, Any]) -> dict[str, Any]:
    """Return the readings with logger files put in, or taken out where the new one is None."""
    known = logs(method.Readings)
    for name, data in new.items():
        if name not in known:
            raise UnknownCell(name)
        readings.pop(name, None)
        if data is not None:
            readings[name] = known[name].model_validate(data).model_dump(mode="json")
    return readings


def _origins(test: Test, change: Change) -> dict[str, dict[str, Any]]:
    kept = {path: origin for path, origin in test.origins.items() if path not in change.cells}
    return kept | {path: origin for path, origin in change.origins.items() if path in change.cells}


def _use(session: Session, test: Test, equipment_ids: list[int]) -> None:
    test.uses = list(session.exec(select(Equipment).where(col(Equipment.id).in_(equipment_ids))).all())


def _what(change: Change) -> str:
    parts = []
    if change.cells:
        parts.append(", ".join(f"{path} = {text.strip()[:40] or 'cleared'}" for path, text in change.cells.items()))
    for name, log in change.logs.items():
        parts.append(f"{name} = {log.get('file') or 'file'}" if log else f"{name} removed")
    if change.settings:
        parts.append("setting " + ", ".join(f"{name} = {value}" for name, value in change.settings.items()))
    if change.uses is not None:
        parts.append("equipment")
    if change.bindings is not None:
        parts.append("instruments of the columns")
    if used := sorted({str(origin.get("instrument")) for origin in change.origins.values()}):
        parts.append(f"from {', '.join(used)}")
    return "; ".join(parts)[:600]


# A sieve changes the hydrometer, which changes the sieve's own D-values: the chain is short and settles at once.
_PASSES = 3


def refresh_dependents(session: Session, test: Test) -> None:
    """Renew the summaries of the sample's tests that lean on this one, and of those that lean on what changed by it."""
    if test.sample_id is None:
        return
    tests = session.exec(select(Test).where(Test.sample_id == test.sample_id)).all()
    live = [t for t in tests if t.state not in LOCKED and (t.readings or t.state != "planned")]
    changed = {test.method}
    for _ in range(_PASSES):
        leaning = [t for t in live if leans_on(method_of(t.method)) & changed]
        changed = set()
        for each in leaning:
            summary = summarise(reduce_test(session, each))
            if json.dumps(summary) != json.dumps(each.summary):
                each.summary = summary
                session.add(each)
                changed.add(each.method)
        if not changed:
            break
        session.flush()
    session.commit()
