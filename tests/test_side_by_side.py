"""Results of several specimens, places or fills stand as one table on the sheet, a column each."""

import numpy as np
import pytest
from sqlmodel import Session, select

from vadum.records.database import open_database
from vadum.records.tables import Test
from vadum.report.sheet import sheet_of
from vadum.report.side_by_side import side_by_side
from vadum.soil.contract.result import Result
from vadum.soil.numbers.rounding import TENTH, WHOLE
from vadum.soil.registry import METHODS

Q = Result("q_{k}", "q {k}", "deviator, specimen {k}", "kPa", WHOLE, meaning="deviator at failure")
A = Result("a_{k}", "A {k}", "coefficient, specimen {k}", "", TENTH, meaning="pore-pressure coefficient")
TIMED = Result("f_{k}", "f {k}", "fill {k}, in {minutes} min", "m/s", TENTH, meaning="rate of a fill")
ALONE = Result("phi", "phi", "angle of friction", "deg", TENTH)
EVERY = (Q, A, TIMED, ALONE)


def test_a_line_for_what_it_is_and_a_column_for_each():
    parameters = [ALONE.of(24.8), *(one.of(v, k=k) for k, v in enumerate((57.2, 101.8, 191.6), 1) for one in (Q, A))]
    made = side_by_side(EVERY, parameters, {"q_2": "± 1"})
    assert made.columns == ["specimen 1", "specimen 2", "specimen 3"]
    assert made.lines[0] == ("q", "deviator at failure", "kPa", ["57", "102 ± 1", "192"])
    assert made.lines[1][:3] == ("A", "pore-pressure coefficient", "")
    assert made.keys == {f"{name}_{k}" for name in ("q", "a") for k in (1, 2, 3)}


def test_a_specimen_that_lacks_one_has_a_dash():
    parameters = [Q.of(57.0, k=1), Q.of(102.0, k=2), Q.of(192.0, k=10), A.of(0.4, k=1), A.word("undetermined", k=10)]
    made = side_by_side(EVERY, parameters, {})
    # By number, not by letters: 10 comes after 2.
    assert made.columns == ["specimen 1", "specimen 2", "specimen 10"]
    assert made.lines[1][3] == ["0.4", "–", "undetermined"]


@pytest.mark.parametrize(
    "parameters",
    [[], [ALONE.of(24.8)], [Q.of(57.0, k=1), A.of(0.4, k=1)], [Q.of(57.0, k=1), Q.of(102.0, k=2)]],
    ids=["nothing", "no numbers", "one specimen", "one line"],
)
def test_too_little_is_no_table(parameters):
    assert side_by_side(EVERY, parameters, {}).lines == []


def test_what_a_name_says_beside_its_number_is_not_lost():
    """How long a fill took stands in its name: it keeps a line of its own."""
    parameters = [one.of(v, k=k, minutes=90) for k, v in ((1, 1.0), (2, 2.0)) for one in (TIMED,)]
    parameters += [Q.of(57.0, k=1), Q.of(102.0, k=2), A.of(0.4, k=1), A.of(0.4, k=2)]
    made = side_by_side(EVERY, parameters, {})
    assert not any(key.startswith("f_") for key in made.keys)


@pytest.mark.parametrize(("code", "columns"), [("triaxial", 3), ("falling-head", 3), ("density-gauge", 5)])
def test_methods_of_several_places_have_it(code, columns):
    method, rng = METHODS[code], np.random.default_rng(2)
    reduction = method.reduce(
        method.virtual(method.a_soil(rng), method.Settings(), rng), method.Settings(), method.Context()
    )
    made = side_by_side(method.results, reduction.parameters, {})
    if code == "density-gauge":
        # Its places have names of their own, which a number would lose.
        assert made.lines == []
    else:
        assert len(made.columns) == columns
        assert all(len(texts) == columns for *_, texts in made.lines)


def test_opinions_stand_apart_from_what_was_measured(demo_database):
    """A value for design and a verdict are printed in a block of their own, never in the large type of results."""
    with Session(open_database(demo_database)) as session:
        test = session.exec(select(Test).where(Test.method == "falling-head", Test.state == "reduced")).first()
        data = sheet_of(session, test).data
    assert [p["symbol"] for p in data["opinions"]] == ["design", "required"]
    apart = {p["symbol"] for p in data["opinions"]}
    assert not apart & {p["symbol"] for p in (*data["headline"], *data["further"])}
    # The first of three places is not torn out of its line to fill the large type.
    assert [line[3].count("–") for line in data["together"]["lines"]] == [0, 0, 0]


def test_what_is_an_opinion_is_declared_with_the_result():
    opinions = {(code, one.key) for code, method in METHODS.items() for one in method.results if one.opinion}
    assert {
        ("double-ring", "design_mm_h"),
        ("plate-incremental", "allowable_kpa"),
        ("plate-static", "judgement"),
        ("unconfined", "consistency"),
        ("vane", "strength_class"),
        ("linear-shrinkage", "plasticity_index_estimate"),
    } <= opinions
    assert not any(
        one.opinion for method in METHODS.values() for one in method.results if one.key == method.headline[0]
    )
