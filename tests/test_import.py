"""Spreadsheets as laboratories bring them: encodings, delimiters, decimal marks, units, and what is wrong with them."""

import io
from datetime import time, timedelta

import openpyxl
import pytest

from tests.grids import ROWS, text, workbook
from vadum.exchange.readings_import import propose
from vadum.exchange.spreadsheet import SpreadsheetError, read_grid
from vadum.soil.contract.field import MOST_LOGGED
from vadum.soil.registry import METHODS

SIEVE, HYDROMETER, COMPACTION = (METHODS[c].Readings for c in ("sieve", "hydrometer", "compaction"))


def taken(data, model=SIEVE, **more):
    proposal = propose(model, read_grid(data), **more)
    assert proposal.faults == []
    return proposal.rows


WANTED = [
    {"opening_mm": 4.75, "mass_retained_g": 0.0},
    {"opening_mm": 2.0, "mass_retained_g": 50.5},
    {"opening_mm": 0.425, "mass_retained_g": 150.25},
]


@pytest.mark.parametrize(
    "data",
    [
        text(("Sieve [mm]", "Mass retained [g]"), *ROWS),
        text(("Sieve [mm]", "Mass retained [g]"), *ROWS, delimiter="\t"),
        text(("opening (mm)", "retained (g)"), *ROWS, delimiter="|"),
        text(
            ("opening_mm", "mass_retained_g"),
            *((a.replace(".", ","), b.replace(".", ",")) for a, b in ROWS),
            delimiter=";",
        ),
        text(("Größe, mm", "retained, g", "opening"), *(("", b, a) for a, b in ROWS), delimiter=";", encoding="cp1252"),
        text(("Sieve", "Weight"), *ROWS, encoding="utf-16"),
        text(("Sieve", "Weight"), *ROWS, encoding="utf-8-sig"),
        text(("sheet 4, technician 2", ""), ("", ""), ("Sieve", "Weight"), *ROWS),
        workbook(("Sieve", "Weight [g]"), *((float(a), float(b)) for a, b in ROWS)),
        text(("Sieve", "Weight [kg]"), *((a, str(float(b) / 1000)) for a, b in ROWS)),
    ],
    ids=["comma", "tab", "bar", "decimal comma", "windows", "utf-16", "bom", "title above", "workbook", "kilograms"],
)
def test_the_same_stack_in_many_dresses(data):
    rows = taken(data)
    assert [row["opening_mm"] for row in rows] == [4.75, 2.0, 0.425]
    assert [row["mass_retained_g"] for row in rows] == pytest.approx([0.0, 50.5, 150.25])


def test_sieves_by_number():
    assert [r["opening_mm"] for r in taken(text(("sieve", "retained"), ("No. 10", "1"), ("No. 200", "2")))] == [
        2.0,
        0.075,
    ]


@pytest.mark.parametrize(
    ("heading", "openings"),
    [
        ("sieve (in)", ("3", "1.5", "0.75", "0.375", "0.187", "0.0029")),
        ("sieve", ("3 in", "1 1/2 in", "3/4", "⅜ in", "No. 4", "#200")),
        ("sieve [inches]", ("3", "1-1/2", "3/4", "3/8", "0.187", "0.0029")),
    ],
)
def test_sieves_by_inches(heading, openings):
    rows = taken(text((heading, "retained"), *((opening, str(n % 2)) for n, opening in enumerate(openings))))
    assert [row["opening_mm"] for row in rows] == [75.0, 37.5, 19.0, 9.5, 4.75, 0.075]


def test_columns_can_be_matched_by_hand():
    data = text(("a", "retained"), ("2", "9"))
    assert taken(data) == [{"mass_retained_g": 9.0}]
    assert taken(data, mapping=["opening_mm", "mass_retained_g"]) == [{"opening_mm": 2.0, "mass_retained_g": 9.0}]


