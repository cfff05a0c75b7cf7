"""A laboratory after years of work: pages with 5,000 tests on record against the same with those of the demonstration
alone, and against the same page with nothing asked of the record: the same templates filled with the same things.

The work in hand is the same in both; what came before is issued, in a hundred projects of the demonstration's size.
What counts is the time of the processor: of twenty pages the slowest was the one during which a neighbour of this
machine had it.
"""

import sys
import tempfile
import time
from pathlib import Path
from typing import Any
from unittest.mock import patch

from fastapi import FastAPI, Request
from fastapi.responses import HTMLResponse
from fastapi.templating import Jinja2Templates
from fastapi.testclient import TestClient
from signed_in import technician
from sqlalchemy import Connection, insert, select
from verdict import Verdicts

from vadum.demo.laboratory import build
from vadum.records.database import open_database
from vadum.records.tables import Check, Location, Project, Revision, Sample, Stratum, Test

COPIES = 87
PAGES = (
    "/",
    "/board",
    "/projects/1",
    "/search?q=clay",
    "/plan",
    "/samples/3",
    "/tests/7",
    "/tests/12",
    "/equipment",
    "/practice",
)
ROUNDS = 60
# Each table with the keys that point into the ones copied before it.
_TABLES = (
    (Project, {}),
    (Location, {"project_id": Project}),
    (Stratum, {"location_id": Location}),
    (Sample, {"location_id": Location}),
    (Test, {"location_id": Location, "sample_id": Sample}),
    (Revision, {"test_id": Test}),
    (Check, {"test_id": Test}),
)


def fill(database: Path, copies: int = COPIES) -> int:
    """Add copies of all that is on record as issued work of earlier years; return how many tests there are then."""
    with open_database(database).begin() as connection:
        rows = {
            table: [dict(r) for r in connection.execute(select(table.__table__)).mappings()] for table, _ in _TABLES
        }  # type: ignore[attr-defined]
        for copy in range(1, copies + 1):
            _copy(connection, rows, copy)
        return len(rows[Test]) * (copies + 1)


def _copy(connection: Connection, rows: dict, copy: int) -> None:
    moved = dict.fromkeys(rows, copy * 100000)
    for table, keys in _TABLES:
        made = []
        for row in rows[table]:
            new = dict(row) | {"id": row["id"] + moved[table]}
            new |= {key: row[key] + moved[of] for key, of in keys.items() if row[key] is not None}
            if table is Project:
                new["name"] = f"{row['name']}, part {copy}"
            if table is Test:
                new["state"] = "void" if row["state"] == "void" else "issued"
            if table is Revision:
                new["save_key"] = f"{row['save_key']}-{copy}"[:64]
            made.append(new)
        connection.execute(insert(table.__table__), made)  # type: ignore[attr-defined]


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        young, old = Path(folder) / "young.sqlite", Path(folder) / "old.sqlite"
        build(young)
        build(old)
        count = fill(old)
        with technician(young) as few, technician(old) as many:
            verdicts = Verdicts(
                f"pages with {count} tests on record, times the same with {count // (COPIES + 1)} (p95)"
            )
            for client in (few, many):
                time.sleep(3)  # the day's copy of the database is made first
                client.get("/")
            for path in PAGES:
                a, b = _p95(path, few, many)
                verdicts.told(path, b / a, 1.5, more=f" {a:6.1f} ms, then {b:6.1f}")
            print("and times the same templates filled with the same, nothing asked of the record (p95)")
            for path in PAGES:
                with _bare(many, path) as bare:
                    empty, full = _p95(path, bare, many)
                verdicts.told(path, full / empty, 2, more=f" {empty:6.1f} ms, {full:6.1f} with the record")
    return verdicts.status


def _bare(client: TestClient, path: str) -> TestClient:
    """Return a client of an application that answers with a page as it was made last, made again of its templates."""
    made: list[tuple[Jinja2Templates, Request, str, dict[str, Any]]] = []
    answered = Jinja2Templates.TemplateResponse

    def kept(of: Jinja2Templates, request: Request, name: str, context: dict[str, Any], **more: Any) -> HTMLResponse:
        made.append((of, request, name, dict(context)))
        return answered(of, request, name, context, **more)

    with patch.object(Jinja2Templates, "TemplateResponse", kept):
        size = len(client.get(path).content)
    of, first, name, context = made[-1]
    app = FastAPI()

    @app.get("/{rest:path}", response_class=HTMLResponse)
    def again() -> HTMLResponse:
        return answered(of, first, name, dict(context))

    bare = TestClient(app, base_url="http://127.0.0.1")
    assert len(bare.get(path).content) == size
    return bare


def _p95(path: str, *clients: TestClient) -> list[float]:
    """Return the 95th percentile of what a page takes of the processor, ms, as each client gets it, by turns."""
    for client in clients * 5:
        assert client.get(path).status_code == 200
    rounds = [[_spent(client, path) for client in clients] for _ in range(ROUNDS)]
    return [sorted(own)[int(0.95 * ROUNDS)] for own in zip(*rounds, strict=True)]


def _spent(client: TestClient, path: str) -> float:
    start = time.process_time()
    client.get(path)
    return (time.process_time() - start) * 1e3


if __name__ == "__main__":
    sys.exit(main())
