"""Making a report in a process of its own: the server stays quick, and killing it is all it takes to cancel.

Run as ``python -m vadum.report DATABASE REPORT``. What it has made and how far it is stands in the report's row;
the readings are seen as they were when it began.
"""

import hashlib
import logging
import os
import subprocess
import sys
import time
from pathlib import Path

from sqlalchemy import Engine
from sqlmodel import Session, col, func, select

from vadum.diagnosis import keep_log
from vadum.heap import keep_for_good
from vadum.records.changes import is_content
from vadum.records.database import open_database, session_on
from vadum.records.rules import rules_of
from vadum.records.saving import revisions_after
from vadum.records.states import checkers
from vadum.records.tables import Project, Report, Test, now
from vadum.records.zone import today
from vadum.report.numbering import next_number
from vadum.report.setting import pages_in
from vadum.report.wanted import MOST_SHEETS, Wanted, not_ready

MOST_AT_ONCE = 3
_log = logging.getLogger(__name__)
_TELL_S = 0.4
RUNNING = ("waiting", "running")


class ReportError(Exception):
    """A report that cannot be made or issued; the message is for the person who asked."""


class Cancelled(Exception):
    """The report was cancelled while it was made."""


def begin(session: Session, project: Project, wanted: Wanted, who: str, role: str = "") -> Report:
    """Put a report on record for making; the caller starts the process.

    Raises
    ------
    ReportError
        If there is nothing to report, some of it is not ready to be issued, or too many are being made.
    """
    tests = wanted.tests(project)
    if not tests and not any(chapter in wanted.chapters for chapter in ("logs", "samples")):
        raise ReportError("No test of this scope is done yet: nothing to report.")
    if "tests" in wanted.chapters and len(tests) > MOST_SHEETS:
        raise ReportError(
            f"{len(tests)} sheets are too many for one report, at most {MOST_SHEETS}: choose locations or tests, or"
            " leave the sheets out."
        )
    if wanted.issue and (open_ones := not_ready(session, tests)):
        named = ", ".join(f"{t.id} ({t.place})" for t in open_ones[:6]) + (" and others" if len(open_ones) > 6 else "")
        raise ReportError(
            f"Not issued: {len(open_ones)} tests are not checked, not reportable, or stand on ground that has moved"
            f" since: {named}."
        )
    if wanted.issue and checkers(session, tests) == {who} and not rules_of(session).one_checks_and_issues:
        raise ReportError(
            "Not issued: you alone checked everything in it. Somebody else who may check issues it, or the manager"
            " allows it under Letterhead."
        )
    running = session.exec(select(func.count()).where(col(Report.state).in_(RUNNING))).one()
    if running >= MOST_AT_ONCE:
        raise ReportError(f"{running} reports are being made; wait for one, or cancel it.")
    report = Report(project_id=project.id or 0, title=wanted.title, wanted=wanted.model_dump(), who=who, role=role)
    session.add(report)
    session.commit()
    return report


def start(engine: Engine, report: Report) -> "subprocess.Popen[bytes]":
    """Start making a report; it goes on when the server stops."""
    command = [sys.executable, "-m", "vadum.report", str(engine.url.database), str(report.id)]
    return subprocess.Popen(
        command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True
    )


def run(database: Path, report_id: int) -> None:
    """Make a report and keep it; what goes wrong is kept as words."""
    keep_log(database)
    engine = open_database(database)
    keep_for_good()
    with session_on(engine) as telling, session_on(engine) as reading:
        report = telling.get(Report, report_id)
        if report is None or report.state != "waiting":
            return
        report.state, report.process = "running", os.getpid()
        telling.commit()
        try:
            _made(telling, reading, report)
        except Cancelled:
            return
        except ReportError as error:
            report.state, report.said = "failed", str(error)
        except Exception as error:
            _log.exception("report %s broke off", report_id)
            report.state, report.said = "failed", f"It broke off: {error}"
        telling.add(report)
        telling.commit()


def _made(telling: Session, reading: Session, report: Report) -> None:
    from vadum.report.builder import make

    project = reading.get(Project, report.project_id)
    if project is None:
        raise ReportError("The project is gone.")
    wanted = Wanted.model_validate(report.wanted)
    tests = wanted.tests(project)
    if wanted.issue and not_ready(reading, tests):
        raise ReportError("A test was reopened, or its ground moved, meanwhile: nothing was issued.")
    report.number = f"draft {report.id}"
    if wanted.issue:
        report.number = next_number(f"R{today(reading).year}-", telling.exec(select(Report.number)).all())
    told = 0.0

    def progress(done: int, steps: int, what: str) -> None:
        nonlocal told
        if done < steps and time.monotonic() - told < _TELL_S:
            return
        told = time.monotonic()
        telling.refresh(report, ["state"])
        if report.state != "running":
            raise Cancelled
        report.done, report.steps, report.said = done, steps, what
        telling.add(report)
        telling.commit()

    data = make(reading, project, wanted, report.number, report.who, progress, report.role)
    telling.refresh(report, ["state"])
    if report.state != "running":
        raise Cancelled
    report.data, report.sha256, report.pages = data, hashlib.sha256(data).hexdigest(), pages_in(data)
    report.revisions = {str(test.id): test.revision for test in tests}
    report.state, report.said, report.done, report.at = "issued" if wanted.issue else "made", "", report.steps, now()


def cancel(session: Session, report: Report, process: "subprocess.Popen[bytes] | None") -> None:
    """Stop making a report; what was made so far is thrown away. One that is made stays."""
    session.refresh(report)
    if report.state in RUNNING:
        report.state, report.said, report.process = "cancelled", "", None
        session.add(report)
        session.commit()
        if process is not None:
            process.terminate()
            process.wait(timeout=5)


def look_after(session: Session, report: Report, process: "subprocess.Popen[bytes] | None") -> None:
    """Mark a report whose process is gone without having finished."""
    if report.state not in RUNNING:
        return
    if process is not None:
        gone = process.poll() is not None
    else:
        gone = (report.process is None and (now() - report.at).total_seconds() > 60) or not _lives(report.process)
    if gone:
        session.refresh(report)
        if report.state in RUNNING:
            report.state, report.said = "failed", "It broke off; make it again."
            session.add(report)
            session.commit()


def _lives(process: int | None) -> bool:
    if process is None:
        return True
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def changed_since(session: Session, report: Report) -> list[int]:
    """Return the tests that stand at another revision than the report was made from."""
    numbers = [int(number) for number in report.revisions]
    rows = session.exec(select(Test.id, Test.revision).where(col(Test.id).in_(numbers))).all()
    return [i for i, revision in rows if i is not None and report.revisions[str(i)] != revision]


def unseen(session: Session, project: Project, draft: Report) -> list[Test]:
    """Return the tests that the report would tell otherwise than its draft did: added, gone, or with other readings,
    settings or equipment. Being done or checked since is no change of what a draft says."""
    tests = {str(test.id): test for test in Wanted.model_validate(draft.wanted).tests(project)}
    found = [test for number, test in tests.items() if _has_moved_on(session, test, draft.revisions.get(number))]
    gone = [int(number) for number in draft.revisions if number not in tests]
    return found + list(session.exec(select(Test).where(col(Test.id).in_(gone)).order_by(col(Test.id))))


def _has_moved_on(session: Session, test: Test, seen: int | None) -> bool:
    return seen is None or any(is_content(one.changed) for one in revisions_after(session, test, seen))