@pytest.mark.parametrize(
    ("rows", "row", "words"),
    [
        ([("2", "wet")], 2, "not a number"),
        ([("No. 33", "1")], 2, "no sieve No. 33"),
        ([("2", "1"), ("1", "1.23,4,5")], 3, "two marks"),
        ([("2", "-4")], 2, "below the least possible"),
        ([("2", "1", "7")], 2, "3 cells under 2 headings"),
        ([(str(i), "1") for i in range(60, 0, -1)], 2, "60 rows; this table takes 40"),
    ],
)
def test_faults_are_named_by_row(rows, row, words):
    proposal = propose(SIEVE, read_grid(text(("sieve [mm]", "retained [g]"), *rows, delimiter=";")))
    assert proposal.faults[0].row == row
    assert words in proposal.faults[0].message


def test_a_decimal_comma_between_commas_is_noticed():
    proposal = propose(SIEVE, read_grid(b"sieve,retained\n4,75,10,5\n2,0,20,1\n"))
    assert "is the comma both decimal mark and separator" in proposal.faults[0].message


def test_a_column_in_the_wrong_unit_is_refused_once():
    proposal = propose(SIEVE, read_grid(text(("sieve [mm]", "retained [mm]"), ("2", "1"))))
    assert [fault.message for fault in proposal.faults] == ["mm is a length; this column is a mass in g"]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b" \n\n", "empty"),
        (b"\xd0\xcf\x11\xe0rest", "old binary workbook"),
        (b"PK\x03\x04broken", "damaged"),
        (b"\x00\x01\x02a;b", "not a text file"),
        (workbook(), "no cell"),
    ],
)
def test_files_that_are_no_table(data, words):
    with pytest.raises(SpreadsheetError, match=words):
        read_grid(data)


def test_headings_that_fit_nothing_say_what_is_wanted():
    with pytest.raises(SpreadsheetError, match="Expected headings such as “opening"):
        propose(SIEVE, read_grid(text(("name", "colour"), ("a", "b"))))
    with pytest.raises(SpreadsheetError, match="no row below"):
        propose(SIEVE, read_grid(text(("sieve", "retained"))))


def test_a_named_sheet_of_a_workbook():
    book = openpyxl.load_workbook(io.BytesIO(workbook(("x",), sheet="notes")))
    page = book.create_sheet("stack")
    for row in (("sieve", "retained"), (2, 5)):
        page.append(row)
    out = io.BytesIO()
    book.save(out)
    grid = read_grid(out.getvalue(), "stack")
    assert grid.sheets == ["notes", "stack"]
    assert propose(SIEVE, grid).rows == [{"opening_mm": 2.0, "mass_retained_g": 5.0}]


def test_times_of_a_workbook_are_minutes():
    rows = [(time(0, 2), 30.5, 21), (timedelta(hours=25), 12, 70.7)]
    data = workbook(("elapsed time [min]", "reading", "temperature [°C]"), rows[0], (rows[1][0], 12, 21.5))
    assert [row["elapsed_min"] for row in taken(data, HYDROMETER, target="sedimentation")] == [2.0, 1500.0]


def long_log(rows, change=()):
    lines = [[f"{i / 10:g}", f"{40 - i / 1000:g}", "21.5"] for i in range(1, rows + 1)]
    for at, column, value in change:
        lines[at][column] = value
    return (
        text(("time [s]", "hydrometer reading", "temp [degF]"), *([str(float(a) * 60), b, "70.7"] for a, b, _ in lines))
        if not change
        else text(("time [min]", "hydrometer reading", "temp"), *lines)
    )


def test_a_long_file_goes_into_the_log_with_its_units():
    proposal = propose(HYDROMETER, read_grid(long_log(500)))
    assert proposal.target.name == "log"
    assert proposal.count == 500
    assert proposal.columns_logged["elapsed_min"][:2] == pytest.approx([0.1, 0.2])
    assert proposal.columns_logged["temperature_c"][0] == pytest.approx(21.5)


@pytest.mark.parametrize(
    ("at", "column", "value", "words"),
    [
        (100, 1, "", "is empty"),
        (7, 1, "x", "not a number"),
        (499, 2, "215", "outside what can be read"),
        (3, 0, "-1", "outside"),
    ],
)
def test_faults_in_a_log_are_named_by_row(at, column, value, words):
    proposal = propose(HYDROMETER, read_grid(long_log(500, [(at, column, value)])))
    (fault,) = proposal.faults
    assert fault.row == at + 2
    assert words in fault.message


