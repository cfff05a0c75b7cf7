"""The longest logger file that is allowed, 200,000 rows: read, matched, kept, reduced and drawn, and what that takes of
memory: `make bench`."""

import resource
import statistics
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from signed_in import technician
from verdict import Verdicts, spans

from bench import yardstick
from vadum.demo.laboratory import build
from vadum.demo.soils import SILT_GRAINS
from vadum.soil.contract.field import MOST_LOGGED
from vadum.soil.methods.hydrometer.virtual import a_log
from vadum.soil.registry import METHODS

# The heading is a row too.
CYLINDER, ROWS = 26, MOST_LOGGED
MOST_S, MOST_MB = 3, 400


def main() -> int:
    verdicts = Verdicts(f"a log of {ROWS:,} rows, in seconds of an idle machine")
    file = {"file": ("station.csv", _file(ROWS))}
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "demo.sqlite"
        build(database)
        with technician(database) as client:
            sheet = f"/api/tests/{CYLINDER}/sheet"
            sent = {"base_revision": client.get(sheet).json()["revision"], "save_key": "a-log-as-long-as-may-be"}
            idle, before = statistics.median(spans(yardstick, 200)), _memory_mb()
            at = time.perf_counter()
            answer = client.post(f"/api/tests/{CYLINDER}/import", files=file, data=sent)
            kept = time.perf_counter()
            drawn = client.get(sheet).json()["figures"]
            end = time.perf_counter()
            assert answer.json().get("count") == ROWS, answer.text
            verdicts.told("read, matched, kept", (kept - at) / idle, MOST_S, "s", f" {kept - at:.2f} s here")
            verdicts.told("and drawn", (end - at) / idle, MOST_S, "s", f" {len(drawn)} figures")
            verdicts.told("memory of the server", _memory_mb(), MOST_MB, "MB", f" {before:.0f} MB before")
    return verdicts.status


def _file(rows: int) -> bytes:
    log = a_log(SILT_GRAINS, METHODS["hydrometer"].Settings(), np.random.default_rng(1), rows)
    lines = (";".join(map(str, row)) for row in zip(*log.values(), strict=True))
    return "\n".join(["time [min];reading;temp [°C]", *lines]).encode()


def _memory_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


if __name__ == "__main__":
    sys.exit(main())
