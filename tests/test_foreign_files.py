"""Files as they come from frames, loggers and other laboratories' sheets, each with what must come out of it."""

from pathlib import Path

import pytest

from vadum.exchange.marks import Decimal, Marks, marks_of
from vadum.exchange.preparing import How
from vadum.exchange.readings_import import propose
from vadum.exchange.spreadsheet import read_grid
from vadum.exchange.ways import Way
from vadum.soil.registry import METHODS

FILES = Path(__file__).parent / "files"
METHOD = {
    "bearing": "cbr-lab",
    "compaction": "compaction",
    "fall": "falling-head",
    "plate": "plate-incremental",
    "pycnometer": "particle-density",
    "shear": "direct-shear",
    "sieve": "sieve",
    "suction": "retention",
    "vane": "vane",
    "water": "water-content",
}


def read(name, how=None, mapping=None, **settings):
    method = METHODS[METHOD[name.partition("-")[0]]]
    grid = read_grid((FILES / name).read_bytes(), "readings" if "stamps.xlsx" in name else "")
    more = {"how": how} if how else {}
    return propose(method.Readings, grid, mapping=mapping, settings=method.Settings(**settings), **more)


def column(proposal, key):
    return [row.get(key) for row in proposal.rows]


HEADS = "head_mm"
FALLS = [420.0, 410.0, 380.0]


@pytest.mark.parametrize(
    ("name", "key", "values"),
    [
        ("sieve-cumulative.csv", "mass_retained_g", [10.0, 50.0, 80.0, 160.0]),
        ("sieve-inches.csv", "opening_mm", [37.5, 19.0, 9.5]),
        ("sieve-names.csv", "opening_mm", [37.5, 19.0, 4.75, 0.075]),
        ("sieve-total-row.csv", "mass_retained_g", [10.0, 20.0]),
        ("compaction-thousands-de.csv", "mass_mould_soil_g", [5934.5, 6012.1, 6101.0]),
        ("compaction-thousands-en.csv", "mass_mould_soil_g", [5934.5, 6012.1]),
        ("compaction-apostrophe.csv", "mass_mould_soil_g", [5934.5, 6012.1]),
        ("compaction-pounds.csv", "mass_mould_soil_g", [13.10 * 453.59237, 13.25 * 453.59237]),
        ("fall-min-sec.csv", "elapsed_min", [0.0, 1.5, 10.0, 75.0]),
        ("fall-mmss-unit.csv", "elapsed_min", [0.0, 1.5, 10.0]),
        ("fall-hms.csv", "elapsed_min", [0.0, 1.5, 70.0]),
        ("fall-stamps.csv", "elapsed_min", [0.0, 1.5, 10.0]),
        ("fall-stamps-dotted.csv", "elapsed_min", [0.0, 5.0]),
        ("fall-clock.csv", "elapsed_min", [0.0, 8.0, 20.0]),
        ("fall-days.csv", "elapsed_min", [0.0, 1.44, 14.4]),
        ("fall-seconds.csv", "elapsed_min", [0.0, 1.5, 10.0]),
        ("fall-seconds.csv", HEADS, FALLS),
        ("fall-na.csv", HEADS, [420.0, None, 380.0, None]),
        ("fall-fixed-width.txt", HEADS, FALLS),
        ("fall-utf16.csv", HEADS, FALLS[:2]),
        ("fall-preamble.csv", "elapsed_min", [0.0, 2.0]),
        ("fall-workbook-times.xlsx", "elapsed_min", [0.5, 1.5, 30.5]),
        ("fall-workbook-stamps.xlsx", "elapsed_min", [0.0, 1.0, 30.0]),
        ("shear-inches.csv", "horizontal_mm", [0.0, 0.254]),
        ("shear-inches.csv", "force_n", [0.0, 44.4822]),
        ("shear-two-specimens.csv", "force_n", [0.0, 20.0]),
        ("plate-gauges.csv", "gauge_b_mm", [0.14, 0.15]),
        ("plate-tsf.csv", "pressure_kpa", [47.88, 47.88]),
        ("plate-tsf.csv", "gauge_a_mm", [0.254, 0.3048]),
        ("water-averages.csv", "mass_tin_wet_g", [50.0, 51.0]),
        ("pycnometer-fahrenheit.csv", "temperature_c", [20.0, 25.0]),
        ("suction-bar.csv", "suction", [0.1, 0.33]),
        ("bearing-both-ends.csv", "ring_div", [0.0, 12.0]),
    ],
)
def test_what_comes_out(name, key, values):
    proposal = read(name)
    assert proposal.faults == []
    found = column(proposal, key)
    assert [value is None for value in found] == [value is None for value in values]
    assert [v for v in found if v is not None] == pytest.approx([v for v in values if v is not None], rel=1e-5)


