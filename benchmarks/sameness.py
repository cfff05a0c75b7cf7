"""Do two versions of Vadum say the same? What every demonstration test says, as a file, and two such files compared.

``python benchmarks/sameness.py keep before.json`` in the one version, ``... keep after.json`` in the other, then
``python benchmarks/sameness.py compare before.json after.json``: every difference of a parameter, a finding, a figure
as it is drawn or the text of a sheet is listed. Times of day are left out.
"""

import hashlib
import json
import re
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from sqlmodel import col, select

from vadum.demo.laboratory import build
from vadum.drawing import render
from vadum.records.database import open_database, session_on
from vadum.records.standing import standing_of
from vadum.records.tables import Test
from vadum.report.sheet import Asked, sheet_of
from vadum.soil.registry import METHODS

_TIME = re.compile(r"\d{4}-\d\d-\d\d([ T]\d\d:\d\d(:\d\d(\.\d+)?)?( UTC|Z|\+00:00)?)?")
_SEEDS = 4
# A desk's and a phone's, px.
_BOXES = ((660, 620), (360, 420))
_ALL = Asked(derivation=True, uncertainty=True)


def said() -> dict[str, Any]:
    """Return what each demonstration test says, by the test's number and method."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        build(path)
        with session_on(open_database(path)) as session:
            tests = {
                f"{test.id} {test.method}": _test(session, test)
                for test in session.exec(select(Test).order_by(col(Test.id)))
            }
    return tests | {f"virtual {code}": _timeless(list(_spoilt(method))) for code, method in METHODS.items()}


def _spoilt(method: Any) -> Iterator[Any]:
    """Yield what virtual tests say: clean, with each known mistake, with readings missing, halved and doubled."""
    settings, context = method.Settings(), method.Context()
    for seed in range(_SEEDS):
        for mistake in ("", *method.mistakes):
            rng = np.random.default_rng(seed)
            planted = frozenset({mistake} - {""})
            readings = method.virtual(method.a_soil(rng), settings, rng, planted).model_dump(exclude_none=True)
            yield _reduced(method, readings, settings, context)
            for factor in (None, 0.5, 2.0):
                yield _reduced(method, _some(readings, rng, factor), settings, context)


def _some(value: Any, rng: np.random.Generator, factor: float | None) -> Any:
    """Return readings of which one in twelve is gone, or multiplied."""
    if isinstance(value, dict):
        return {key: _some(item, rng, factor) for key, item in value.items()}
    if isinstance(value, list):
        return [_some(item, rng, factor) for item in value]
    if isinstance(value, float) and rng.random() < 1 / 12:
        return value * factor if factor else None
    return value


def _reduced(method: Any, readings: Any, settings: Any, context: Any) -> Any:
    try:
        reduction = method.reduce(method.Readings.model_validate(readings), settings, context)
    except Exception as error:
        return f"{type(error).__name__}: {error}"[:200]
    drawn = "".join(render(figure) for figure in reduction.figures)
    told: dict[str, Any] = reduction.model_dump(exclude={"figures", "computed"})
    return told | {"drawn": hashlib.sha256(drawn.encode()).hexdigest()}


def _test(session: Any, test: Test) -> dict[str, Any]:
    reduction = standing_of(session, test).reduction
    sheet = sheet_of(session, test, _ALL)
    return _timeless(
        {
            "parameters": {p["key"]: p for p in reduction.model_dump(include={"parameters"})["parameters"]},
            "findings": [f.model_dump() for f in reduction.findings],
            "computed": reduction.computed,
            "expected": reduction.expected,
            "curve": [list(point) for point in reduction.curve],
            "figures": reduction.model_dump(include={"figures"})["figures"],
            "drawn": [render(figure, *box).split("><") for figure in reduction.figures for box in _BOXES],
            "next_action": reduction.next_action,
            "complete": reduction.complete,
            "reportable": reduction.reportable,
            "summary": test.summary,
            "sheet": sheet.data,
        }
    )


def _timeless(value: Any) -> Any:
    """Return plain data without times of day."""
    return json.loads(_TIME.sub("<time>", json.dumps(value, default=str, ensure_ascii=False)))


def differences(before: Any, after: Any, place: str = "") -> list[str]:
    """Return a line for every place where two files differ; numbers count as equal to twelve figures."""
    if isinstance(before, dict) and isinstance(after, dict):
        return [
            line
            for key in sorted({*before, *after}, key=str)
            for line in differences(before.get(key), after.get(key), f"{place} / {key}")
        ]
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        pairs = enumerate(zip(before, after, strict=True))
        return [line for i, (a, b) in pairs for line in differences(a, b, f"{place}[{i}]")]
    if isinstance(before, float) and isinstance(after, float):
        return [] if abs(before - after) <= 1e-12 * abs(before) else [f"{place}: {before!r} -> {after!r}"]
    return [] if before == after else [f"{place}: {before!r} -> {after!r}"]


def main() -> int:
    match sys.argv[1:]:
        case ["keep", out]:
            Path(out).write_text(json.dumps(said(), ensure_ascii=False, indent=1))
            return 0
        case ["compare", one, other]:
            before, after = (json.loads(Path(file).read_text()) for file in (one, other))
            found = differences(before, after)
            print(f"{len(before)} tests, {len(found)} differences", *found, sep="\n")
            return bool(found)
    print(__doc__)
    return 2


if __name__ == "__main__":
    sys.exit(main())
