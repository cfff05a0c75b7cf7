"""From readings to what is known of them, in the one order that holds for every method.

Reduce, say what was not read, ask for blanks that matter, hold every result against what can be and every reading
against its neighbours, look at the equipment, judge, advise. A method only reduces; what it declares beside its
readings is judged here.
"""

import logging
from collections.abc import Iterable, Iterator, Mapping
from typing import Any, Protocol

from vadum.soil.contract.blanks import MISSING, NOT_WRITTEN, blanks
from vadum.soil.contract.copies import SAME_READINGS
from vadum.soil.contract.field import Context
from vadum.soil.contract.finding import RANK, Doubt, Finding, grouped, stop, warn
from vadum.soil.contract.followed import followed
from vadum.soil.contract.neighbours import (
    LOG_NUMBER,
    NAMED_TWICE,
    ODD_READING,
    OTHER_PIECE,
    OTHER_TEST,
    OUT_OF_ORDER,
    STANDS_TWICE,
    UNUSUAL_READING,
    Relation,
    differing,
    unusual,
)
from vadum.soil.contract.places import Taken
from vadum.soil.contract.reduction import DONE, NOT_FINISHED, Reduction
from vadum.soil.contract.result import Bounds, Result
from vadum.soil.contract.rows import Parts, without_left_out
from vadum.soil.contract.still import STANDS_STILL, STOPPED
from vadum.soil.contract.strays import NO_SUCH_PART, strays
from vadum.soil.contract.tins import TIN_ELSEWHERE, TIN_UNKNOWN, TIN_WRITTEN_OTHERWISE, tins_asked
from vadum.soil.contract.unread import NOT_READ, not_read

NOT_REDUCED = stop(
    "not-reduced",
    "{method}: these readings could not be reduced ({why}); they are all kept.",
    "Look at the reading typed last: unit, sign, column; put it right or leave its row out.",
)
IMPOSSIBLE = stop(
    "impossible-result",
    "{symbol} {text} cannot be: {bound}.",
    "Look for a reading in another unit or column; read it again and put it right.",
)
UNUSUAL = warn(
    "unusual-result",
    "{symbol} {text} is unusual: {bound}{takes}.",
    "Look for a reading in another unit or column; if all are right, say so on the sheet.",
)
EQUIPMENT_OUT_OF_DATE = warn(
    "equipment-out-of-date",
    "{name}: {why}.",
    "Have it calibrated, or take another; say under Equipment which one was used.",
)
PIECES_DIFFER = stop(
    "pieces-differ",
    "{one} and {other} are both in use on this sheet and differ in {what}.",
    "Say under Equipment which one was used.",
)
TESTS_DIFFER = warn(
    "tests-differ",
    "{symbol} is taken from {taken}; {other} of the same sample differs from it by {percent:.0f %}.",
    "Look which of the two is right; void the other with the reason.",
)
SHARED: tuple[Doubt, ...] = (
    NOT_REDUCED,
    NOT_READ,
    NO_SUCH_PART,
    MISSING,
    NOT_WRITTEN,
    IMPOSSIBLE,
    UNUSUAL,
    UNUSUAL_READING,
    ODD_READING,
    OUT_OF_ORDER,
    STANDS_TWICE,
    NAMED_TWICE,
    SAME_READINGS,
    STANDS_STILL,
    STOPPED,
    LOG_NUMBER,
    OTHER_PIECE,
    OTHER_TEST,
    TIN_UNKNOWN,
    TIN_WRITTEN_OTHERWISE,
    TIN_ELSEWHERE,
    EQUIPMENT_OUT_OF_DATE,
    PIECES_DIFFER,
    TESTS_DIFFER,
)
"""Findings that every method can come to."""

_log = logging.getLogger(__name__)


class Reducing(Protocol):
    """What the pipeline asks of a method."""

    @property
    def code(self) -> str: ...
    @property
    def title(self) -> str: ...
    @property
    def basis(self) -> tuple[str, ...]: ...
    @property
    def results(self) -> tuple[Result, ...]: ...
    @property
    def neighbours(self) -> tuple[Relation, ...]: ...
    @property
    def reported_as_found(self) -> bool: ...
    @property
    def parts(self) -> Parts | None: ...
    def work_out(self, readings: Any, settings: Any, context: Any, /) -> Reduction: ...


def reduced(method: Reducing, readings: Any, settings: Any, context: Any, unread: Mapping[str, str]) -> Reduction:
    """Return all that the readings say so far, judged, with what to do next; ``unread`` are texts in cells, by path,
    that are no readings. Never raises."""
    reduction = _examined(method, readings, settings, context, unread)
    reduction.findings += equipment(context) + ground(context)
    reduction.findings = grouped(reduction.findings)
    judge(reduction, reported_as_found=method.reported_as_found)
    reduction.follows = followed(reduction.follows, method.basis, settings)
    reduction.next_action = advise(reduction, readings.remarks or "")
    return reduction


