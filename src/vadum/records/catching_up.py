"""What a laboratory does when a newer program opens it: open tests meet newer methods, old checks are frozen late.

Both look only for what is missing, so that they go on where they were broken off.
"""

from collections.abc import Iterator
from typing import Any

from sqlmodel import Session, col, select

from vadum.records.checks import freeze
from vadum.records.dependents import renew, renew_dependents
from vadum.records.standing import FROZEN, live, summarise
from vadum.records.tables import Check, LaboratorySetting, Revision, Test
from vadum.soil.registry import METHODS

_OPEN = ("running", "reduced")
_RENEWED = "lists renewed"
# Raised where what every test is held against has changed, and no version of a method says so.
_RENEWED_FOR = "pieces and tests that differ"
_PASSES = 4


def catch_up(session: Session) -> None:
    """Bring every test up to the program as it is, and commit."""
    _freeze_old_checks(session)
    # What the release before said is offered beside what is said now: only then it may go.
    _offer_newer_versions(session)
    _renew_once(session)


def _renew_once(session: Session) -> None:
    """Renew what lists show of open and void tests where an earlier program was the last to do so: it let a void test
    feed others, or said nothing of two pieces, or two tests, that contradict each other."""
    last = session.get(LaboratorySetting, _RENEWED)
    if last is not None and last.value == _RENEWED_FOR:
        return
    tests = session.exec(select(Test).where(col(Test.state).in_((*_OPEN, "void"))).order_by(col(Test.id))).all()
    recorded = [test for test in tests if not test.practice]
    for _ in range(_PASSES):
        if not renew(session, recorded):
            break
    session.merge(LaboratorySetting(key=_RENEWED, value=_RENEWED_FOR))
    session.commit()


def _freeze_old_checks(session: Session) -> None:
    """Freeze the checked tests of a laboratory whose checks froze nothing; what has changed since is said, not
    hidden."""
    frozen = select(Check.test_id)
    query = select(Test).where(col(Test.state).in_(FROZEN), col(Test.id).not_in(frozen)).order_by(col(Test.id))
    for test in session.exec(query).all():
        standing = live(session, test)
        kept = test.summary.get("parameters", {})
        summary = summarise(standing.reduction)
        unsettled = list(_changed(kept, summary["parameters"]))
        freeze(session, test, standing, _checker(session, test), unsettled)
        test.summary, test.moved = summary, unsettled
        session.add(test)
    session.commit()


def _changed(kept: dict[str, Any], now: dict[str, Any]) -> Iterator[str]:
    """Yield in words which results of a test are not those that were kept of it."""
    for key in dict.fromkeys([*kept, *now]):
        then, text = kept.get(key, {}).get("text"), now.get(key, {}).get("text")
        if then != text:
            symbol = (kept.get(key) or now[key])["symbol"]
            yield (
                f"{symbol} is {text or 'not known'} by its readings and ground now, was kept as {then or 'not known'}"
                " before"
            )


def _checker(session: Session, test: Test) -> str:
    query = select(Revision.who).where(Revision.test_id == test.id, col(Revision.what).startswith("check:"))
    return session.exec(query.order_by(col(Revision.number).desc())).first() or "unknown"


def _offer_newer_versions(session: Session) -> None:
    """Reduce open tests by the method as it is now, and keep beside it what its earlier version had made of them.

    The version of a test stays that of its newest revision until somebody takes the newer one or changes a reading.
    """
    rows = session.exec(
        select(Test.id, Test.method, Test.version, Test.offered).where(col(Test.state).in_(_OPEN))
    ).all()
    for number, method, version, offered in rows:
        by = METHODS[method].version if method in METHODS else version
        if version in ("", by) or (offered or {}).get("by") == by:
            continue
        test = session.get_one(Test, number)
        kept = test.offered or {"version": version, "parameters": test.summary.get("parameters", {})}
        test.summary = summarise(live(session, test).reduction)
        test.offered = kept | {"by": by}
        session.add(test)
        session.flush()
        renew_dependents(session, test)
    session.commit()
