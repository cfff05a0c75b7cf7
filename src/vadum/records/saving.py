"""Saving a test: every change is a revision, a stale change is refused, a change sent twice is kept once.

A change, the revision that keeps it, and what it does to tests that lean on this one are one transaction.
"""

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import numpy as np
from pydantic import ValidationError
from sqlalchemy import bindparam
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from vadum.records.changes import State, difference, kept_readings, state_of
from vadum.records.database import writing
from vadum.records.dependents import renew_dependents
from vadum.records.proposed import measured, say
from vadum.records.standing import Standing, standing_of, summarise
from vadum.records.tables import Equipment, Revision, Test, now
from vadum.records.times import note_times
from vadum.soil.contract.cells import Sheet, UnknownCell, enter, field_at, labelled, logs
from vadum.soil.contract.field import unit_of
from vadum.soil.contract.loads import as_pressures
from vadum.soil.contract.method import Method
from vadum.soil.numbers.entry import unit_typed
from vadum.soil.registry import method as method_of

LOCKED = ("checked", "issued", "void")
# Where a setting's value came from when nobody chose it.
DEFAULT = "default"
# What arrives sooner was not waiting; what says it waited longer comes from a wrong clock.
AT_ONCE, LONGEST_WAIT = timedelta(seconds=30), timedelta(days=92)

_LONGEST_TYPED = 40  # of a reading as it was typed with its unit


@dataclass(frozen=True)
class Change:
    """What a person changed, and on which revision they were looking when they did.

    ``origins`` name the instrument of cells that one filled; a cell changed without is the hand's. ``typed_at`` is when
    the hand did it, by the page's word; None for now.
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
    typed_at: datetime | None = None

    @property
    def waited_since(self) -> datetime | None:
        """When it was typed, where it waited for the line and the page's clock can be believed; else None."""
        if self.typed_at is None:
            return None
        waited = now() - self.typed_at
        return self.typed_at if AT_ONCE < waited < LONGEST_WAIT else None

    @property
    def sha256(self) -> str:
        """What tells this save from another one under the same key."""
        logs = {name: log and _mark_of(log) for name, log in self.logs.items()}
        sent = [self.cells, self.settings, logs, self.uses, self.bindings]
        return hashlib.sha256(json.dumps(sent, sort_keys=True, default=str).encode()).hexdigest()


def _mark_of(log: dict[str, Any]) -> dict[str, str]:
    """Return what tells a logger file from another, by column: its rows as text would take as long as all the rest."""
    return {
        name: hashlib.sha256(np.array(rows, dtype=float).tobytes()).hexdigest() if isinstance(rows, list) else str(rows)
        for name, rows in log.items()
    }


class StaleSave(Exception):
    """Somebody saved in between. Carries both versions, and what was saved since, the newest first; nothing of this one
    was."""

    def __init__(self, theirs: Test, since: Sequence[Revision], yours: Sheet) -> None:
        super().__init__("this sheet was changed in between")
        self.theirs, self.since, self.yours = theirs, since, yours


class LockedTest(Exception):
    """The test is checked, issued or void: it can be read, not changed."""

    def __init__(self, test: Test) -> None:
        reopened = f"This test is {test.state}; reopen it with a reason before changing it."
        super().__init__("This is handed in: begin another one." if test.practice else reopened)


def locked(test: Test) -> bool:
    """Return whether a test can be read and not changed: checked, issued or void, or practice that is handed in."""
    return test.state in LOCKED or "handed_in" in test.practice


class BadSettings(Exception):
    """A setting the method does not take."""

    def __init__(self, error: ValidationError) -> None:
        super().__init__("a setting cannot be taken")
        self.error = error


class ReusedKey(Exception):
    """A save under the key of another one: nothing was saved."""

    def __init__(self) -> None:
        super().__init__(
            "This save carries the key of another one with other content; reload the page and type it again."
        )


