"""Issuing a checked test: a number, and the sheet frozen as it was with its hash; a later one replaces it."""

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from vadum.present import reduction_in
from vadum.records.conditions import among
from vadum.records.database import writing
from vadum.records.letterhead import letterhead_of
from vadum.records.once import each_once
from vadum.records.standing import result_of
from vadum.records.states import RefusedMove, move
from vadum.records.tables import Check, IssuedSheet, Revision, Test, now
from vadum.records.units import units_of_test
from vadum.records.zone import local, stamp
from vadum.report.document import compiled
from vadum.report.numbering import next_number
from vadum.report.sheet import Signed, sheet_of
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of


@dataclass(frozen=True)
class Issued:
    """An issued sheet without its bytes."""

    id: int
    number: str
    at: datetime
    who: str
    revision: int
    sha256: str
    replaces: str
    reason: str


_COLUMNS: Any = [getattr(IssuedSheet, name) for name in Issued.__dataclass_fields__]
_ISSUED = (
    select(IssuedSheet.test_id, *_COLUMNS).where(among(IssuedSheet.test_id, "tests")).order_by(col(IssuedSheet.id))
)


def issue(session: Session, test: Test, who: str, save_key: str | None = None) -> IssuedSheet:
    """Issue a checked test under the next number of the year, its sheet frozen as PDF; committed as one.

    Raises
    ------
    RefusedMove
        If it is not checked, or its result is not reportable.
    """
    with writing(session):
        return _issue(session, test, who, save_key)


def _issue(session: Session, test: Test, who: str, save_key: str | None) -> IssuedSheet:
    if test.state != "checked":
        raise RefusedMove("Only a checked test is issued.")
    reduction = result_of(session, test)
    if not reduction.reportable:
        raise RefusedMove(f"Not reportable, so not issued. {reduction.next_action}")
    earlier = issued_of(session, test)
    at = now()
    number = next_number(f"{local(session, at).year}-", session.exec(select(IssuedSheet.number)).all())
    part = sheet_of(session, test, issued=Signed(who, stamp(session, at)))
    part.data["state"] = "issued"
    reason = _reopened_because(session, test) if earlier else ""
    if earlier:
        part.data["particulars"] += [
            ["replaces", f"{earlier[-1].number} of {local(session, earlier[-1].at):%Y-%m-%d}: {reason}"],
            ["changed", "; ".join(_changed(session, test, earlier[-1])) or "no result"],
        ]
    letterhead, title = letterhead_of(session), part.data["title"]
    document = compiled(letterhead, [part], kind="Sheet", title=title, number=number, state="issued")[0]
    sheet = IssuedSheet(
        test_id=test.id or 0,
        number=number,
        at=at,
        who=who,
        revision=test.revision,
        data=document,
        sha256=hashlib.sha256(document).hexdigest(),
        replaces=earlier[-1].number if earlier else "",
        reason=reason,
    )
    session.add(sheet)
    move(session, test, "issue", who=who, reason=number, save_key=save_key)
    return sheet


def issued_of(session: Session, test: Test) -> list[Issued]:
    """Return a test's issued sheets in the order of their issue."""
    return issued_by_test(session, [test]).get(test.id or 0, [])


def issued_by_test(session: Session, tests: Sequence[Test]) -> dict[int, list[Issued]]:
    """Return the issued sheets of each test in the order of their issue."""

    def read(numbers: list[int]) -> dict[int, list[Issued]]:
        found: dict[int, list[Issued]] = {number: [] for number in numbers}
        for number, *row in session.exec(_ISSUED, params={"tests": numbers}).all():
            found[number].append(Issued(*row))
        return found

    return each_once(session, "issued", [test.id for test in tests if test.id is not None], read)


def _reopened_because(session: Session, test: Test) -> str:
    found = session.exec(
        select(Revision.reason)
        .where(Revision.test_id == test.id, col(Revision.what).startswith("reopen:"))
        .order_by(col(Revision.number).desc())
    ).first()
    return found or ""


def _changed(session: Session, test: Test, earlier: Issued) -> Iterator[str]:
    """Yield each result that is not what it was on the sheet before, as both sheets print it."""
    query = select(Check).where(Check.test_id == test.id, col(Check.revision) <= earlier.revision)
    before = session.exec(query.order_by(col(Check.id).desc())).first()
    if before is None:
        return
    method, units = method_of(test.method), units_of_test(test)
    was, now_ = (
        {p.key: p for p in reduction_in(one, units, method).parameters}
        for one in (Reduction.model_validate(before.result), result_of(session, test))
    )
    for key in dict.fromkeys([*was, *now_]):
        old, new = was.get(key), now_.get(key)
        if old is None or new is None or old.text != new.text:
            said = [f"{one.text} {one.unit}".strip() if one else "none" for one in (old, new)]
            yield f"{(new or old).symbol} {said[0]} is now {said[1]}"  # type: ignore[union-attr]