def test_every_file_is_tried():
    tried = Path(__file__).read_text(encoding="utf-8")
    assert len(list(FILES.iterdir())) >= 30
    assert [one.name for one in FILES.iterdir() if f'"{one.name}"' not in tried] == []


@pytest.mark.parametrize(
    ("name", "words", "way", "key", "values"),
    [
        ("fall-time-of-day.csv", "time of day, or minutes", Way.OF_DAY, "elapsed_min", [0.0, 2.0, 10.0]),
        (
            "fall-time-of-day.csv",
            "time of day, or minutes",
            Way.MIN_SEC,
            "elapsed_min",
            [10.0, 10 + 1 / 30, 10 + 1 / 6],
        ),
        ("sieve-rising.csv", "on each sieve, or adds up", Way.ADDS_UP, "mass_retained_g", [5.0, 5.0, 10.0, 20, 20, 20]),
        ("sieve-rising.csv", "on each sieve, or adds up", Way.PLAIN, "mass_retained_g", [5.0, 10.0, 20.0, 40, 60, 80]),
    ],
)
def test_what_nothing_tells_is_asked(name, words, way, key, values):
    asked = read(name)
    assert words in asked.faults[0].message
    said = read(name, How(ways=[way if c.reading == key else None for c in asked.columns]))
    assert said.faults == []
    assert column(said, key) == pytest.approx(values)


def test_a_unit_where_a_plain_number_is_read_is_asked_about_and_may_be_cleared():
    assert "not N·m" in read("vane-torque.csv").faults[0].message
    said = read("vane-torque.csv", How(units=[None, ""]))
    assert said.faults == []
    assert column(said, "peak") == [12.0, 14.0]


def test_the_unit_of_a_suction_is_the_device_it_is_read_on():
    assert read("suction-bar.csv").constants == {"device": "gauge"}


@pytest.mark.parametrize(
    ("name", "dropped", "lacking"),
    [
        ("bearing-both-ends.csv", ["ring bottom (div)"], []),
        ("bearing-kn.csv", ["load (kN) (not read by this test's school)"], []),
        ("shear-two-specimens.csv", ["horizontal (mm)", "force (N)"], []),
        ("sieve-passing.csv", ["passing (%)"], ["mass_retained_g"]),
        ("sieve-cum-short.csv", ["cum. ret. [g]"], ["mass_retained_g"]),
    ],
)
def test_what_is_not_taken_is_named(name, dropped, lacking):
    proposal = read(name)
    assert proposal.dropped == dropped
    assert proposal.lacking == lacking


def test_a_frame_in_kilonewtons_is_taken_where_the_school_reads_forces():
    proposal = read("bearing-kn.csv", force_read="cell")
    assert column(proposal, "load_kn") == [0.0, 1.2, 2.0]
    assert proposal.dropped == []


def test_a_column_matched_by_hand_may_add_up():
    proposal = read("sieve-cum-short.csv", How(ways=[None, Way.ADDS_UP]), mapping=["opening_mm", "mass_retained_g"])
    assert column(proposal, "mass_retained_g") == [10.0, 50.0, 80.0, 160.0]


def test_rows_that_are_no_readings_are_named():
    (note,) = read("water-averages.csv").notes
    assert "row 4 (“average”), row 5 (“measured by hand in the rain”)" in note


def test_least_most_and_number_of_each_column_are_shown():
    found = {c.reading: c.found for c in read("fall-seconds.csv").columns}
    assert found == {"elapsed_min": (0.0, 10.0, 3), HEADS: (380.0, 420.0, 3)}


@pytest.mark.parametrize(
    ("cells", "asked", "cell", "plain"),
    [
        (["1.234,5"], Decimal.FOUND, "1.234,5", "1234.5"),
        (["4,75", "5.934"], Decimal.FOUND, "5.934", "5934"),
        (["4.75", "5.934"], Decimal.FOUND, "5.934", "5.934"),
        (["5.934"], Decimal.FOUND, "5.934", "5.934"),  # nothing tells: a balance may well show three decimals
        (["5.934"], Decimal.COMMA, "5.934", "5934"),
        (["5,934"], Decimal.POINT, "5,934", "5934"),
        ([], Decimal.FOUND, "1.234.567", "1234567"),
        ([], Decimal.FOUND, "5 934.5", "5934.5"),
        ([], Decimal.FOUND, "12.34.5", "12.34.5"),  # no number: left for the fault at its place
        ([], Decimal.FOUND, "2026-03-01", "2026-03-01"),
    ],
)
def test_decimal_and_thousands_marks(cells, asked, cell, plain):
    assert marks_of(cells, asked).plain(cell) == plain


def test_marks_say_nothing_where_a_file_shows_both_as_decimals():
    assert marks_of(["4,75", "4.75"]) == Marks()
