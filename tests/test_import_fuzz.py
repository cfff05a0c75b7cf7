"""Files as they should never come: cut, spoilt, in a wrong encoding, with formulas, as a bomb, too large. Each ends in
a plain message or in faults by row, and nothing of it is on record."""

import io
import json
import zipfile
from contextlib import suppress

import openpyxl
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlmodel import Session, func, select

from tests.grids import ROWS, text, workbook
from vadum.exchange.readings_import import propose
from vadum.exchange.spreadsheet import SpreadsheetError, read_grid
from vadum.records.database import open_database
from vadum.records.tables import Attachment, Location, Project, Revision, Sample
from vadum.soil.registry import METHODS

SIEVE = METHODS["sieve"].Readings
PLANNED = 31  # a sieve test that waits
HEAD = ("Sieve [mm]", "Mass retained [g]")
BOOK = workbook(HEAD, *((float(a), float(b)) for a, b in ROWS))
FILES = [
    text(HEAD, *ROWS),
    text(HEAD, *ROWS, delimiter=";", encoding="utf-16"),
    text(("Größe [mm]", "Masse [g]"), *ROWS, delimiter="\t", encoding="cp1252"),
    BOOK,
]
SPOILT = settings(max_examples=120, suppress_health_check=[HealthCheck.function_scoped_fixture])


def look(data):
    """Read a file as the import does; anything but a plain message or faults is a defect."""
    with suppress(SpreadsheetError):
        return propose(SIEVE, read_grid(data))
    return None


@SPOILT
@given(which=st.sampled_from(FILES), cut=st.floats(0, 1), at=st.floats(0, 1), junk=st.binary(max_size=8))
def test_cut_and_spoilt_tables(which, cut, at, junk):
    look(which[: int(cut * len(which))])
    k = int(at * len(which))
    look(which[:k] + junk + which[k + len(junk) :])


@SPOILT
@given(st.lists(st.lists(st.text(max_size=12), max_size=5), max_size=6), st.sampled_from(["utf-8", "utf-16", "cp1252"]))
def test_tables_of_anything(rows, encoding):
    data = "\n".join(";".join(row) for row in [HEAD, *rows]).encode(encoding, errors="replace")
    proposal = look(data)
    if proposal is not None and not proposal.faults:
        SIEVE.model_validate({proposal.target.name: proposal.rows})


@SPOILT
@given(st.binary(max_size=400))
def test_bytes_of_anything(data):
    look(data)


def test_a_formula_is_taken_by_its_value_or_is_a_fault():
    book = openpyxl.Workbook()
    for row in (HEAD, (4.75, "=1+1"), (2, 50.5)):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    # Never calculated by a spreadsheet program: the cell has no value, and none is made up.
    proposal = propose(SIEVE, read_grid(out.getvalue()))
    assert proposal.faults or proposal.rows[0].get("mass_retained_g") is None
    proposal = propose(SIEVE, read_grid(text(HEAD, ("4.75", "=1+1"), ("2", '=HYPERLINK("x")'))))
    assert [fault.row for fault in proposal.faults] == [2, 3]


def bomb(name, size):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed, packed.open(name, "w", force_zip64=True) as part:
        for _ in range(size // 1_000_000):
            part.write(b"\0" * 1_000_000)
    return out.getvalue()


def test_a_bomb_is_refused_by_what_it_unpacks_to():
    with pytest.raises(SpreadsheetError, match="unpacks to more than 300 MB"):
        read_grid(bomb("xl/worksheets/sheet1.xml", 301_000_000))


@pytest.fixture
def record(database):
    def counted():
        with Session(open_database(database)) as session:
            tables = (Revision, Attachment, Project, Location, Sample)
            return [session.exec(select(func.count()).select_from(table)).one() for table in tables]

    return counted


@pytest.mark.parametrize(
    "path", [f"/api/tests/{PLANNED}/import/preview", f"/api/tests/{PLANNED}/import", "/archives", "/transfer"]
)
@pytest.mark.parametrize(
    "data",
    [b"", b"\xff\xfe\x00", b"PK\x03\x04", FILES[0][:30], BOOK[: len(BOOK) // 2], b"x" * 50_000_000],
    ids=["empty", "half a sign", "a beginning", "half a table", "half a workbook", "50 MB"],
)
def test_no_route_takes_half_of_anything(client, record, path, data):
    before = record()
    form = {"base_revision": "0", "save_key": "fuzz-0001"}
    reply = client.post(path, files={"file": ("x.dat", data)}, data=form, follow_redirects=False)
    assert reply.status_code in (200, 413, 422)
    if reply.status_code == 200:  # half a table may be looked at, with what is wrong
        assert path.endswith("preview")
    elif reply.headers["content-type"].startswith("application/json"):
        assert reply.json()["message"]
    assert record() == before


@SPOILT
@given(cut=st.floats(0, 0.999), at=st.floats(0, 1), junk=st.text(max_size=4))
def test_bench_files_cut_and_spoilt(client, cut, at, junk):
    whole = json.dumps({"format": "vadum-bench/1", "method": "sieve", "readings": {"mass_dry_g": 500, "sieves": []}})
    k = int(at * len(whole))
    for spoilt in (whole[: int(cut * len(whole))], whole[:k] + junk + whole[k:]):
        reply = client.post("/api/reduce", content=spoilt.encode(), headers={"content-type": "application/json"})
        assert reply.status_code in (200, 422)
        assert reply.status_code == 200 or reply.json()["message"]
