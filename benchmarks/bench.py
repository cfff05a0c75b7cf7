"""The benchmark: ratios on one machine, printed as a table. `make bench`."""

import json
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from fastapi import Body, FastAPI
from fastapi.testclient import TestClient

from vadum.demo.laboratory import build
from vadum.drawing import render
from vadum.exchange.bench_file import compose
from vadum.soil.registry import METHODS
from vadum.web.app import create_app

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


def main() -> None:
    print("reduce and draw, in process (target: reduce below 2 ms)")
    for method in METHODS.values():
        rng, settings, context = np.random.default_rng(1), method.Settings(), method.Context()
        readings = method.virtual(method.a_soil(rng), settings, rng)
        median, high = timed(lambda m=method, r=readings, s=settings, c=context: m.reduce(r, s, c))  # type: ignore[misc]
        figures = method.reduce(readings, settings, context).figures
        drawn = timed(lambda f=figures: [render(x) for x in f])[0]  # type: ignore[misc]
        print(f"  {method.code:16} reduce {median:6.3f} ms (p95 {high:6.3f})   draw {drawn:6.3f} ms")

    echo = FastAPI()

    @echo.post("/echo")
    def back(data: Any = Body()) -> Any:
        return data

    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "demo.sqlite"
        build(database)
        with TestClient(create_app(database)) as vadum, TestClient(echo) as bare:
            method = METHODS["liquid-limit"]
            rng = np.random.default_rng(1)
            readings = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(
                mode="json", exclude_none=True
            )
            file = json.dumps(compose(method.code, readings, {}, {}))
            typed = json.dumps({"cells": {"trials.0.mass_tin_dry_g": "28.91"}})
            shown = vadum.post("/api/tests/7/preview", content=typed).text
            kind = {"content-type": "application/json"}
            yardstick = timed(lambda: bare.post("/echo", content=file, headers=kind))
            answer = timed(lambda: bare.post("/echo", content=shown, headers=kind))
            reduced = timed(lambda: vadum.post("/api/reduce", content=file, headers=kind))
            preview = timed(lambda: vadum.post("/api/tests/7/preview", content=typed, headers=kind))
            print("requests (target: at most 3x the echo of the same JSON; p95 below 40 ms)")
            print(f"  bare echo of the bench file    {yardstick[0]:6.2f} ms (p95 {yardstick[1]:6.2f})")
            print(
                f"  POST /api/reduce               {reduced[0]:6.2f} ms (p95 {reduced[1]:6.2f})   {reduced[0] / yardstick[0]:.2f}x"
            )
            print(f"  bare echo of the worksheet     {answer[0]:6.2f} ms (p95 {answer[1]:6.2f})")
            print(
                f"  live preview with its figure   {preview[0]:6.2f} ms (p95 {preview[1]:6.2f})   {preview[0] / answer[0]:.2f}x"
            )


if __name__ == "__main__":
    main()
