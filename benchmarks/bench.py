"""The core and what people wait for at the bench, against a fixed piece of work: `make bench`.

A millisecond of an idle machine is what :func:`yardstick` takes there; on a busy one both take longer.
"""

import json
import sys
import tempfile
from collections.abc import Callable, Iterator
from datetime import UTC, datetime, timedelta
from functools import partial
from itertools import cycle
from pathlib import Path
from typing import Any

import numpy as np
from fastapi import Body, FastAPI
from fastapi.testclient import TestClient
from live import a_reading
from signed_in import technician
from verdict import Verdicts, ratio

from vadum.bench.board import Running, board
from vadum.bench.limits import Limits
from vadum.bench.planner import plan
from vadum.bench.tasks import Job, tasks_of
from vadum.demo.laboratory import build
from vadum.demo.soils import SILT_GRAINS
from vadum.drawing import render
from vadum.exchange.bench_file import compose
from vadum.exchange.readings_import import propose
from vadum.exchange.spreadsheet import read_grid
from vadum.soil.contract.cells import Sheet, enter
from vadum.soil.methods.hydrometer.virtual import a_log
from vadum.soil.registry import METHODS

# More soils than any computation remembers: every one is reduced anew.
SOILS = 60
# Milliseconds of an idle machine for readings never seen, 2 for all others; and for those of a moment ago with one
# reading changed, as at every key.
ANEW = {"falling-head": 10, "retention": 8, "triaxial": 8, "cbr-lab": 6, "cbr-in-situ": 8, "direct-shear": 4}
ANEW |= dict.fromkeys(("hydrometer", "plate-static", "plate-incremental", "unconfined", "borehole-permeability"), 2.5)
CHANGED = {"falling-head": 8, "retention": 8, "triaxial": 4, "cbr-lab": 4, "cbr-in-situ": 4, "direct-shear": 4}
DRAWN = 4


def yardstick() -> float:
    """Do what takes about a millisecond where nobody else works: plain steps, and small arrays as in a reduction."""
    total, x = 0.0, np.arange(40.0)
    for i in range(5000):
        total += i * 0.5 % 7
    for _ in range(60):
        total += float(np.sqrt(x * x + 1.0).sum()) + float(np.interp(3.5, x, x))
    return total


def methods() -> int:
    """Every method: reducing readings never seen before, and drawing all its figures."""
    verdicts = Verdicts("reduce and draw, in milliseconds of an idle machine")
    for method in METHODS.values():
        settings, context, rngs = method.Settings(), method.Context(), map(np.random.default_rng, range(SOILS))
        soils = [method.virtual(method.a_soil(rng), settings, rng) for rng in rngs]
        readings, figures = cycle(soils), method.reduce(soils[0], settings, context).figures
        anew = ratio(partial(_next, readings, method, settings, context), yardstick, 120)[0]
        verdicts.told(f"{method.code}: reduce", anew, ANEW.get(method.code, 2), "ms")
        if method.code in CHANGED:
            changed = cycle(_typed_into(method, soils[0]))
            again = ratio(partial(_next, changed, method, settings, context), yardstick, 120)[0]
            verdicts.told(f"{method.code}: one reading changed", again, CHANGED[method.code], "ms")
        if figures:
            drawn = ratio(partial(_all, figures), yardstick, 40)[0] / len(figures)
            verdicts.told(f"{method.code}: a figure", drawn, DRAWN, "ms")
    return verdicts.status


def _next(soils: Iterator[Any], method: Any, settings: Any, context: Any) -> Any:
    return method.reduce(next(soils), settings, context)


def _typed_into(method: Any, readings: Any) -> Iterator[Any]:
    """Yield readings with one number typed anew."""
    plain = readings.model_dump(exclude_none=True)
    path, value = a_reading(plain)
    for k in range(SOILS):
        sheet = enter(method.Readings, Sheet(plain), {path: f"{value * (1 + k / 20000):.6g}"})
        yield method.Readings.model_validate(sheet.readings)


def _all(figures: list[Any]) -> list[str]:
    return [render(figure) for figure in figures]


