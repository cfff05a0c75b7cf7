"""What a change of one test, of a piece of equipment or of a sample does to the tests that lean on it.

Open tests are reduced again; checked ones keep what was checked and say that their ground has moved. Nothing here
commits: a change and what follows from it are one transaction.
"""

import json
from collections.abc import Iterable

from sqlalchemy import String, bindparam, cast
from sqlmodel import Session, col, or_, select

from vadum.records.checks import moved
from vadum.records.context import leans_on
from vadum.records.standing import FROZEN, check_of, live, summarise
from vadum.records.tables import Equipment, Test, TestUse
from vadum.soil.registry import method as method_of

# A sieve changes the hydrometer, which changes the sieve's own D-values: the chain is short and settles at once.
_PASSES = 3
_OF_SAMPLE = select(Test).where(Test.sample_id == bindparam("sample"))


def renew_dependents(session: Session, test: Test) -> None:
    """Renew the sample's tests that lean on this one, and those that lean on what changed by it; cups renew their
    users."""
    if test.equipment is not None:
        renew_users(session, test.equipment)
    if test.sample_id is None:
        return
    beside = session.exec(_OF_SAMPLE, params={"sample": test.sample_id}).all()
    begun = [t for t in beside if t.kept or t.state != "planned"]
    changed = {test.method}
    for _ in range(_PASSES):
        changed = renew(session, [t for t in begun if leans_on(method_of(t.method)) & changed])
        if not changed:
            return


def renew(session: Session, tests: Iterable[Test]) -> set[str]:
    """Renew what lists show of tests; return the methods of those whose results changed."""
    changed = set()
    for test in tests:
        if test.state in FROZEN:
            check = check_of(session, test)
            said = moved(session, test, check) if check else []
            if said != test.moved:
                test.moved = said
                session.add(test)
            continue
        summary = summarise(live(session, test).reduction)
        if json.dumps(summary) != json.dumps(test.summary):
            test.summary = summary
            session.add(test)
            changed.add(test.method)
    session.flush()
    return changed


def users_of(session: Session, piece: Equipment) -> list[Test]:
    """Return the tests that use a piece of equipment or have it, a tin, in their readings."""
    mentioned = cast(col(Test.kept), String).contains(json.dumps(piece.name), autoescape=True)
    used = col(Test.id).in_(select(TestUse.test_id).where(TestUse.equipment_id == piece.id))
    query = select(Test).where(col(Test.equipment_id).is_(None))
    return list(session.exec(query.where(or_(used, mentioned) if piece.kind == "tin" else used)).all())


def renew_users(session: Session, piece: Equipment) -> None:
    """Renew the begun tests that use a piece of equipment or have it, a tin, in their readings."""
    renew_all(session, users_of(session, piece))


def renew_all(session: Session, tests: Iterable[Test]) -> None:
    """Renew those of some tests that are begun, and what leans on them."""
    begun = [test for test in tests if test.state not in ("planned", "void")]
    renew(session, begun)
    for test in begun:
        renew_dependents(session, test)
