"""What a test says: the one source of its results, for every page, sheet, list, report and file.

An open test is reduced from its newest readings and from what it leans on now. A checked or issued one says what was
checked, whatever became of its ground since.
"""

import json
from dataclasses import dataclass
from typing import Any

from sqlmodel import Session, col, select

from vadum.records.context import footing
from vadum.records.footing import Lean
from vadum.records.once import each_once
from vadum.records.pieces import Piece, pieces_of
from vadum.records.recent import Recent
from vadum.records.tables import Check, Test
from vadum.soil.contract.cells import Sheet
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of

FROZEN = ("checked", "issued")


@dataclass(frozen=True)
class Standing:
    """A test as it counts: readings, choices and ground with the reduction they lead to; ``check`` when it is
    frozen."""

    method: Method[Any, Any, Any]
    sheet: Sheet
    settings: dict[str, Any]
    setting_origins: dict[str, str]
    origins: dict[str, dict[str, Any]]
    context: dict[str, Any]
    leans: list[Lean]
    pieces: list[Piece]
    version: str
    reduction: Reduction
    check: Check | None = None

    @property
    def readings(self) -> dict[str, Any]:
        return self.sheet.readings


def standing_of(session: Session, test: Test) -> Standing:
    """Return what a test says."""
    check = check_of(session, test)
    return live(session, test) if check is None else _frozen(check, test)


def result_of(session: Session, test: Test) -> Reduction:
    """Return the reduction that counts."""
    return standing_of(session, test).reduction


def live(session: Session, test: Test) -> Standing:
    """Return what the newest readings say on the ground as it is now, whatever was checked."""
    method, found = method_of(test.method), footing(session, test)
    return Standing(
        method,
        Sheet(test.readings, test.unread),
        test.settings,
        test.setting_origins,
        test.origins,
        found.context,
        found.leans,
        pieces_of(session, test),
        method.version,
        _reduced(method, test, found.context),
    )


_reductions: Recent[Reduction] = Recent(64)


def _reduced(method: Method[Any, Any, Any], test: Test, context: dict[str, Any]) -> Reduction:
    """Return the reduction of a test in a context: remembered from when both were last the same, else made."""
    on_sheet = [test.kept, test.unread, test.settings, context]
    asked = json.dumps([method.code, method.version, *on_sheet], sort_keys=True, default=str)
    return _reductions.of(asked, lambda: method.reduce_raw(test.readings, test.settings, context, test.unread))


def check_of(session: Session, test: Test) -> Check | None:
    """Return the check that holds; None for a test that is open or void."""
    if test.state not in FROZEN:
        return None

    def read(_: object) -> dict[int | None, Check | None]:
        query = select(Check).where(Check.test_id == test.id).order_by(col(Check.id).desc()).limit(1)
        return {test.id: session.exec(query).first()}

    # A sheet asks three times; a report goes through hundreds, and each holds a whole result.
    return each_once(session, "check", [test.id], read, most=1)[test.id]


def _frozen(check: Check, test: Test) -> Standing:
    return Standing(
        method_of(test.method),
        Sheet(check.readings, test.unread),
        check.settings,
        check.setting_origins,
        check.origins,
        check.context,
        [Lean(**one) for one in check.leans],
        [Piece(**one) for one in check.pieces],
        check.version,
        Reduction.model_validate(check.result),
        check,
    )


def summarise(reduction: Reduction) -> dict[str, Any]:
    """Return what lists, the ground column and other tests need of a reduction."""
    severities = [finding.severity for finding in reduction.findings]
    return {
        "parameters": {
            p.key: {"symbol": p.symbol, "name": p.name, "text": p.text, "unit": p.unit, "reported": p.reported}
            for p in reduction.parameters
        },
        "curve": [list(point) for point in reduction.curve],
        "stops": severities.count("stop"),
        "warnings": severities.count("warn"),
        "complete": reduction.complete,
        "reportable": reduction.reportable,
        "next_action": reduction.next_action,
    }
