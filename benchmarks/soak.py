"""A day of eight people in one go: 20,000 mixed requests over a real server. `make soak`.

Nothing may grow once it is warm: the server's memory, its open files, the time a request takes.
"""

import http.client
import json
import os
import random
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

from answering import until_answered
from verdict import Verdicts

from vadum.demo.laboratory import build
from vadum.records.database import open_database, session_on
from vadum.records.people import add_person, anybody
from vadum.records.tables import Test

PORT, PEOPLE, REQUESTS, WARM = 18772, 8, 20_000, 2_000
JSON = {"Content-Type": "application/json"}
# What a person asks for, and how often in a hundred.
PAGES = {"/": 4, "/board": 5, "/tests/7": 8, "/samples/3": 5, "/equipment": 3, "/search?q=clay": 5, "/plan": 2}
PAGES |= {"/tests/7/sheet": 2, "/projects/1": 4, "/api/tests/7/sheet": 4, "/help": 1, "/practice": 1}
PREVIEWS, PDFS = 40, 1


class Person(threading.Thread):
    """Somebody who works one test and looks at others', request after request; ``spans`` are seconds."""

    def __init__(self, number: int, test: int, requests: int, cookie: str) -> None:
        super().__init__()
        self.chance, self.test, self.requests = random.Random(number), test, requests
        self.line = http.client.HTTPConnection("127.0.0.1", PORT, timeout=60)
        self.spans: list[float] = []
        self.revision, self.problem = 0, ""
        self.headers = {"Cookie": cookie}

    def run(self) -> None:
        try:
            for k in range(self.requests):
                start = time.perf_counter()
                self._one(k)
                self.spans.append(time.perf_counter() - start)
        except Exception as error:
            self.problem = f"{type(error).__name__}: {error}"

    def _one(self, k: int) -> None:
        draw = self.chance.randrange(100)
        if draw < PREVIEWS:
            self._ask("POST", f"/api/tests/{self.test}/preview", {"cells": self._typed()})
        elif draw < PREVIEWS + sum(PAGES.values()):
            self._ask("GET", self.chance.choices(list(PAGES), list(PAGES.values()))[0])
        elif draw < PREVIEWS + sum(PAGES.values()) + PDFS:
            self._ask("GET", "/tests/7/sheet.pdf")
        else:
            sent = {"cells": self._typed(), "base_revision": self.revision, "save_key": f"soak-{self.test}-{k}"}
            self.revision = json.loads(self._ask("POST", f"/api/tests/{self.test}/save", sent))["savedAs"]

    def _typed(self) -> dict[str, str]:
        return {"determinations.0.mass_tin_wet_g": f"{50 + self.chance.random() * 5:.2f}"}

    def _ask(self, verb: str, path: str, sent: object = None) -> bytes:
        self.line.request(verb, path, json.dumps(sent) if sent else None, self.headers | (JSON if sent else {}))
        answer = self.line.getresponse()
        body = answer.read()
        if answer.status != 200:
            raise RuntimeError(f"{verb} {path}: {answer.status} {body[:200]!r}")
        return body


def memory_mb(process: int) -> float:
    status = Path(f"/proc/{process}/status").read_text()
    return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]) / 1024


def processor_s(process: int) -> float:
    """Return what a process has had of the processor; a neighbour of this machine takes no part in it."""
    spent = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[11:13]
    return sum(map(int, spent)) / os.sysconf("SC_CLK_TCK")


def open_files(process: int) -> int:
    return len(os.listdir(f"/proc/{process}/fd"))


def signed_in() -> str:
    """Return the cookie of a technician: eight signing in at once under one name are told to wait."""
    line = http.client.HTTPConnection("127.0.0.1", PORT, timeout=60)
    line.request("POST", "/sign-in", "name=technician+1", {"Content-Type": "application/x-www-form-urlencoded"})
    return (line.getresponse().getheader("Set-Cookie") or "").partition(";")[0]


def block(tests: list[int], requests: int, cookie: str) -> list[float]:
    """Return what each of so many requests by all people took, in ms."""
    people = [Person(k, test, requests // PEOPLE, cookie) for k, test in enumerate(tests)]
    for person in people:
        person.start()
    for person in people:
        person.join()
        if person.problem:
            raise SystemExit(f"stopped: {person.problem}")
    return [1e3 * span for person in people for span in person.spans]


def main() -> int:
    verdicts = Verdicts(f"{REQUESTS} mixed requests by {PEOPLE} people over a real server")
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "lab.sqlite"
        build(database)
        server, cookie = None, ""
        tests: list[int] = []
        memory, files, late = [], [], []
        try:
            for k in range(REQUESTS // WARM):
                tests = _tests(database, tests)
                if server is None:
                    server = served(database, PORT)
                    cookie = signed_in()
                before = processor_s(server.pid)
                spans = block(tests, WARM, cookie)
                each = 1e3 * (processor_s(server.pid) - before) / WARM
                time.sleep(1)
                late.append(statistics.quantiles(spans, n=20)[18])
                memory.append(memory_mb(server.pid))
                files.append(open_files(server.pid))
                said = f"median {statistics.median(spans):.0f} ms, p95 {late[-1]:.0f} ms, processor {each:.1f} ms"
                held = f"{memory[-1]:.0f} MB, {files[-1]} open files"
                print(f"  {(k + 1) * WARM:6}: {said}, {held}", flush=True)
        finally:
            if server:
                server.terminate()
                server.wait()
    half = len(late) // 2
    verdicts.told("memory, last over the first 2,000", memory[-1] / memory[0], 1.1)
    verdicts.told(
        "p95, second half over first half", statistics.median(late[half:]) / statistics.median(late[:half]), 1.2
    )
    verdicts.told("open files more than after 2,000", files[-1] - files[0], 2, "")
    return verdicts.status


def _tests(database: Path, before: list[int]) -> list[int]:
    """Plan a test for each person in the place of the one before, and let them sign in where nobody can yet."""
    with session_on(open_database(database)) as session:
        if not anybody(session):
            add_person(session, "manager", "manager")
            add_person(session, "technician 1", "technician")
        for number in before:
            session.get_one(Test, number).state = "void"
        made = [Test(method="water-content", sample_id=1) for _ in range(PEOPLE)]
        session.add_all(made)
        session.commit()
        return [test.id or 0 for test in made]


def served(database: Path, port: int) -> "subprocess.Popen[bytes]":
    """Return a running server of a demonstration."""
    command = [sys.executable, "-m", "vadum", "demo", "--database", str(database), "--port", str(port)]
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    until_answered(port)
    return process


if __name__ == "__main__":
    sys.exit(main())