def save(session: Session, test: Test, change: Change) -> Standing:
    """Save a change as a new revision, renew what leans on the test, and return what the test says then.

    Raises
    ------
    StaleSave
        If the test moved on since ``change.base_revision``.
    LockedTest
        If the test may not be changed.
    ReusedKey
        If another change was saved under this key.
    UnknownCell, BadSettings
        If a cell or setting does not exist or cannot be taken.
    """
    with writing(session):
        try:
            return _save(session, test, change)
        except StaleSave:
            # The same save may have arrived twice at once: a page that reloads sends again what is still under way.
            if not was_saved(session, test, change):
                raise
            return standing_of(session, test)


def _save(session: Session, test: Test, change: Change) -> Standing:
    if was_saved(session, test, change):
        return standing_of(session, test)
    if locked(test):
        raise LockedTest(test)
    method = method_of(test.method)
    before = state_of(test)
    sheet = entered(test, change.cells)
    if change.base_revision != test.revision:
        raise StaleSave(test, revisions_after(session, test, change.base_revision), sheet)
    with session.no_autoflush:
        pin(test)
        earlier = method.Settings.model_validate(test.settings)
        _choose(method, test, change)
        if change.settings:
            later = method.Settings.model_validate(test.settings)
            sheet.readings = method.replanned(sheet.readings, earlier, later)
        test.kept = kept_readings(session, _with_logs(method, sheet.readings, change.logs))
        test.unread = sheet.unread
        test.origins = _origins(test, change)
        if change.uses is not None:
            _use(session, test, change.uses)
            say(session, test, change.who)
        elif change.cells:
            measured(session, test, change.who)
        if change.bindings is not None:
            test.bindings = {column: bound for column, bound in change.bindings.items() if bound}
        if test.state == "planned" and test.kept:
            test.state = "running"
        test.updated_at = now()
    what = _what(method, change, before, state_of(test))
    record(
        session,
        test,
        before,
        who=change.who,
        what=what,
        reason=change.reason,
        save_key=change.save_key,
        sent_sha256=change.sha256,
        typed_at=change.waited_since,
    )
    standing = settle(session, test)
    note_times(session, test, change.who, None if test.practice else change.waited_since)
    session.commit()
    return standing


def entered(test: Test, cells: dict[str, str]) -> Sheet:
    """Return the sheet of a test with texts typed into cells of it.

    Raises
    ------
    UnknownCell
        If the method has none of a path.
    """
    method = method_of(test.method)
    typed = as_pressures(method, method.Settings.model_validate(test.settings), cells)
    return enter(method.Readings, Sheet(test.readings, test.unread), typed)


def settle(session: Session, test: Test) -> Standing:
    """Renew what lists show of a test, and what leans on it where that changed; the caller commits."""
    standing = standing_of(session, test)
    before, test.summary = json.dumps(test.summary), summarise(standing.reduction)
    if json.dumps(test.summary) != before:
        session.add(test)
        session.flush()
        renew_dependents(session, test)
    return standing


def pin(test: Test) -> None:
    """Write out every setting a test does not say yet, as the method's default, and the version that reduces it now."""
    method = method_of(test.method)
    defaults: dict[str, Any] = method.Settings().model_dump(mode="json")
    missing = {name: value for name, value in defaults.items() if name not in test.settings}
    if missing:
        test.settings = test.settings | missing
    origins = {name: test.setting_origins.get(name, DEFAULT if name in missing else "") for name in defaults}
    if origins != test.setting_origins:
        test.setting_origins = origins
    test.version = method.version


def record(
    session: Session,
    test: Test,
    before: State,
    *,
    who: str,
    what: str,
    reason: str = "",
    save_key: str | None = None,
    sent_sha256: str = "",
    typed_at: datetime | None = None,
) -> Revision:
    """Append a revision with what changed since ``before``; the caller commits.

    Raises
    ------
    StaleSave
        If another save took this revision number first.
    """
    mine = Sheet(dict(test.readings), dict(test.unread))
    test_id, base = test.id or 0, test.revision
    revision = Revision(
        test_id=test_id,
        number=base + 1,
        who=who,
        what=what,
        reason=reason,
        save_key=save_key or uuid4().hex,
        sent_sha256=sent_sha256,
        typed_at=typed_at,
        state=test.state,
        changed=difference(before if base else State(), state_of(test)),
    )
    test.revision += 1
    session.add(test)
    session.add(revision)
    try:
        session.flush()
    except IntegrityError:
        session.rollback()
        session.refresh(test)
        raise StaleSave(test, revisions_after(session, test, base), mine) from None
    return revision


