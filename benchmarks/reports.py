"""Reports: a sample with 20 tests, a project of 500, what they take in time and memory, and how soon a cancel is
heard."""

import subprocess
import sys
import tempfile
import time
from pathlib import Path

from fastapi.testclient import TestClient
from signed_in import technician
from verdict import Verdicts

from vadum.demo.random_site import random_site
from vadum.records.database import open_database, session_on
from vadum.records.tables import Project, Report, Sample
from vadum.report.job import begin
from vadum.report.wanted import Wanted


def main() -> int:
    verdicts = Verdicts("reports, in seconds of this machine")
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "lab.sqlite"
        with session_on(open_database(database)) as session:
            small, large = random_site(session, 20, 1).id, random_site(session, 500, 2).id
            middle = random_site(session, 200, 3).id
            project = session.get(Project, small)
            sample = project.locations[0].samples[0]
            for test in [t for s in project.locations[0].samples for t in s.tests] + project.locations[0].tests:
                test.sample_id, test.location_id = sample.id, None
            session.commit()
            sample_id = sample.id
            session.expire_all()
            assert len(session.get(Sample, sample_id).tests) == 20
        with technician(database) as client:
            _got(client, f"/samples/{sample_id}/sheet.pdf")
            at = time.perf_counter()
            size = len(_got(client, f"/samples/{sample_id}/sheet.pdf?tests=true"))
            verdicts.told("a sample's, 20 tests", time.perf_counter() - at, 2.5, "s", f" {size / 1e6:.1f} MB")
            _got(client, f"/projects/{large}/summary")
            at = time.perf_counter()
            _got(client, f"/projects/{large}/summary")
            verdicts.told("the summary page, 500 tests", time.perf_counter() - at, 2, "s")
        _job(verdicts, database, large, "the summary of 500 tests", ["summary"], 15)
        _job(verdicts, database, middle, "200 tests with everything", ["summary", "logs", "samples", "tests"], 12)
        verdicts.told("a cancel is heard after", _cancelled(database, middle), 2, "s")
    return verdicts.status


def _got(client: TestClient, path: str) -> bytes:
    answer = client.get(path)
    assert answer.status_code == 200, f"{path}: {answer.status_code}"
    return answer.content


def _start(database: Path, project: int, chapters: list[str]) -> tuple[int, "subprocess.Popen[bytes]"]:
    with session_on(open_database(database)) as session:
        wanted = Wanted(title="Everything", chapters=chapters, final=False)  # type: ignore[arg-type]
        report = begin(session, session.get(Project, project), wanted, "technician 1")
        return report.id, subprocess.Popen([sys.executable, "-m", "vadum.report", str(database), str(report.id)])


def _job(verdicts: Verdicts, database: Path, project: int, what: str, chapters: list[str], wanted: float) -> None:
    at, most = time.perf_counter(), 0.0
    report_id, process = _start(database, project, chapters)
    while process.poll() is None:
        most = max(most, sum(map(_resident, _with_children(process.pid))))
        time.sleep(0.05)
    spent = time.perf_counter() - at
    with session_on(open_database(database)) as session:
        report = session.get(Report, report_id)
        words = f"{report.state} {report.said} {report.pages} pages, {len(report.data or b'') / 1e6:.1f} MB"
    verdicts.told(what, spent, wanted, "s", f" {words}")
    verdicts.told("  its memory, with what sets it", most, 500, "MB")


def _with_children(process: int) -> list[int]:
    """Return a process and its children, without one that is about to begin: until then its memory is its parent's."""
    children = map(int, _of_process(process, f"task/{process}/children").split())
    own = _of_process(process, "cmdline")
    return [process, *(child for child in children if _of_process(child, "cmdline") != own)]


def _resident(process: int) -> float:
    """Return what a process holds in memory, MB."""
    lines = (line.split() for line in _of_process(process, "status").splitlines())
    return next((int(words[1]) / 1e3 for words in lines if words[0] == "VmRSS:"), 0.0)


def _of_process(process: int, name: str) -> str:
    try:
        return Path(f"/proc/{process}/{name}").read_text(encoding="utf-8")
    except OSError:  # it ended meanwhile
        return ""


def _cancelled(database: Path, project: int) -> float:
    report_id, process = _start(database, project, ["tests"])
    with session_on(open_database(database)) as session:
        while session.get(Report, report_id).done < 20:
            time.sleep(0.05)
            session.expire_all()
        report = session.get(Report, report_id)
        report.state = "cancelled"
        session.commit()
    at = time.perf_counter()
    process.wait()
    return time.perf_counter() - at


if __name__ == "__main__":
    sys.exit(main())
