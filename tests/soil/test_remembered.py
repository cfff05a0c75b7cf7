"""What is remembered is taken by value: the same numbers are not worked out again, others are."""

import numpy as np
import pytest

from vadum.soil.numbers.odd import off_curve, off_neighbours, scatter_of
from vadum.soil.numbers.remembered import remembered


@pytest.fixture
def summed():
    """Return a remembered sum, and the list that grows with every time it is worked out."""
    calls = []

    @remembered
    def total(numbers, factor=1.0):
        calls.append(1)
        return float(np.sum(numbers)) * factor

    return total, calls


def test_the_same_numbers_are_not_worked_out_again(summed):
    total, calls = summed
    assert total(np.array([1.0, 2.0])) == total(np.array([1.0, 2.0])) == 3.0
    assert total([1.0, 2.0]) == total([1.0, 2.0]) == 3.0
    assert len(calls) == 2, "an array and a list are two things"


def test_an_array_changed_in_place_is_another(summed):
    total, calls = summed
    numbers = np.array([1.0, 2.0])
    assert total(numbers) == 3.0
    numbers[1] = 5.0
    assert total(numbers) == 6.0
    assert len(calls) == 2


def test_shape_kind_and_names_tell_calls_apart(summed):
    total, calls = summed
    flat = np.array([1.0, 2.0, 3.0, 4.0])
    total(flat)
    total(flat.reshape(2, 2))
    total(flat.astype(np.float32))
    assert total(flat, factor=2.0) == 20.0
    assert len(calls) == 4


def test_what_was_asked_long_ago_is_worked_out_again(summed):
    total, calls = summed
    for number in range(200):
        total([float(number)])
    assert total([0.0]) == 0.0
    assert len(calls) == 201


def test_an_odd_reading_is_found_again_after_it_was_put_right():
    x, y = list(range(10)), [k * k for k in range(10)]
    spoilt = [*y[:4], 160, *y[5:]]
    assert off_curve(x, y) == []
    assert [k for k, _ in off_curve(x, spoilt)] == [4]
    assert off_curve(x, y) == []


@pytest.mark.parametrize("count", [6, 7, 20, 21])
def test_the_scatter_goes_by_the_median_of_an_even_and_an_odd_number(count):
    """Against numpy's own median; 0.6745 of a standard deviation, 1.394 times that of one reading."""
    rng = np.random.default_rng(count)
    off = off_neighbours(np.arange(count + 4.0), rng.normal(size=count + 4))
    assert len(off) == count
    assert scatter_of(off) == pytest.approx(np.median(np.abs(off)) / (0.6745 * 1.394), rel=1e-12)