def was_saved(session: Session, test: Test, change: Change) -> bool:
    """Return whether this very save arrived before; the test is then as it is on record.

    Raises
    ------
    ReusedKey
        If another change was saved under this key.
    """
    found = sent_under(session, test, change.save_key)
    if found is None:
        return False
    if found and found != change.sha256:
        raise ReusedKey
    session.refresh(test)
    return True


_SAVED = (Revision.test_id == bindparam("test"), Revision.save_key == bindparam("key"))
_SENT = select(Revision.sent_sha256).where(*_SAVED)
_BECAME = select(Revision.number).where(*_SAVED)


def sent_under(session: Session, test: Test, save_key: str) -> str | None:
    """Return what tells apart what was saved under a key; None where nothing was, "" where it does not say."""
    return session.exec(_SENT, params={"test": test.id, "key": save_key}).first()


def saved_as(session: Session, test: Test, save_key: str) -> int | None:
    """Return the revision a save became, None when it never arrived."""
    return session.exec(_BECAME, params={"test": test.id, "key": save_key}).first()


def revisions_after(session: Session, test: Test, number: int) -> Sequence[Revision]:
    """Return the revisions of a test after one, the newest first."""
    of = select(Revision).where(Revision.test_id == test.id, Revision.number > number)
    return session.exec(of.order_by(col(Revision.number).desc())).all()


def _choose(method: Method[Any, Any, Any], test: Test, change: Change) -> None:
    """Put in the settings of a change, whole, and who chose each value."""
    if not change.settings:
        return
    try:
        settings = method.Settings.model_validate({**test.settings, **change.settings})
    except ValidationError as error:
        raise BadSettings(error) from error
    chosen: dict[str, Any] = settings.model_dump(mode="json")
    usual: dict[str, Any] = method.Settings().model_dump(mode="json")
    by = {name: DEFAULT if chosen[name] == usual[name] else change.who for name in change.settings}
    test.settings, test.setting_origins = chosen, test.setting_origins | by


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
    """Return where readings came from: an instrument, or a hand that typed them in another unit than the column's."""
    kept = {path: origin for path, origin in test.origins.items() if path not in change.cells}
    model = method_of(test.method).Readings
    typed = {
        path: {"typed": text.strip()[:_LONGEST_TYPED]}
        for path, text in change.cells.items()
        if (unit := unit_typed(text)) and unit != (column := unit_of(*field_at(model, path))) and column is not None
    }
    return kept | typed | {path: origin for path, origin in change.origins.items() if path in change.cells}


def _use(session: Session, test: Test, equipment_ids: list[int]) -> None:
    test.uses = list(
        session.exec(select(Equipment).where(col(Equipment.id).in_(equipment_ids)).order_by(col(Equipment.id))).all()
    )


def _what(method: Method[Any, Any, Any], change: Change, before: State, after: State) -> str:
    parts = []
    if change.cells:
        typed = {path: labelled(method.Readings, path, text.strip())[:40] for path, text in change.cells.items()}
        parts.append(", ".join(f"{path} = {text or 'cleared'}" for path, text in typed.items()))
    for name, log in change.logs.items():
        parts.append(f"{name} = {log.get('file') or 'file'}" if log else f"{name} removed")
    if change.settings:
        chosen = {name: labelled(method.Settings, name, str(value)) for name, value in change.settings.items()}
        parts.append("setting " + ", ".join(f"{name} = {text}" for name, text in chosen.items()))
    if change.uses is not None:
        parts.append(f"equipment: {_equipment(before.uses, after.uses)}")
    if change.bindings is not None:
        parts.append("instruments of the columns")
    if used := sorted({str(origin.get("instrument")) for origin in change.origins.values()}):
        parts.append(f"from {', '.join(used)}")
    return "; ".join(parts)[:600]


def _equipment(before: list[str], after: list[str]) -> str:
    taken = [f"with {name}" for name in after if name not in before]
    left = [f"without {name}" for name in before if name not in after]
    return ", ".join([*taken, *left]) or "the same"
