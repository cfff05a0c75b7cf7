"""Saves on a real server, one process: one, four and sixteen hands, against an endpoint that appends one row with
``synchronous=FULL``. `make bench`. Targets: at most four times its time for one hand; no less from four to sixteen; p95
below 1 s.
"""

import http.client
import json
import multiprocessing
import sqlite3
import statistics
import sys
import tempfile
import threading
import time
from pathlib import Path

import uvicorn
from answering import until_answered
from fastapi import Body, FastAPI
from sqlmodel import Session
from verdict import Verdicts

from vadum.demo.laboratory import build
from vadum.records.database import open_database
from vadum.records.tables import Sample, Test
from vadum.web.app import create_app

PORT = 18771
HANDS = (1, 4, 16)
SAVES = 240


def bare(path: str) -> FastAPI:
    """Return the yardstick: a row appended and on disk before it is acknowledged."""
    app = FastAPI()
    with sqlite3.connect(path) as made:
        made.execute("PRAGMA journal_mode=WAL")
        made.execute("CREATE TABLE line (id INTEGER PRIMARY KEY, data TEXT NOT NULL)")

    @app.post("/append")
    def append(data: dict = Body()) -> dict:  # type: ignore[type-arg]
        with sqlite3.connect(path, timeout=30) as opened:
            opened.execute("PRAGMA synchronous=FULL")
            number = opened.execute("INSERT INTO line (data) VALUES (?)", (json.dumps(data),)).lastrowid
        opened.close()
        return {"number": number}

    return app


def serve(what: str, path: str) -> None:
    app = bare(path) if what == "bare" else create_app(Path(path))
    uvicorn.run(app, port=PORT, log_level="error")


def served(what: str, path: str) -> multiprocessing.process.BaseProcess:
    process = multiprocessing.get_context("spawn").Process(target=serve, args=(what, path), daemon=True)
    process.start()
    until_answered(PORT)
    return process


def hand(address: str, bodies: list[dict], spans: list[float]) -> None:  # type: ignore[type-arg]
    """Save one after the other over one line, each on top of the one before."""
    line = http.client.HTTPConnection("127.0.0.1", PORT, timeout=60)
    revision = 0
    for body in bodies:
        text = json.dumps(body | {"base_revision": revision})
        start = time.perf_counter()
        line.request("POST", address, text, {"Content-Type": "application/json"})
        reply = line.getresponse()
        said = json.loads(reply.read())
        spans.append(time.perf_counter() - start)
        if reply.status != 200:
            raise SystemExit(f"{address}: {reply.status} {said}")
        revision = said.get("savedAs", 0)


def bodies(count: int) -> list[dict]:  # type: ignore[type-arg]
    box = {"width": 660, "height": 600}
    return [
        {
            "save_key": f"save-{i:06}",
            "box": box,
            "cells": {"determinations.0.mass_tin_wet_g": f"{50 + i % 9}.{i % 100:02}"},
        }
        for i in range(count)
    ]


def measured(what: str, hands: int, addresses: list[str]) -> tuple[float, float, float]:
    """Return saves a second, and median and 95th percentile in ms."""
    spans: list[float] = []
    each = SAVES // hands
    threads = [threading.Thread(target=hand, args=(addresses[k], bodies(each), spans)) for k in range(hands)]
    start = time.perf_counter()
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    took = time.perf_counter() - start
    if len(spans) != each * hands:
        raise SystemExit(f"{what}: {len(spans)} of {each * hands} saves came through")
    return len(spans) / took, statistics.median(spans) * 1e3, statistics.quantiles(spans, n=20)[18] * 1e3


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        yardstick, database = Path(folder) / "bare.sqlite", Path(folder) / "lab.sqlite"
        build(database)
        with Session(open_database(database)) as session:
            sample = Sample(location_id=1, name="K1", top_m=1, base_m=1.2)
            sample.tests = [Test(method="water-content") for _ in range(sum(HANDS))]
            session.add(sample)
            session.commit()
            typed = [f"/api/tests/{test.id}/save" for test in sample.tests]
        found: dict[str, list[tuple[float, float, float]]] = {}
        for what, path in (("bare", yardstick), ("vadum", database)):
            process = served(what, str(path))
            fresh = iter(typed)
            for hands in HANDS:
                addresses = ["/append"] * hands if what == "bare" else [next(fresh) for _ in range(hands)]
                found.setdefault(what, []).append(measured(what, hands, addresses))
            process.terminate()
            process.join()
    verdicts = Verdicts("saves on a real server, times a row appended and on disk")
    for i, hands in enumerate(HANDS):
        (rate, median, p95), (own_rate, own, own_p95) = found["bare"][i], found["vadum"][i]
        more = f" {own:6.1f} ms, {own_rate:4.0f}/s; bare {median:6.1f} ms (p95 {p95:6.1f}), {rate:4.0f}/s"
        if hands == 1:
            verdicts.told("one hand", own / median, 4, more=more)
        else:
            verdicts.told(f"{hands} hands, p95", own_p95, 1000, "ms", more)
    (_, four, sixteen) = (rate for rate, _, _ in found["vadum"])
    verdicts.told("rate of four over that of sixteen", four / sixteen, 1.1)
    return verdicts.status


if __name__ == "__main__":
    sys.exit(main())
