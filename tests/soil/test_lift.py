"""A rolled lift against what is asked: each verdict by hand."""

import pytest

from vadum.soil.site.lift import Requirement, judged, lift_figure

# 95 % of 2.00 g/cm3 is 1.90; water from 8 to 12 %.
ASKED = Requirement(2.00, 10.0)


@pytest.mark.parametrize(
    ("dry", "water", "degree", "verdict"),
    [
        (1.90, 10.0, 95.0, "pass"),
        (1.89, 10.0, 94.5, "roll more"),
        (1.95, 12.1, 97.5, "too wet"),
        (1.80, 13.0, 90.0, "too wet"),
        (1.92, 7.9, 96.0, "too dry"),
        (1.92, 8.0, 96.0, "pass"),
        (1.95, None, 97.5, "water unknown"),
        (1.80, None, 90.0, "roll more"),
    ],
)
def test_each_verdict(dry, water, degree, verdict):
    found = judged(dry, water, ASKED)
    assert found.degree_percent == pytest.approx(degree)
    assert found.verdict == verdict
    assert found.passes == (verdict == "pass")


def test_what_is_judged_is_what_is_printed():
    """94.97 % reads 95.0 on the page: a verdict against the number beside it would be nobody's (ASTM E29, rounded)."""
    printed = judged(1.8994, 12.04, ASKED)
    assert (printed.degree_percent, printed.off_optimum_percent, printed.verdict) == (95.0, 2.0, "pass")
    missed = judged(1.8984, 12.06, ASKED)
    assert (missed.degree_percent, missed.off_optimum_percent, missed.verdict) == (94.9, 2.1, "too wet")
    # An optimum of 11.83 prints a window from 9.8: a place at 9.8 is inside it.
    assert judged(1.95, 9.8, Requirement(2.00, 11.83)).verdict == "pass"


def test_more_than_the_maximum_by_far_asks_which_soil_the_maximum_is_of():
    assert judged(2.15, 10.0, ASKED).doubtful
    assert not judged(2.05, 10.0, ASKED).doubtful


def test_the_figure_holds_every_place_and_the_field_that_is_accepted():
    drawn = lift_figure([("0+025", 14.0, 1.7), ("0+050", 9.0, 1.95)], ASKED)
    assert drawn.x.low < 8
    assert drawn.x.high > 14
    assert drawn.y.low < 1.7
    assert drawn.regions[0].points[0] == (8.0, pytest.approx(1.90))
