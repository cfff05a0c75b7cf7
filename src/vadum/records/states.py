"""The life of a test: planned, running, reduced, checked, issued, or void with a reason."""

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from vadum.records import checks
from vadum.records.attachments import without_files
from vadum.records.changes import is_content, state_of
from vadum.records.checks import accept, freeze
from vadum.records.database import writing
from vadum.records.dependents import renew_dependents
from vadum.records.once import each_once
from vadum.records.rules import rules_of
from vadum.records.saving import ReusedKey, StaleSave, pin, record, revisions_after, sent_under, settle
from vadum.records.signatures import unsigned
from vadum.records.standing import FROZEN, check_of, live
from vadum.records.tables import Check, Revision, Test, now
from vadum.soil.contract.cells import Sheet

# From a state, what a person may do, and the state it leads to.
MOVES: dict[str, dict[str, str]] = {
    "planned": {"void": "void"},
    "running": {"done": "reduced", "take": "running", "void": "void"},
    "reduced": {"check": "checked", "take": "reduced", "reopen": "running", "void": "void"},
    "checked": {"issue": "issued", "check": "checked", "keep": "checked", "reopen": "running"},
    "issued": {"keep": "issued", "reopen": "running"},
    "void": {"reopen": "running"},
}
NEEDS_REASON = ("reopen", "void", "keep")
# What only somebody who may check may do.
OF_CHECKERS = ("check", "issue", "keep")


class RefusedMove(Exception):
    """A move that the test's state, its findings or the rule of two people does not allow."""


def moves_of(test: Test, moved: list[str]) -> list[str]:
    """Return what may be done with a test as it stands: a check is checked again or kept only once its ground has
    ``moved``."""
    barred = {"take"} if not test.offered else {"done", "check"}
    if test.state in FROZEN:
        barred |= {"issue"} if moved else {"check", "keep"}
    return [action for action in MOVES[test.state] if action not in barred]


def moved_now(session: Session, test: Test) -> list[str]:
    """Return what a checked test leans on and has moved since, as the records stand now."""
    check = check_of(session, test)
    return checks.moved(session, test, check) if check else []


def move(session: Session, test: Test, action: str, *, who: str, reason: str = "", save_key: str | None = None) -> None:
    """Bring a test into its next state, with all that follows from it, and commit.

    Raises
    ------
    RefusedMove
        With what to do instead.
    """
    with writing(session):
        _move(session, test, action, who, reason, save_key)


def found_mark(test: Test) -> str:
    """Return what tells apart what a test found and what moved since its check: no revision says when these change."""
    return hashlib.sha256(json.dumps([test.summary, test.moved], sort_keys=True).encode()).hexdigest()[:16]


def was_moved(
    session: Session, test: Test, action: str, seen: int | None, found: str | None, save_key: str | None
) -> bool:
    """Return whether this very move was made before; the test is as it is on record then.

    Arguments
    ---------
    seen, found : the revision that the hand looked at, and the mark of what it found; None where it does not say

    Raises
    ------
    StaleSave
        If the test moved on since: nobody signs what they have not seen.
    ReusedKey
        If something else was saved under this key.
    """
    session.refresh(test)
    if save_key and (sent := sent_under(session, test, save_key)) is not None:
        if sent != _mark(action):
            raise ReusedKey
        return True
    base = test.revision if seen is None else seen
    if base != test.revision or found not in (None, found_mark(test)):
        raise StaleSave(test, revisions_after(session, test, base), Sheet(dict(test.readings), dict(test.unread)))
    return False


def _mark(action: str) -> str:
    """Return what tells a move from anything else that is saved under the same key."""
    return hashlib.sha256(f"move {action}".encode()).hexdigest()


