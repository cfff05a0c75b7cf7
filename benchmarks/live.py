"""The live loop: what a key on the worksheet asks for, figure included, against a bare echo of the same answer.

A test of each method is made of a virtual soil; a reading of its longest table changes from key to key. Targets: twice
the echo for what is typed by hand, four times for tests with records.
"""

import json
import sys
import tempfile
from collections.abc import Iterator
from itertools import cycle
from pathlib import Path
from typing import Any

import numpy as np
from fastapi import Body, FastAPI
from fastapi.testclient import TestClient
from signed_in import technician
from sqlmodel import Session
from verdict import Verdicts, ratio

from vadum.demo.laboratory import build
from vadum.records.database import open_database, session_on
from vadum.records.tables import Test
from vadum.soil.registry import METHODS

RECORDS = {"triaxial", "direct-shear", "falling-head", "retention", "cbr-lab", "cbr-in-situ"}
KIND = {"content-type": "application/json"}


def main(only: set[str]) -> int:
    echo = FastAPI()

    @echo.post("/echo")
    def back(data: Any = Body()) -> Any:
        return data

    verdicts = Verdicts("live preview with its figure, times the echo of its answer")
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "lab.sqlite"
        build(database)
        with session_on(open_database(database)) as session:
            made = dict(tests_of(session, only))
        with technician(database) as vadum, TestClient(echo) as bare:
            for code, (number, bodies) in made.items():
                keys, path = cycle(bodies), f"/api/tests/{number}/preview"
                answer = vadum.post(path, content=next(keys), headers=KIND)
                assert answer.status_code == 200, answer.text
                times, spent = ratio(
                    lambda path=path, keys=keys: vadum.post(path, content=next(keys), headers=KIND),  # type: ignore[misc]
                    lambda text=answer.text: bare.post("/echo", content=text, headers=KIND),  # type: ignore[misc]
                )
                more = f" {spent:5.1f} ms, {len(answer.text) / 1e3:.0f} kB"
                verdicts.told(code, times, 4 if code in RECORDS else 2, more=more)
    return verdicts.status


def tests_of(session: Session, only: set[str]) -> Iterator[tuple[str, tuple[int, list[str]]]]:
    """Yield a running test of each method with what is typed into it, key by key."""
    for method in METHODS.values():
        if only and method.code not in only:
            continue
        rng = np.random.default_rng(1)
        readings = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
        test = Test(method=method.code, sample_id=1, state="running", kept=readings)
        session.add(test)
        session.commit()
        path, value = a_reading(readings)
        typed = [{path: f"{value * (1 + k / 20000):.5g}"} for k in range(9)]
        assert test.id is not None
        yield method.code, (test.id, [json.dumps({"cells": cells}) for cells in typed])


def a_reading(readings: dict[str, Any]) -> tuple[str, float]:
    """Return a number in the last row of the longest table, or one taken once; of the kinds that are measured."""
    tables = {name: rows for name, rows in readings.items() if isinstance(rows, list) and rows}
    if tables:
        name, rows = max(tables.items(), key=lambda table: len(table[1]))
        for key, value in reversed(rows[-1].items()):
            if isinstance(value, float):
                return f"{name}.{len(rows) - 1}.{key}", value
    return next((key, value) for key, value in readings.items() if isinstance(value, float))


if __name__ == "__main__":
    sys.exit(main(set(sys.argv[1:])))
