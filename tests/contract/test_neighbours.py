"""What a reading, a blank and a typed constant say of themselves: the shared rules on a small test of our own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import Field, create_model

from vadum.soil.contract.blanks import blanks
from vadum.soil.contract.field import HARMLESS, REQUIRED, Context, Leant, Readings, Row, Settings, Supplied, reading
from vadum.soil.contract.finding import grouped, warn
from vadum.soil.contract.neighbours import Alike, Counted, Rising, Smooth, differing, unusual
from vadum.soil.contract.places import Taken
from vadum.soil.contract.slip import slip_words
from vadum.soil.numbers.odd import off_curve
from vadum.soil.physics.peak import peak_passed


class Pull(Row):
    rope: int | None = reading("rope", "", absent=HARMLESS)
    length_mm: float | None = reading("length", "mm", absent=REQUIRED)
    force_n: float | None = reading("force", "N", resolution=1, absent=REQUIRED, usual=(1, 900), instead="force_kg")
    force_kg: float | None = reading("in kilograms", "kg", absent=HARMLESS)
    note_c: float | None = reading("air", "°C", absent="20 °C assumed", beside="force_n")


class Ropes(Readings):
    spring_n_mm: float | None = reading("spring", "N/mm", absent=REQUIRED, usual=(2, 20))
    pulls: list[Pull] = Field(default_factory=list, title="pulls")


def ropes(forces, **more):
    rows = [{"length_mm": 10.0 * i, "force_n": f, "note_c": 18} for i, f in enumerate(forces, 1)]
    return Ropes.model_validate({"spring_n_mm": 5, "pulls": rows} | more)


def broken(relation, readings, context=None):
    return list(relation.broken(Taken(readings), Settings(), context or Context()))


def asked(readings, context=None):
    return list(blanks(Taken(readings), Settings(), context or Context()))


@pytest.mark.parametrize(
    ("typed", "meant", "why"),
    [
        (1234.0, 123.4, "the point is one place off"),
        (12.34, 123.4, "the point is one place off"),
        (0.1234, 123.4, "typed in another unit"),
        (3134.36, 123.4, "inches typed for millimetres"),
        (12.58, 123.4, "kilograms typed for newtons"),
        (246.8, 123.4, "it was counted twice"),
        (61.7, 123.4, "half of it was read"),
        (132.4, 123.4, "two digits exchanged"),
    ],
)
def test_the_slip_that_explains_a_number_is_said(typed, meant, why):
    said = slip_words(typed, lambda value: abs(value - meant) < 0.005 * meant)
    assert said.endswith(f"would fit: {why}?")


def test_a_number_that_no_slip_explains_gets_no_explanation():
    assert slip_words(777.0, lambda value: abs(value - 123.4) < 1) == ""


@given(st.floats(0.2, 3.0), st.floats(5, 500), st.integers(8, 40))
def test_a_power_curve_has_no_odd_reading(power, size, n):
    x = np.arange(1, n + 1, dtype=float)
    assert off_curve(x, size * x**power, step=0.01) == []


@given(st.integers(8, 40), st.data(), st.sampled_from([10.0, 0.1, 25.4, 2.0, 0.5]))
def test_a_spoilt_reading_of_a_curve_is_found(n, data, factor):
    x = np.arange(1, n + 1, dtype=float)
    y = 500 * x**0.7
    k = data.draw(st.integers(2, n - 3))
    y[k] *= factor
    (found, near), *more = off_curve(x, y, step=0.01)
    assert (found, more) == (k, [])
    assert near == pytest.approx(500 * x[k] ** 0.7, rel=0.08)


def test_a_step_of_a_curve_is_no_slip():
    # A brittle specimen: the force rises, breaks to half between two readings and stays there.
    force = [100, 200, 300, 400, 500, 600, 310, 305, 300, 298, 296]
    assert off_curve(range(len(force)), force, step=1) == []


def test_smooth_names_the_row_the_neighbours_and_the_slip():
    (said,) = broken(Smooth("pulls.force_n", "length_mm"), ropes([100, 190, 270, 3400, 400, 450, 490]))
    assert said.cells == ["pulls.3.force_n"]
    assert said.message.startswith("Pulls, row 4: force 3400 N does not fit the readings beside it, ")
    assert "340 would fit: the point is one place off?" in said.message
    assert said.severity == "warn"


def test_each_rope_has_a_curve_of_its_own():
    two = ropes([100, 190, 270, 340, 400, 450])
    two.pulls += ropes([900, 500, 300, 200, 150, 120]).pulls
    for i, row in enumerate(two.pulls):
        row.rope = {0: 1, 6: 2}.get(i)
    assert broken(Smooth("pulls.force_n", "length_mm", group="rope"), two) == []


def test_alike_asks_about_the_one_that_differs():
    (said,) = broken(Alike(("pulls.note_c",), apart=5), ropes([1, 2, 3]).model_copy(update={"pulls": _air(18, 81, 19)}))
    assert said.cells == ["pulls.1.note_c"]
    assert "18 would fit: two digits exchanged?" in said.message


def _air(*degrees):
    return [Pull(note_c=c) for c in degrees]


def test_rising_names_what_stands_out_of_order():
    swapped = ropes([1, 2, 3])
    swapped.pulls[1].length_mm, swapped.pulls[2].length_mm = 30, 20
    (said,) = broken(Rising("pulls.length_mm"), swapped)
    assert said.cells == ["pulls.2.length_mm"]
    assert "comes after 30 mm" in said.message


def test_rows_left_out_are_not_asked_about():
    left = ropes([100, 190, 270, 3400, 400, 450, 490])
    left.pulls[3].left_out = "slipped"
    assert broken(Smooth("pulls.force_n", "length_mm"), left) == []
    left.pulls[3].force_n = None
    assert asked(left) == []


def test_a_reading_outside_its_usual_range_is_asked_about_with_the_slip():
    (said,) = unusual(Taken(ropes([100], spring_n_mm=50)), Settings(), Context())
    assert said.message == (
        "Spring 50 N/mm is unusual, 2 to 20 N/mm as a rule; 5 would fit: the point is one place off?"
    )


def test_a_blank_that_is_required_stops_and_one_that_is_assumed_says_so():
    lacking = ropes([100, 200, 300], spring_n_mm=None)
    lacking.pulls[1].length_mm = None
    lacking.pulls[2].note_c = None
    spring, length, air = asked(lacking)
    assert [f.severity for f in (spring, length, air)] == ["stop", "stop", "warn"]
    assert spring.message == "Spring is missing."
    assert length.message == "Length is missing in pulls, row 2."
    assert air.message == "Air is not written in pulls, row 3: 20 °C assumed."


def test_a_blank_matters_only_beside_its_reading_and_not_where_another_stands():
    row = ropes([100, None])
    row.pulls[1].note_c = None
    row.pulls[1].force_kg = 20.0
    assert asked(row) == []
    row.pulls[1].force_kg = None
    assert [f.cells for f in asked(row)] == [["pulls.1.force_n"]]


def test_the_register_stands_in_for_a_blank_and_contradicts_what_is_typed():
    known = Context(supplied=Supplied(by="Spring 3", values={"spring_n_mm": 5.0}))
    assert asked(ropes([1], spring_n_mm=None), known) == []
    assert list(differing(ropes([1]), known)) == []
    (said,) = differing(ropes([1], spring_n_mm=8), known)
    assert said.message == "Spring: typed 8 N/mm, Spring 3 has 5 N/mm in the register."


SAMPLE = [f"share_{letter}" for letter in "hgfedcba"]


def test_contradicted_values_are_asked_about_in_the_order_of_the_sheet_whatever_the_process():
    """What comes first is what a page says to do next: by the order of a set it was another after each start."""
    typed = create_model("Typed", __base__=Readings, **{name: (float | None, reading(name, "%")) for name in SAMPLE})
    known = create_model("Known", __base__=Context, **dict.fromkeys(sorted(SAMPLE), (Leant | None, None)))
    tests = known.model_validate({name: {"value": 20, "source": "test 5"} for name in SAMPLE})
    said = differing(typed.model_validate(dict.fromkeys(SAMPLE, 40)), tests)
    assert [finding.cells for finding in said] == [[name] for name in SAMPLE]


def test_more_than_three_findings_of_a_kind_are_told_once():
    odd = warn("odd", "Row {row} is odd.", "Look at it.")
    three, four = ([odd.at(f"pulls.{i}.force_n", row=i) for i in range(n)] for n in (3, 4))
    assert grouped(three) == three
    (one,) = grouped(four)
    assert one.message == "Row 0 is odd. And 3 more like it."
    assert one.cells == [f"pulls.{i}.force_n" for i in range(4)]


class Record(Readings):
    log: object = None


class Columns:
    rope = [1.0, 1.0, 2.0, 3e6]


def test_a_logger_file_cannot_name_a_rope_there_is_not():
    (said,) = broken(Counted("log.rope", 6), Record.model_construct(log=Columns()))
    assert said.severity == "stop"
    assert broken(Counted("log.rope", 6), Record.model_construct(log=None)) == []


@pytest.mark.parametrize(
    ("stress", "passed"),
    [
        ([10, 50, 100, 99.9], False),  # one lower last digit
        ([10, 50, 100, 95, 90], False),  # two readings
        ([10, 50, 100, 99.5, 99, 98.5], False),  # not far enough
        ([10, 50, 100, 99, 98, 96.9], True),
        ([10, 50, 100, 60, 58, 57], True),
        ([10, 50, 60, 80, 100], False),
    ],
)
def test_a_peak_is_passed_only_when_it_is(stress, passed):
    assert peak_passed(stress) is passed
