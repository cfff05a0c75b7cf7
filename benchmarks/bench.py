"""The benchmark: ratios on one machine, printed as a table. `make bench`."""

import json
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from fastapi import Body, FastAPI
from fastapi.testclient import TestClient
from signed_in import technician

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
from vadum.soil.methods.hydrometer.virtual import a_log
from vadum.soil.registry import METHODS

ROUNDS = 400


def timed(work: Callable[[], Any], rounds: int = ROUNDS) -> tuple[float, float]:
    """Return the median and the 95th percentile in ms."""
    for _ in range(20):
        work()
    spans = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        spans.append((time.perf_counter() - start) * 1e3)
    return statistics.median(spans), statistics.quantiles(spans, n=20)[18]


def logged() -> None:
    """Time an automatic hydrometer's day: reading the file, validating, reducing (targets: 5 s, below 25 ms)."""
    method, rng = METHODS["hydrometer"], np.random.default_rng(1)
    log = a_log(SILT_GRAINS, method.Settings(), rng, 20_000)
    lines = ["time [min];reading;temp [°C]", *(";".join(map(str, row)) for row in zip(*log.values(), strict=True))]
    raw = "\n".join(lines).encode()
    read = timed(lambda: propose(method.Readings, read_grid(raw)), 5)[0]
    plain = {"mass_dry_g": 50, "particle_density": 2.67, "passing_percent": 100, "log": log}
    plain["corrections"] = [{"temperature_c": 19, "hydrometer": 5.24}, {"temperature_c": 25, "hydrometer": 3.8}]
    readings = method.Readings.model_validate(plain)
    reduced = timed(lambda: method.reduce(readings, method.Settings(), method.Context()), 40)
    checked = timed(lambda: method.Readings.model_validate(plain), 40)[0]
    print("hydrometer log of 20,000 rows")
    print(
        f"  read and match {read:6.0f} ms   validate {checked:5.1f} ms   reduce {reduced[0]:5.1f} ms (p95"
        f" {reduced[1]:5.1f})"
    )


def at_the_bench() -> None:
    """Time the board and the planner at the size of a busy laboratory (targets: no delay to feel; below 1 s)."""
    now, limits = datetime.now(UTC), Limits()
    chains = [
        METHODS["hydrometer"].timetable(METHODS["hydrometer"].Readings(), METHODS["hydrometer"].Settings())
        for _ in range(25)
    ]
    running = [
        Running(
            i,
            "Hydrometer analysis",
            f"P{i} S1",
            operations,
            {"soak": now, "mix": now, "start": now - timedelta(minutes=i)},
            now,
        )
        for i, operations in enumerate(chains)
    ]
    made = board(running, now)
    lines = sum(map(len, (made.late, made.now, made.next, made.later)))
    print(f"board of {lines} due operations        {timed(lambda: board(running, now), 60)[0]:6.1f} ms")
    jobs = [
        Job(i, "hydrometer", f"sample {i}", "cylinder", operations, {}, None)
        for i, operations in enumerate(chains[:16])
    ]
    tasks = tasks_of(jobs, now)
    spent = timed(lambda: plan(tasks, limits, limits.windows(now.astimezone())), 3)[0]
    print(f"plan of {len(tasks)} operations               {spent:6.0f} ms")


def thirty_stages() -> None:
    """Time a plate test of 30 stages with four gauges and eleven readings each (target: below 5 ms)."""
    method = METHODS["plate-incremental"]
    times = (1, 2.25, 4, 6.25, 9, 16, 25, 60, 120, 180, 240)
    rows = [
        {"pressure_kpa": 20.0 * (k + 1), "elapsed_min": t} | {f"gauge_{g}_mm": 0.3 * k + 0.02 * n for g in "abcd"}
        for k in range(30)
        for n, t in enumerate(times)
    ]
    readings = method.Readings.model_validate({"estimate_kpa": 100, "rows": rows})
    median, high = timed(lambda: method.reduce(readings, method.Settings(), method.Context()), 60)
    print(f"plate of 330 rows: reduce           {median:6.1f} ms (p95 {high:.1f})")


def main() -> None:
    print("reduce and draw, in process (target: reduce below 2 ms)")
    for method in METHODS.values():
        rng, settings, context = np.random.default_rng(1), method.Settings(), method.Context()
        readings = method.virtual(method.a_soil(rng), settings, rng)
        median, high = timed(partial(method.reduce, readings, settings, context))
        figures = method.reduce(readings, settings, context).figures
        drawn = timed(lambda f=figures: [render(x) for x in f])[0]  # type: ignore[misc]
        print(f"  {method.code:16} reduce {median:6.3f} ms (p95 {high:6.3f})   draw {drawn:6.3f} ms")

    logged()
    thirty_stages()
    at_the_bench()
    echo = FastAPI()

    @echo.post("/echo")
    def back(data: Any = Body()) -> Any:
        return data

    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "demo.sqlite"
        build(database)
        with technician(database) as vadum, TestClient(echo) as bare:
            method = METHODS["liquid-limit"]
            rng = np.random.default_rng(1)
            readings = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(
                mode="json", exclude_none=True
            )
            file = json.dumps(compose(method.code, readings, {}, {}))
            typed = json.dumps({"cells": {"trials.0.mass_tin_dry_g": "28.91"}})
            kind = {"content-type": "application/json"}
            for path, content in (("/api/reduce", file), ("/api/tests/7/preview", typed)):
                answered = vadum.post(path, content=content, headers=kind)
                assert answered.status_code == 200, answered.text
            shown = answered.text
            yardstick = timed(lambda: bare.post("/echo", content=file, headers=kind))
            answer = timed(lambda: bare.post("/echo", content=shown, headers=kind))
            reduced = timed(lambda: vadum.post("/api/reduce", content=file, headers=kind))
            preview = timed(lambda: vadum.post("/api/tests/7/preview", content=typed, headers=kind))
            print("requests (target: at most 3x the echo of the same JSON; p95 below 40 ms)")
            print(f"  bare echo of the bench file    {yardstick[0]:6.2f} ms (p95 {yardstick[1]:6.2f})")
            print(
                f"  POST /api/reduce               {reduced[0]:6.2f} ms (p95 {reduced[1]:6.2f})  "
                f" {reduced[0] / yardstick[0]:.2f}x"
            )
            print(f"  bare echo of the worksheet     {answer[0]:6.2f} ms (p95 {answer[1]:6.2f})")
            print(
                f"  live preview with its figure   {preview[0]:6.2f} ms (p95 {preview[1]:6.2f})  "
                f" {preview[0] / answer[0]:.2f}x"
            )


if __name__ == "__main__":
    main()
