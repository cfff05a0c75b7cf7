"""The one way from readings to what is known of them: order, bounds, equipment, advice, and a reduction that breaks."""

import pytest

from vadum.soil.contract import pipeline
from vadum.soil.contract.field import Context
from vadum.soil.contract.finding import note, stop, warn
from vadum.soil.contract.reduction import DONE, NOT_FINISHED, Reduction
from vadum.soil.contract.result import Result, results_in
from vadum.soil.numbers.rounding import WHOLE
from vadum.soil.registry import METHODS

BAD = stop("bad", "This is wrong.", "Do that.")
FEW = stop("few", "Too few.", "Make another.", awaited=True)
ODD = warn("odd", "This is odd.", "Look again.")
SAID = note("said", "Just so.", "Know it.")
STRENGTH = Result("strength", "q", "strength", "kPa", WHOLE, impossible=(0.0, 1000.0), unusual=(None, 500.0))


def advice(*findings, **more):
    return pipeline.advise(Reduction(findings=list(findings), **more))


def test_what_stops_comes_before_the_next_reading_and_doubts_after_it():
    assert advice(BAD.at(), next_step="Read on.") == "This is wrong. Do that."
    assert advice(ODD.at(), next_step="Read on.") == "Read on."
    assert advice(ODD.at(), later="Dry it.") == "This is odd. Look again."
    assert advice(SAID.at(), later="Dry it.") == "Dry it."
    assert advice(SAID.at(), complete=True) == DONE
    assert advice(SAID.at()) == NOT_FINISHED


def test_a_doubt_that_asks_for_a_remark_is_done_with_when_one_quotes_it():
    asks = warn("odd", "A mould of 135 mm.", "Measure it; say in the remarks which one it is.").at()
    unsaid = Reduction(findings=[asks], complete=True)
    assert pipeline.advise(unsaid) == asks.sentence
    assert pipeline.advise(unsaid, "Another day.") == asks.sentence
    assert pipeline.advise(unsaid, "A mould of 135 mm. It is the old one.") == DONE
    assert pipeline.advise(Reduction(findings=[ODD.at()]), "This is odd.") == ODD.at().sentence, (
        "no remark was asked for"
    )


def test_too_few_readings_are_asked_for_by_the_next_reading_and_only_then_complained_of():
    assert advice(FEW.at(), next_step="Make trial 2.") == "Make trial 2."
    assert advice(FEW.at(), later="Dry tin 4.") == "Dry tin 4."
    assert advice(FEW.at()) == "Too few. Make another."


def test_a_doubt_about_the_row_in_hand_comes_before_the_next_one():
    about_last = ODD.at("trials.2.blows")
    assert advice(about_last, next_step="Make trial 4.", in_hand="trials.2.") == "This is odd. Look again."
    assert advice(about_last, next_step="Make trial 4.", in_hand="trials.3.") == "Make trial 4."


@pytest.mark.parametrize(
    ("value", "code"), [(-1, "impossible-result"), (2000, "impossible-result"), (600, "unusual-result"), (300, "")]
)
def test_a_result_is_held_against_its_bounds(value, code):
    found = list(pipeline.credible((STRENGTH,), Reduction(parameters=[STRENGTH.of(value)])))
    assert [finding.code for finding in found] == ([code] if code else [])
    for finding in found:
        assert f"q {value} kPa" in finding.message


def test_equipment_out_of_date_is_said_by_every_method_and_reaches_next():
    late = {"out_of_date": [{"name": "Balance 2", "why": "due on 2026-01-03"}]}
    for method in METHODS.values():
        said = method.reduce(method.Readings(), method.Settings(), method.Context.model_validate(late))
        assert "equipment-out-of-date" in said.codes(), method.code
    assert advice(*pipeline.equipment(Context.model_validate(late))).startswith("Balance 2: due on 2026-01-03.")


def test_two_pieces_that_say_otherwise_stop_every_method():
    two = {"in_two": [{"one": "Vane A", "other": "Vane B", "what": "constant of vane"}]}
    for method in METHODS.values():
        said = method.reduce(method.Readings(), method.Settings(), method.Context.model_validate(two))
        assert "pieces-differ" in said.codes(), method.code
    assert advice(*pipeline.equipment(Context.model_validate(two))) == (
        "Vane A and Vane B are both in use on this sheet and differ in constant of vane."
        " Say under Equipment which one was used."
    )


def test_a_result_that_another_test_contradicts_is_told_by_every_method_that_leans_on_it():
    apart = {"differing": [{"symbol": "LL", "taken": "test 95", "other": "test 9", "percent": 44.6}]}
    for method in METHODS.values():
        said = method.reduce(method.Readings(), method.Settings(), method.Context.model_validate(apart))
        [found] = [one for one in said.findings if one.code == "tests-differ"]
        assert found.message == "LL is taken from test 95; test 9 of the same sample differs from it by 45 %."
        assert found.severity == "warn"


def test_a_reduction_that_breaks_is_a_stop_and_not_an_error(monkeypatch):
    method = METHODS["vane"]
    monkeypatch.setattr(type(method), "work_out", lambda *_: 1 / 0)
    result = method.reduce(method.Readings(), method.Settings(), method.Context())
    assert result.codes() == ["not-reduced"]
    assert "ZeroDivisionError" in result.findings[0].message
    assert not result.reportable


def test_an_inspection_is_reported_as_found():
    result = Reduction(findings=[BAD.at()], complete=True)
    pipeline.judge(result)
    assert not result.reportable
    pipeline.judge(result, reported_as_found=True)
    assert result.reportable


def test_a_result_with_slots_knows_its_parameters():
    one = Result("ks_{number}", "Ks {number}", "conductivity, cylinder {number}", "mm/h", WHOLE, meaning="conductivity")
    made = one.of(12.4, number=3)
    assert (made.key, made.symbol, made.name, made.text) == ("ks_3", "Ks 3", "conductivity, cylinder 3", "12")
    assert one.gives("ks_12")
    assert not one.gives("ks_")
    assert not one.gives("late_3")
    assert one.entry == ("Ks", "conductivity", "mm/h")
    with pytest.raises(TypeError, match="no rounding"):
        Result("class", "class", "a word").of(1.0)
    assert results_in([one, one, STRENGTH]) == (one, STRENGTH)