def test_a_log_without_one_of_its_columns_is_refused():
    data = text(("time", "reading"), *((str(i), "30") for i in range(1, 200)))
    proposal = propose(HYDROMETER, read_grid(data), target="log")
    assert "no column for “temp. [°C]”" in proposal.faults[0].message


def test_tins_of_a_compaction_sheet():
    data = text(
        ("Tin no", "Tare [g]", "Wet [g]", "Dry [g]", "Mould + soil [g]"), ("T-1", "17.1", "120.5", "110.2", "5820")
    )
    assert taken(data, COMPACTION) == [
        {
            "tin": "T-1",
            "mass_tin_g": 17.1,
            "mass_tin_wet_g": 120.5,
            "mass_tin_dry_g": 110.2,
            "mass_mould_soil_g": 5820.0,
        }
    ]


def test_a_test_without_tables_takes_no_file():
    with pytest.raises(SpreadsheetError, match="no table"):
        propose(METHODS["classification"].Readings, read_grid(b"a;b\n1;2\n"))


def test_two_columns_exchanged_are_suspected():
    data = text(("sieve", "retained"), ("0", "9.5"), ("310", "4.75"), ("400", "2"))
    proposal = propose(SIEVE, read_grid(data))
    assert proposal.faults
    assert "“sieve” and “retained” exchanged" in proposal.notes[0]


# Loggers: units below the headings, no heading at all, a long preamble

UNCONFINED = METHODS["unconfined"].Readings
FRAME = [(f"{0.1 * i:.1f}", f"{3 * i}", f"{i}") for i in range(60)]


def test_units_stand_in_the_row_below_the_headings():
    data = text(("shortening", "force", "count"), ("cm", "kN", "-"), *FRAME)
    found = propose(UNCONFINED, read_grid(data), "log")
    assert found.faults == []
    assert found.count == 60
    assert found.columns_logged["force_n"][2] == pytest.approx(6000)
    assert found.columns_logged["shortening_mm"][3] == pytest.approx(3.0)


def test_a_row_of_numbers_below_the_headings_is_no_row_of_units():
    assert taken(text(("Sieve [mm]", "Weight"), *ROWS)) == WANTED


def test_a_file_without_headings_is_matched_by_a_person():
    data = text(*FRAME)
    asked = propose(UNCONFINED, read_grid(data))
    assert [f.message for f in asked.faults] == [
        "No heading fits the readings of this test. Say for each column what it is."
    ]
    assert [(c.heading, c.sample) for c in asked.columns] == [("", "0.0"), ("", "0"), ("", "0")]
    found = propose(UNCONFINED, read_grid(data), "log", ["shortening_mm", "force_n", ""])
    assert found.faults == []
    assert found.columns_logged["force_n"] == [3.0 * i for i in range(60)]


@pytest.mark.parametrize("deep", [3, 60])
def test_headings_nobody_knows_below_a_long_preamble(deep):
    preamble = [(f"line {i} of what the frame was set to", "") for i in range(deep)]
    data = text(*preamble, ("Weg", "Kraft"), ("[mm]", "[kN]"), *((a, b) for a, b, _ in FRAME), delimiter=";")
    asked = propose(UNCONFINED, read_grid(data), "log")
    assert [(c.heading, c.unit, c.sample) for c in asked.columns] == [("Weg", "mm", "0.0"), ("Kraft", "kN", "0")]
    assert asked.faults
    found = propose(UNCONFINED, read_grid(data), "log", ["shortening_mm", "force_n"])
    assert found.faults == []
    assert found.columns_logged["force_n"][1] == pytest.approx(3000)
    # A column in a unit of another kind is still refused.
    (fault,) = propose(UNCONFINED, read_grid(data), "log", ["force_n", "shortening_mm"]).faults[:1]
    assert "mm is a length" in fault.message


def test_as_many_rows_as_a_log_may_hold_are_read_below_their_heading():
    heading = b"logger 3\ntime [min];reading\n"
    assert len(read_grid(heading + b"1.5;30\n" * MOST_LOGGED).rows) == MOST_LOGGED + 2
    with pytest.raises(SpreadsheetError, match=r"at most 200100 are read"):
        read_grid(heading + b"1.5;30\n" * (MOST_LOGGED + 100))