def _examined(method: Reducing, readings: Any, settings: Any, context: Any, unread: Mapping[str, str]) -> Reduction:
    readings = without_left_out(readings, method.parts)
    filled = readings
    for piece in context.brought:
        filled = piece.fill(filled)
    try:
        reduction = method.work_out(filled, settings, context)
    except Exception as error:
        _log.exception("%s could not be reduced", method.code)
        reduction = Reduction(findings=[NOT_REDUCED.at(method=method.title, why=type(error).__name__)])
    taken = Taken(filled)
    refused = list(not_read(readings, settings, unread))
    reduction.findings = refused + reduction.findings
    if reduction.complete:
        lacking = list(blanks(taken, settings, context))
        _add(reduction, lacking)
        reduction.complete = not refused and not any(f.code == MISSING.code for f in reduction.findings)
        if lacking:
            # All is measured: a reading left out at the start is a gap of the record, not the next thing to do.
            reduction.next_step = ""
    reduction.findings += strays(readings, method.parts)
    _add(reduction, differing(readings, context))
    _add(reduction, unusual(taken, settings, context))
    _add(reduction, tins_asked(taken, context))
    for relation in method.neighbours:
        _add(reduction, relation.broken(taken, settings, context))
    reduction.findings += credible(method.results, reduction)
    return reduction


def _add(reduction: Reduction, findings: Iterable[Finding]) -> None:
    """Add what the method itself has not said: of one reading one doubt is enough."""
    doubted = {cell for f in reduction.findings if f.severity != "note" for cell in f.cells}
    reduction.findings += [finding for finding in findings if not set(finding.cells) <= doubted]


def credible(results: tuple[Result, ...], reduction: Reduction) -> Iterator[Finding]:
    """Yield what is wrong with results by the bounds they declare."""
    named, slotted = {one.key: one for one in results}, [one for one in results if one.slotted]
    for parameter in reduction.parameters:
        value, key = parameter.value, parameter.key
        declared = named.get(key) or next((one for one in slotted if one.gives(key)), None)
        if value is None or declared is None:
            continue
        for doubt, bounds in ((IMPOSSIBLE, declared.impossible), (UNUSUAL, declared.unusual)):
            if bounds is not None and (bound := _beyond(value, bounds)):
                # Rounded it may read like the bound itself.
                shown = parameter.text if _beyond(float(parameter.text), bounds) else f"{value:.4g}"
                text = f"{shown} {parameter.unit}".strip()
                takes = f"; it takes {declared.takes}" if declared.takes else ""
                yield doubt.at(symbol=parameter.symbol, text=text, bound=bound, takes=takes)
                break


def _beyond(value: float, bounds: Bounds) -> str:
    """Return the bound that a value lies beyond, in words; "" when it lies between them."""
    low, high = bounds
    if low is not None and value < low:
        return f"it is below {low:g}"
    if high is not None and value > high:
        return f"it is above {high:g}"
    return ""


def ground(context: Context) -> list[Finding]:
    """Return a warning for every result leant on that another test of the same sample contradicts."""
    return [TESTS_DIFFER.at(**one.model_dump()) for one in context.differing]


def equipment(context: Context) -> list[Finding]:
    """Return a warning for every piece of equipment that is out of date, and a stop for two that say otherwise."""
    late = [EQUIPMENT_OUT_OF_DATE.at(name=one.name, why=one.why) for one in context.out_of_date]
    return late + [PIECES_DIFFER.at(one=two.one, other=two.other, what=two.what) for two in context.in_two]


def judge(reduction: Reduction, *, reported_as_found: bool = False) -> None:
    """Put the gravest finding first and say whether the result may be reported."""
    reduction.findings.sort(key=lambda finding: RANK[finding.severity])
    stopped = any(finding.severity == "stop" for finding in reduction.findings)
    reduction.reportable = reduction.complete and (reported_as_found or not stopped)


def advise(reduction: Reduction, remarks: str = "") -> str:
    """Return the next action in plain words.

    First what stops the test and no further reading will mend, then doubts about the row in hand, the next reading,
    what else is doubted, what can wait, what is still too little, and at last what comes when all is measured. A doubt
    that asks for a remark is done with when a remark quotes it; it still prints.
    """
    grave = [f for f in reduction.findings if f.severity == "stop"]
    doubted = [f for f in reduction.findings if f.severity == "warn" and not f.answered_by(remarks)]
    urgent = [f for f in grave if not f.awaited]
    in_hand = [f for f in grave + doubted if not f.awaited and reduction.concerns_row_in_hand(f)]
    if urgent or in_hand:
        # What names a reading can be mended; a result that cannot be only says that one is wrong.
        named = [f for f in urgent + in_hand + doubted if f.cells and not f.awaited]
        bare = (urgent + in_hand)[0].code in (IMPOSSIBLE.code, UNUSUAL.code)
        return (named[0] if bare and named else (urgent + in_hand)[0]).sentence
    if reduction.next_step:
        return reduction.next_step
    if doubted:
        return next((f for f in doubted if f.cells), doubted[0]).sentence
    if reduction.later or grave:
        return reduction.later or grave[0].sentence
    return reduction.afterwards if reduction.complete or reduction.afterwards != DONE else NOT_FINISHED
