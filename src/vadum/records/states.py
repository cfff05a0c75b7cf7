"""The life of a test: planned, running, reduced, checked, issued, or void with a reason."""

from sqlmodel import Session, col, or_, select

from vadum.records.saving import record, reduce_test, summarise
from vadum.records.tables import Revision, Test, now

# From a state, what a person may do, and the state it leads to.
MOVES: dict[str, dict[str, str]] = {
    "planned": {"void": "void"},
    "running": {"done": "reduced", "void": "void"},
    "reduced": {"check": "checked", "reopen": "running", "void": "void"},
    "checked": {"issue": "issued", "reopen": "running"},
    "issued": {"reopen": "running"},
    "void": {"reopen": "running"},
}
NEEDS_REASON = ("reopen", "void")


class RefusedMove(Exception):
    """A move that the test's state, its findings or the rule of two people does not allow."""


def move(session: Session, test: Test, action: str, *, who: str, reason: str = "") -> None:
    """Bring a test into its next state.

    Raises
    ------
    RefusedMove
        With what to do instead.
    """
    target = MOVES[test.state].get(action)
    if target is None:
        raise RefusedMove(f"A {test.state} test cannot be moved by “{action}”.")
    if action in NEEDS_REASON and not reason.strip():
        raise RefusedMove("Give a reason; it is kept with the record.")
    if action == "done":
        reduction = reduce_test(session, test)
        if not reduction.complete:
            raise RefusedMove(f"Not complete yet. {reduction.next_action}")
    if action == "check" and who in recorders(session, test):
        raise RefusedMove("A second person checks: somebody who entered no reading of this test.")
    test.state = target
    test.void_reason = reason if target == "void" else ""
    test.updated_at = now() if action not in ("check", "issue") else test.updated_at
    if action == "reopen":
        test.summary = summarise(reduce_test(session, test))
    record(session, test, who=who, what=f"{action}: now {target}", reason=reason)


def recorders(session: Session, test: Test) -> set[str]:
    """Return who entered readings of the test."""
    revisions = session.exec(
        select(Revision).where(
            Revision.test_id == test.id,
            or_(col(Revision.what).contains("="), col(Revision.what).startswith("restored:")),
        )
    ).all()
    return {revision.who for revision in revisions}


def checked_by(session: Session, test: Test) -> Revision | None:
    """Return the revision in which the test was last checked, if it still is."""
    if test.state not in ("checked", "issued"):
        return None
    return session.exec(
        select(Revision)
        .where(Revision.test_id == test.id, col(Revision.what).startswith("check:"))
        .order_by(col(Revision.number).desc())
    ).first()
