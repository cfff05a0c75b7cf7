"""Readings files of ours come back in as they went out: every method, both formats, logger files and rows left out."""

import numpy as np
import pytest

from vadum.exchange.own_files import LEFT_OUT, WORKED_OUT, sheet_of
from vadum.exchange.readings_csv import readings_csv
from vadum.exchange.readings_import import propose, targets
from vadum.exchange.readings_xlsx import readings_xlsx
from vadum.exchange.spreadsheet import read_grid
from vadum.exchange.workbook import LONGEST_TITLE
from vadum.soil.contract.cells import tables
from vadum.soil.registry import METHODS


def made(code, left_out=False):
    """Return a virtual test as plain data, with a row of each table left out where asked, and its reduction."""
    method, rng = METHODS[code], np.random.default_rng(3)
    readings = method.virtual(method.a_soil(rng), method.Settings(), rng)
    plain = readings.model_dump(mode="json", exclude_none=True)
    if left_out:
        plain |= {
            name: [{**rows[0], LEFT_OUT: "spilled; see note"}, *rows[1:]]
            for name, rows in plain.items()
            if isinstance(rows, list) and rows
        }
    return method, plain, method.reduce_raw(plain)


def back(method, data, target):
    grid = read_grid(data)
    if grid.sheets:
        titles = [
            name for t in targets(method.Readings) if t.name == target for name in (t.title[:LONGEST_TITLE], t.name)
        ]
        grid = read_grid(data, sheet_of(grid.sheets, titles))
    proposal = propose(method.Readings, grid, target=target)
    assert [(fault.row, fault.column, fault.message) for fault in proposal.faults] == [], target
    return proposal


def same(rows, wanted):
    assert len(rows) == len(wanted)
    for row, want in zip(rows, wanted, strict=True):
        assert row.keys() == want.keys()
        for key, value in want.items():
            assert row[key] == (pytest.approx(value, rel=1e-9) if isinstance(value, float) else value), key


@pytest.mark.parametrize("written", [readings_csv, readings_xlsx], ids=["csv", "xlsx"])
@pytest.mark.parametrize("code", [code for code in METHODS if tables(METHODS[code].Readings)])
def test_every_table_of_every_method(code, written):
    method, plain, reduction = made(code, left_out=True)
    data = written(method, plain, reduction)
    for name in tables(method.Readings):
        if plain.get(name):
            found = back(method, data.encode() if isinstance(data, str) else data, name)
            same(found.rows, plain[name])


@pytest.mark.parametrize("code", ["falling-head", "direct-shear", "triaxial", "unconfined"])
@pytest.mark.parametrize("written", [readings_csv, readings_xlsx], ids=["csv", "xlsx"])
def test_a_logger_file(code, written):
    method = METHODS[code]
    log = targets(method.Readings)[-1]
    assert log.log
    columns = {key: [float(i + k) for k in range(60)] for i, key in enumerate(log.columns, 1)}
    plain = {log.name: {"file": "logger.csv", **columns}}
    data = written(method, plain, method.reduce_raw(plain))
    found = back(method, data.encode() if isinstance(data, str) else data, log.name)
    assert found.columns_logged == columns


def test_what_was_worked_out_is_never_taken_for_a_reading():
    method, plain, reduction = made("compaction")
    text = readings_csv(method, plain, reduction)
    assert WORKED_OUT in text
    found = back(method, text.encode(), "points")
    assert all("water_content_percent" not in row for row in found.rows)


def test_a_row_that_was_left_out_does_not_come_back_as_one_in_use():
    method, plain, reduction = made("liquid-limit", left_out=True)
    found = back(method, readings_csv(method, plain, reduction).encode(), "trials")
    assert found.rows[0][LEFT_OUT] == "spilled; see note"
    assert all(LEFT_OUT not in row for row in found.rows[1:])
    # It is no column to be filled for every row.
    assert LEFT_OUT not in found.unmatched


def test_a_fault_in_a_block_is_named_by_the_row_of_the_file():
    method, plain, reduction = made("cbr-lab")
    lines = readings_csv(method, plain, reduction).splitlines()
    kept = [line for line in lines if line.strip(",")]
    at = kept.index("bottom") + 2
    kept[at] = kept[at].replace("0", "zero", 1)
    proposal = propose(method.Readings, read_grid("\r\n".join(kept).encode()), target="bottom")
    assert [fault.row for fault in proposal.faults] == [at + 1]


def test_a_mass_is_no_number_of_a_tin():
    """A column of masses headed “tin [g]” where no number of a tin was written."""
    rows = b"tin [g],tin + wet [g],tin + dry [g]\r\n18.40,73.09,61.46\r\n"
    found = propose(METHODS["water-content"].Readings, read_grid(rows))
    assert found.rows == [{"mass_tin_g": 18.4, "mass_tin_wet_g": 73.09, "mass_tin_dry_g": 61.46}]
