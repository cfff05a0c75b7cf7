"""A look through a laboratory's records: what does not hold together, in words."""

import hashlib
from collections.abc import Iterator

from sqlmodel import Session, col, select

from vadum.records.saving import reduce_test, summarise
from vadum.records.tables import Attachment, IssuedSheet, Report, Revision, Test


def troubles(session: Session) -> Iterator[str]:
    """Yield what is wrong: gaps in revisions, a test unlike its newest revision, stale summaries, changed attachments."""
    for test in session.exec(select(Test).order_by(col(Test.id))):
        numbers = session.exec(
            select(Revision.number).where(Revision.test_id == test.id).order_by(col(Revision.number))
        ).all()
        if list(numbers) != list(range(1, len(numbers) + 1)):
            yield f"test {test.id}: its revisions are not numbered one after the other"
        if test.revision != len(numbers) and numbers:
            yield f"test {test.id}: stands at revision {test.revision}, {len(numbers)} are kept"
        newest = session.exec(
            select(Revision).where(Revision.test_id == test.id).order_by(col(Revision.number).desc()).limit(1)
        ).first()
        if newest is not None and newest.readings != test.readings:
            yield f"test {test.id}: its readings are not those of its newest revision"
        if test.summary and test.state != "planned" and not test.practice:
            yield from _stale(session, test)
    for kept in session.exec(select(Attachment).order_by(col(Attachment.id))):
        if hashlib.sha256(kept.data).hexdigest() != kept.sha256:
            yield f"attachment {kept.id} ({kept.name}): its bytes are not those that were kept"
    for sheet in session.exec(select(IssuedSheet).order_by(col(IssuedSheet.id))):
        if hashlib.sha256(sheet.data).hexdigest() != sheet.sha256:
            yield f"issued sheet {sheet.number}: its bytes are not those that were issued"
    for report in session.exec(select(Report).where(Report.state == "issued").order_by(col(Report.id))):
        if hashlib.sha256(report.data or b"").hexdigest() != report.sha256:
            yield f"issued report {report.number}: its bytes are not those that were issued"


def _stale(session: Session, test: Test) -> Iterator[str]:
    now = summarise(reduce_test(session, test))
    kept = test.summary.get("parameters", {})
    for key, value in now["parameters"].items():
        if key in kept and kept[key]["text"] != value["text"]:
            yield f"test {test.id}: {key} is kept as {kept[key]['text']}, its readings give {value['text']}"
            return
