"""What a person types, and what it is taken as."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.soil.entry import EntryError, parse_entry
from vadum.soil.rounding import HUNDREDTH, TENTH, WHOLE


@pytest.mark.parametrize(
    ("text", "unit", "expected"),
    [
        ("38.62", "g", 38.62),
        ("0,85", "g", 0.85),
        (" 12 g ", "g", 12.0),
        ("0.0386 kg", "g", 38.6),
        ("2.8in", "mm", 71.12),  # 1 in = 25.4 mm exactly
        ("1/2 in", "mm", 12.7),
        ("1 1/2in", "mm", 38.1),
        ("12 lbf", "N", 53.3787),  # 1 lbf = 4.44822 N
        ("1e-6 m/s", "m/s", 1e-6),
        ("−3", "°C", -3.0),
        ("212 degF", "°C", 100.0),
        ("31", "blows", 31.0),
        ("90 s", "min", 1.5),
    ],
)
def test_understood(text, unit, expected):
    assert parse_entry(text, unit) == pytest.approx(expected, rel=1e-5)


@pytest.mark.parametrize(
    ("text", "unit", "says"),
    [
        ("abc", "g", "not a number"),
        ("12 lbf", "g", "a force"),
        ("12 furlongz", "mm", "not a known unit"),
        ("1,234.5", "g", "two marks"),
        ("38.6 2", "g", "two marks or a gap"),
        ("nan", "g", "not a number"),
        ("inf", "g", "not a number"),
        ("1e999", "g", "too large"),
        ("1/0 in", "mm", "divides by zero"),
        ("5 g", "", "plain number"),
    ],
)
def test_refused_with_the_reason(text, unit, says):
    with pytest.raises(EntryError, match=says):
        parse_entry(text, unit)


@given(st.text(max_size=40))
def test_any_text_is_a_finite_number_or_a_complaint(text):
    try:
        number = parse_entry(text, "g")
    except EntryError as refused:
        number, complaint = 0.0, str(refused)
        assert complaint
    assert math.isfinite(number)


@given(st.floats(-1e6, 1e6).map(lambda v: round(v, 4)))
def test_a_decimal_comma_means_the_same_as_a_point(value):
    text = f"{value:.4f}"
    assert parse_entry(text.replace(".", ","), "g") == parse_entry(text, "g") == pytest.approx(value)


# ASTM E29: ties go to the even digit; the last digit is kept even when it is zero.
@pytest.mark.parametrize(
    ("rounding", "value", "text"),
    [
        (WHOLE, 46.5, "46"), (WHOLE, 47.5, "48"), (WHOLE, 47.49999, "47"), (TENTH, 22.0, "22.0"), (TENTH, 0.15, "0.2"),
        (TENTH, 0.25, "0.2"), (TENTH, 10.0, "10.0"), (HUNDREDTH, -0.001, "0.00"), (WHOLE, 1234567.0, "1234567"),
    ],
)  # fmt: skip
def test_rounding(rounding, value, text):
    assert rounding.text(value) == text