def long_records() -> int:
    """An automatic hydrometer's day of 20,000 rows, and a plate test of 30 stages with four gauges."""
    verdicts = Verdicts("long records, in milliseconds of an idle machine")
    method, rng = METHODS["hydrometer"], np.random.default_rng(1)
    log = a_log(SILT_GRAINS, method.Settings(), rng, 20_000)
    lines = ["time [min];reading;temp [°C]", *(";".join(map(str, row)) for row in zip(*log.values(), strict=True))]
    raw = "\n".join(lines).encode()
    read = ratio(lambda: propose(method.Readings, read_grid(raw)), yardstick, 5)[0]
    verdicts.told("log of 20,000 rows: read and match", read, 480, "ms")
    most = "\n".join([lines[0], *lines[1:] * 9]).encode()
    verdicts.told(
        "of 180,000 rows", ratio(lambda: propose(method.Readings, read_grid(most)), yardstick, 3)[0], 3000, "ms"
    )
    plain = {"mass_dry_g": 50, "particle_density": 2.67, "passing_percent": 100, "log": log}
    plain["corrections"] = [{"temperature_c": 19, "hydrometer": 5.24}, {"temperature_c": 25, "hydrometer": 3.8}]
    readings = method.Readings.model_validate(plain)
    reduced = ratio(lambda: method.reduce(readings, method.Settings(), method.Context()), yardstick)[0]
    verdicts.told("log of 20,000 rows: reduce", reduced, 25, "ms")
    verdicts.told("plate of 330 rows: reduce", ratio(_thirty_stages(), yardstick)[0], 5, "ms")
    return verdicts.status


def _thirty_stages() -> Callable[[], Any]:
    method = METHODS["plate-incremental"]
    times = (1, 2.25, 4, 6.25, 9, 16, 25, 60, 120, 180, 240)
    rows = [
        {"pressure_kpa": 20.0 * (k + 1), "elapsed_min": t} | {f"gauge_{g}_mm": 0.3 * k + 0.02 * n for g in "abcd"}
        for k in range(30)
        for n, t in enumerate(times)
    ]
    readings = method.Readings.model_validate({"estimate_kpa": 100, "rows": rows})
    return lambda: method.reduce(readings, method.Settings(), method.Context())


def at_the_bench() -> int:
    """The board and the planner at the size of a busy laboratory."""
    verdicts = Verdicts("the day, in milliseconds of an idle machine")
    method, now, limits = METHODS["hydrometer"], datetime.now(UTC), Limits()
    chain = method.timetable(method.Readings(), method.Settings())
    done = {"soak": now, "mix": now}
    running = [
        Running(i, "Hydrometer analysis", f"P{i} S1", chain, done | {"start": now - timedelta(minutes=i)}, now)
        for i in range(25)
    ]
    made = board(running, now)
    due = sum(map(len, (made.late, made.now, made.next, made.later)))
    verdicts.told(f"board of {due} operations", ratio(lambda: board(running, now), yardstick)[0], 10, "ms")
    jobs = [Job(i, "hydrometer", f"sample {i}", "cylinder", chain, {}, None) for i in range(16)]
    tasks, windows = tasks_of(jobs, now), limits.windows(now.astimezone())
    planned = ratio(lambda: plan(tasks, limits, windows), yardstick, 5)[0]
    verdicts.told(f"plan of {len(tasks)} operations", planned, 1000, "ms")
    return verdicts.status


def request() -> int:
    """A bench file reduced over HTTP, against the echo of the same file; the live loop stands in live.py."""
    verdicts = Verdicts("a bench file over HTTP, times its echo")
    echo = FastAPI()

    @echo.post("/echo")
    def back(data: Any = Body()) -> Any:
        return data

    method, rng, kind = METHODS["liquid-limit"], np.random.default_rng(1), {"content-type": "application/json"}
    readings = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    file = json.dumps(compose(method.code, readings, {}, {}))
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "demo.sqlite"
        build(database)
        with technician(database) as vadum, TestClient(echo) as bare:
            answered = partial(vadum.post, "/api/reduce", content=file, headers=kind)
            assert answered().status_code == 200
            echoed = partial(bare.post, "/echo", content=file, headers=kind)
            verdicts.told("POST /api/reduce", ratio(answered, echoed)[0], 3)
    return verdicts.status


if __name__ == "__main__":
    sys.exit(methods() | long_records() | at_the_bench() | request())
