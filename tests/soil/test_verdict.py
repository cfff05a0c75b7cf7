"""Limits that are met only with the uncertainty to spare."""

from dataclasses import replace

import numpy as np
import pytest

from vadum.soil.contract.limit import JUDGEMENT, guarded
from vadum.soil.registry import METHODS
from vadum.soil.site.lift import Requirement, judged, judged_guarded
from vadum.soil.uncertainty.combined import Combined, combined
from vadum.soil.uncertainty.verdict import verdict

STATIC, DROP = METHODS["plate-static"], METHODS["drop-plate"]


# ISO/IEC Guide 98-4 (2012), 8.3.2: accepted where the value lies at least the guard band w = U inside the limit.
@pytest.mark.parametrize(
    ("value", "expanded", "asked", "side", "outcome"),
    [
        (83.0, 3.0, 80.0, "least", "meets"),  # just the guard band to spare
        (82.9, 3.0, 80.0, "least", "not shown"),
        (80.0, 3.0, 80.0, "least", "not shown"),
        (77.1, 3.0, 80.0, "least", "not shown"),
        (76.9, 3.0, 80.0, "least", "fails"),
        (2.2, 0.3, 2.5, "most", "meets"),
        (2.3, 0.3, 2.5, "most", "not shown"),
        (2.9, 0.3, 2.5, "most", "fails"),
        (0.1 + 0.2, 0.1, 0.2, "least", "meets"),  # 0.3 less 0.1 is 0.2, whatever the machine makes of it
    ],
)
def test_the_guard_band_is_the_expanded_uncertainty(value, expanded, asked, side, outcome):
    assert guarded(value, expanded, asked, side) == outcome


def known(method, settings, **values):
    """What is known of a clean test, with values and expanded uncertainties of some results chosen."""
    rng = np.random.default_rng(4)
    readings = method.virtual(method.a_soil(rng), settings, rng)
    found = {one.parameter.key: one for one in combined(method, readings, settings, method.Context())}
    for key, (value, expanded) in values.items():
        one = found[key]
        text = f"{value:.{len(one.parameter.text.partition('.')[2])}f}"
        shown = replace(one.parameter, value=value, reported=value, text=text)
        found[key] = Combined(shown, expanded / 2, None, (), as_factor=False)
    return list(found.values())


def test_each_limit_of_a_plate_is_said_with_what_it_was_compared_by():
    settings = STATIC.Settings(required_ev2_mpa=80, required_ratio=2.5)
    said = verdict(STATIC, settings, known(STATIC, settings, ev1=(40, 2), ev2=(82.0, 3.0), ratio=(2.05, 0.1)))
    assert said == (
        "Ev2 82.0 ± 3.0 MPa by instruments and constants alone, at least 80 MPa: not shown: "
        "the limit lies within the uncertainty; "
        "Ev2/Ev1 2.05 ± 0.10 by instruments and constants alone, at most 2.5: met"
    )
    assert verdict(STATIC, STATIC.Settings(), known(STATIC, settings)) == ""


def test_a_ratio_is_exempted_when_the_first_modulus_alone_is_high():
    settings = STATIC.Settings(required_ev2_mpa=80, required_ratio=2.2)
    values = {"ev1": (50, 2), "ev2": (120.0, 3.0), "ratio": (2.40, 0.1)}
    assert verdict(STATIC, settings, known(STATIC, settings, **values)).endswith("at most 2.2: exempted")
    strict = settings.model_copy(update={"exempt": False})
    assert verdict(STATIC, strict, known(STATIC, strict, **values)).endswith("not met")


def test_every_place_of_a_drop_plate_is_judged_and_the_mean_is_not():
    settings = DROP.Settings(required_evd_mpa=20)
    said = verdict(DROP, settings, known(DROP, settings))
    places = [part for part in said.split("; ") if "Evd" in part]
    assert len(places) > 1
    assert all(part.startswith("Evd ") and part[4].isdigit() and part[5] == " " for part in places), said


def test_what_has_no_uncertainty_is_not_shown_to_be_met():
    settings = STATIC.Settings(required_ev2_mpa=80)
    without = [one for one in known(STATIC, settings) if one.parameter.key != "ev2"]
    assert verdict(STATIC, settings, without) == "at least 80: not shown, the uncertainty is not known"


@pytest.mark.parametrize("method", [STATIC, DROP])
def test_the_strip_says_by_which_rule(method):
    asked = {"required_ev2_mpa": 10} if method is STATIC else {"required_evd_mpa": 10}
    rng = np.random.default_rng(4)
    settings = method.Settings(**asked)
    readings = method.virtual(method.a_soil(rng), settings, rng)
    simple = method.reduce(readings, settings, method.Context()).parameter(JUDGEMENT)
    guards = method.reduce(readings, settings, method.Context(guarded=True)).parameter(JUDGEMENT)
    assert "simple acceptance" in simple.basis
    assert "the sheet counts the uncertainty" in guards.basis


def test_a_field_density_that_passes_by_less_than_its_uncertainty_is_not_shown():
    asked = Requirement(1.90, 12.5, least_percent=95)
    plain = judged(1.84, 12.0, asked)  # 96.8 %
    assert judged_guarded(1.84, 12.0, asked, 1.8) == replace(plain, expanded_percent=1.8)
    assert judged_guarded(1.84, 12.0, asked, 1.9).verdict == "not shown"
    assert judged_guarded(1.84, 12.0, asked, None).verdict == "not shown"
    # What fails without it fails with it, and keeps its cause.
    assert judged_guarded(1.70, 18.0, asked, 0.1).verdict == "too wet"