def _move(session: Session, test: Test, action: str, who: str, reason: str, save_key: str | None) -> None:
    target = MOVES[test.state].get(action)
    if target is None:
        raise RefusedMove(f"A {test.state} test cannot be moved by “{action}”.")
    if action == "check" and not reason.strip() and (lacking := lacking_competence(session, test)):
        raise RefusedMove(
            f"{', '.join(lacking)} {'is' if len(lacking) == 1 else 'are'} not signed off for this method. Say who"
            " watched the work, as the reason; or sign on the competence page first."
        )
    if action in NEEDS_REASON and not reason.strip():
        raise RefusedMove("Give a reason; it is kept with the record.")
    _may(session, test, action, who)
    before = state_of(test)
    if action == "keep" and (check := check_of(session, test)):
        accept(session, test, check, who, reason)
    if action == "take":
        test.offered = {}
    test.state = target
    test.void_reason = reason if target == "void" else ""
    if action in ("done", "reopen", "void"):
        test.updated_at = now()
    if action in ("check", "keep", "reopen"):
        test.moved = []
    if target not in FROZEN:
        pin(test)
    what = f"{action}: now {target}"
    record(session, test, before, who=who, what=what, reason=reason, save_key=save_key, sent_sha256=_mark(action))
    if action == "check":
        freeze(session, test, live(session, test), who)
        session.flush()
    if target != "void":
        settle(session, test)
    if action in ("void", "reopen"):
        renew_dependents(session, test)
    session.commit()


def _may(session: Session, test: Test, action: str, who: str) -> None:
    if action == "check" and who in contributors(session, test):
        raise RefusedMove(
            "A second person checks: somebody who changed no reading, setting, equipment or photograph of this test."
        )
    if action in ("done", "check"):
        reduction = live(session, test).reduction
        if not reduction.complete:
            raise RefusedMove(f"Not complete yet. {reduction.next_action}")
        if test.offered:
            raise RefusedMove("The method has a newer version: compare both results and take it first.")
    if action in ("check", "keep") and test.state in FROZEN and not moved_now(session, test):
        raise RefusedMove("Nothing this test leans on has moved since it was checked.")
    if action == "take" and not test.offered:
        raise RefusedMove("The method has no newer version than the one in use.")
    if action == "issue" and (said := moved_now(session, test)):
        raise RefusedMove(f"Not issued: {said[0]}. Check the test again, or keep it with a reason.")


def lacking_competence(session: Session, test: Test) -> list[str]:
    """Return who measured a test and may not measure by its method alone; nobody unless the laboratory asks for it."""
    if not rules_of(session).competence_needed:
        return []
    return unsigned(session, test, contributors(session, test))


@dataclass(frozen=True)
class _Event:
    """Something that was done to a test: its content changed, or it was checked."""

    at: datetime
    who: str
    content: bool
    checked: bool = False


def contributors(session: Session, test: Test) -> set[str]:
    """Return whose work a check of the test is about: all who changed its content after the check before the last
    change."""
    events = _events(session, test)
    last = max((i for i, e in enumerate(events) if e.content), default=-1)
    before = max((i for i, e in enumerate(events[: last + 1]) if e.checked), default=-1)
    return {e.who for e in events[before + 1 :] if e.content}


def recorders(session: Session, test: Test) -> set[str]:
    """Return who ever recorded something of the test."""
    return {event.who for event in _events(session, test) if event.content}


def recorded_last(session: Session, test: Test) -> datetime | None:
    """Return when the content of the test was changed last."""
    return max((event.at for event in _events(session, test) if event.content), default=None)


def _events(session: Session, test: Test) -> list[_Event]:
    return events_of(session, [test]).get(test.id or 0, [])


def events_of(session: Session, tests: Sequence[Test]) -> dict[int, list[_Event]]:
    """Return what was done to each test, in the order of time."""

    def read(numbers: list[int]) -> dict[int, list[_Event]]:
        found: dict[int, list[_Event]] = {number: [] for number in numbers}
        parts: Any = (Revision.test_id, Revision.at, Revision.who, Revision.what, Revision.changed)
        revisions = select(*parts).where(col(Revision.test_id).in_(numbers)).order_by(col(Revision.id))
        for test, at, who, what, changed in session.exec(revisions):
            content = is_content(changed) or what.startswith("restored:")
            found[test].append(_Event(at, who, content, what.startswith("check:")))
        for number, attached in without_files(session, numbers).items():
            for one in attached:
                found[number].append(_Event(one.at, one.who, content=True))
                if one.removed_at is not None:
                    found[number].append(_Event(one.removed_at, one.removed_by, content=True))
        return {number: sorted(events, key=lambda event: event.at) for number, events in found.items()}

    return each_once(session, "events", [test.id for test in tests if test.id is not None], read)


def checkers(session: Session, tests: list[Test]) -> set[str]:
    """Return who checked these tests."""
    numbers = [test.id for test in tests if test.state in FROZEN]
    query = select(Check).where(col(Check.test_id).in_(numbers)).order_by(col(Check.id))
    newest = {check.test_id: check.who for check in session.exec(query)}
    return set(newest.values())
