"""A look through a laboratory's records: what does not hold together, in words."""

import hashlib
from collections.abc import Iterator
from dataclasses import fields

from sqlmodel import Session, col, select

from vadum.records.changes import State, state_of, states_of
from vadum.records.dependents import renew
from vadum.records.logs import LogContent
from vadum.records.standing import FROZEN, check_of, result_of, summarise
from vadum.records.states import moved_now
from vadum.records.tables import Attachment, IssuedSheet, Report, Test
from vadum.soil.contract.unread import not_read
from vadum.soil.registry import METHODS


def troubles(session: Session) -> Iterator[str]:
    """Yield what is wrong: gaps in revisions, a test unlike its newest revision, stale summaries, changed
    attachments."""
    for test in session.exec(select(Test).order_by(col(Test.id))):
        numbers, newest = [], None
        for revision, state in states_of(session, test):
            numbers.append(revision.number)
            newest = state
        if numbers != list(range(1, len(numbers) + 1)):
            yield f"test {test.id}: its revisions are not numbered one after the other"
        if test.revision != len(numbers) and numbers:
            yield f"test {test.id}: stands at revision {test.revision}, {len(numbers)} are kept"
        if newest is not None:
            yield from _unlike(newest, state_of(test), f"test {test.id}")
        if test.state in FROZEN:
            yield from _checked(session, test)
        if test.summary and test.state != "planned" and not test.practice:
            yield from _stale(session, test)
    for log in session.exec(select(LogContent)):
        if hashlib.sha256(log.data.encode()).hexdigest() != log.sha256:
            yield f"logger file {log.sha256[:12]}: its rows are not those that were kept"
    for kept in session.exec(select(Attachment).order_by(col(Attachment.id))):
        if hashlib.sha256(kept.data).hexdigest() != kept.sha256:
            yield f"attachment {kept.id} ({kept.name}): its bytes are not those that were kept"
    for sheet in session.exec(select(IssuedSheet).order_by(col(IssuedSheet.id))):
        if hashlib.sha256(sheet.data).hexdigest() != sheet.sha256:
            yield f"issued sheet {sheet.number}: its bytes are not those that were issued"
    for report in session.exec(select(Report).where(Report.state == "issued").order_by(col(Report.id))):
        if hashlib.sha256(report.data or b"").hexdigest() != report.sha256:
            yield f"issued report {report.number}: its bytes are not those that were issued"


def repaired(session: Session) -> Iterator[str]:
    """Renew what lists show of every test from its readings, and commit; yield what was changed. Readings are not
    touched."""
    for test in session.exec(select(Test).where(Test.state != "planned").order_by(col(Test.id))).all():
        if test.practice:
            continue
        said = [*_stale(session, test)]
        renew(session, [test])
        if test.state in FROZEN:
            test.summary = summarise(result_of(session, test))
            session.add(test)
        yield from (f"{one}: renewed" for one in said)
    session.commit()


def _checked(session: Session, test: Test) -> Iterator[str]:
    """Yield what is missing from a checked test: what was checked, or a reading that an earlier program let pass."""
    check, method = check_of(session, test), METHODS.get(test.method)
    if check is None:
        yield f"test {test.id}: it is {test.state}, and what was checked is not on record"
    elif method is not None and test.unread:
        readings = method.Readings.model_validate(check.readings)
        settings = method.Settings.model_validate(check.settings)
        for finding in not_read(readings, settings, test.unread):
            yield f"test {test.id}: it was checked without a reading. {finding.message}"


def _unlike(newest: State, now: State, name: str) -> Iterator[str]:
    """Yield which parts of a test are not what its newest revision left."""
    for one in fields(State):
        if getattr(newest, one.name) != getattr(now, one.name):
            yield f"{name}: its {one.name.replace('_', ' ')} are not those of its newest revision"


def _stale(session: Session, test: Test) -> Iterator[str]:
    now, kept = summarise(result_of(session, test)), test.summary
    values, had = now["parameters"], kept.get("parameters", {})
    for key in dict.fromkeys([*values, *had]):
        new, old = values.get(key, {}).get("text"), had.get(key, {}).get("text")
        if new != old:
            yield f"test {test.id}: {key} is kept as {old or 'nothing'}, its readings give {new or 'nothing'}"
            return
    for name in ("complete", "reportable", "curve", "stops"):
        if now[name] != kept.get(name):
            yield f"test {test.id}: lists say otherwise of “{name}” than its readings"
            return
    if test.state in FROZEN and test.moved != moved_now(session, test):
        yield f"test {test.id}: lists say otherwise than its page of the ground it stands on"
