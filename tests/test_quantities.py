"""Tables of a site: a row a place, a column a quantity, nothing written finer than it was reported."""

from vadum.records.site import Site
from vadum.report.quantities import matrices, spread_rows
from vadum.soil.site import QUANTITIES, Value

BY_KEY = {q.key: q for q in QUANTITIES}


def value(key, text, sample="U1", test=1, top=1.0):
    return Value(BY_KEY[key], "BH1", sample, top, None if top is None else top + 0.4, test, float(text), text)


def spread_of(*values):
    return {row[0]: row[2:] for row in spread_rows(Site(values=list(values)))}


def test_whole_numbers_stay_whole_and_their_mean_has_a_tenth():
    assert spread_of(value("liquid_limit", "31"), value("liquid_limit", "62")) == {
        "LL, %": ["2", "31", "62", "46.5", "21.9", ""]
    }


def test_conductivities_keep_three_figures_and_a_factor():
    # geometric mean 10, factor 10; the cautious one 10 ** (1 - 2.920 / sqrt 3) = 0.206
    assert spread_of(*(value("conductivity", text) for text in ("1.00", "10.0", "100"))) == {
        "Ks, mm/h": ["3", "1.00", "100", "10.0", "× 10.00", "0.206"]
    }


def test_one_value_has_no_mean_and_no_spread():
    assert spread_of(value("cbr", "24")) == {"CBR, %": ["1", "24", "24", "", "", ""]}


def test_a_small_number_is_not_rounded_to_nothing():
    assert spread_of(value("d10_mm", "0.00191"), value("d10_mm", "0.129"))["D10, mm"][1:3] == ["0.00191", "0.129"]


def test_two_tests_of_a_kind_share_a_cell_and_say_which_they_are():
    (state,) = matrices(
        Site(
            values=[
                value("water_content", "33.3", test=3),
                value("water_content", "32.9", test=8),
                value("liquid_limit", "62", test=4),
            ]
        )
    )
    assert state.head == ["location", "sample", "depth, m", "w, %", "LL, %"]
    (row,) = state.rows
    assert row.place == ("BH1", "U1", "1.00–1.40")
    assert row.cells == ["33.3 / 32.9", "62"]
    assert row.tests == [[3, 8], [4]]


def test_families_without_a_value_have_no_table_and_the_ground_no_depth():
    tables = matrices(Site(values=[value("su_vane", "26", sample="", top=None), value("cbr", "24")]))
    assert [t.title for t in tables] == ["strength", "bearing"]
    assert tables[0].rows[0].place == ("BH1", "", "")
    assert matrices(Site()) == []
