"""Results, findings and figures in other units say the same: what is shown converts back to what was reckoned.

The set of units here is made for the test; the conversions it is judged by are the factors of NIST SP 811, appendix B.
"""

import json
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.present import combined_in, drawing_in, finding_in, parameter_in, reduction_in, units_of
from vadum.present.results import read_in
from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Series
from vadum.soil.contract.finding import Finding, warn
from vadum.soil.contract.pipeline import SHARED
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter, Result
from vadum.soil.numbers.rounding import HUNDREDTH, TENTH, WHOLE, significant
from vadum.soil.numbers.scatter import Scatter
from vadum.soil.numbers.unit_sets import SETS, units_named
from vadum.soil.numbers.units import is_unit
from vadum.soil.numbers.written import SI, Units, figures_of, fill, in_words, unit_slots, with_figures
from vadum.soil.registry import METHODS
from vadum.soil.uncertainty.combined import Combined, Hand

FEET = Units("feet and pounds", {"kPa": "psi", "mm": "in", "m": "ft", "g/cm³": "lb/ft³", "°C": "degF", "cm³": "in³"})
# What one of the unit shown is in the laboratory's: NIST SP 811 (2008), B.8.
FACTOR = {"psi": 6.894757, "in": 25.4, "ft": 0.3048, "lb/ft³": 0.01601846, "in³": 16.38706}
# What one of the unit shown is in the laboratory's, worked out by hand from the same source.
BACK = {
    ("kPa", "MPa"): 1000.0,
    ("N", "kN"): 1000.0,
    ("kPa", "ksf"): 47.88026,
    ("MPa", "ksi"): 6.894757,
    ("MN/m³", "lbf/in³"): 4.448222 / 25.4**3 * 1000,
    ("kPa/m", "ksf/ft"): 47.88026 / 0.3048,
    ("kN", "lbf"): 0.004448222,
    ("N", "lbf"): 4.448222,
    ("kN/m³", "lbf/ft³"): 0.004448222 / 0.3048**3,
    ("g/cm³", "lb/ft³"): 0.01601846,
    ("mm", "in"): 25.4,
    ("m", "ft"): 0.3048,
    ("cm³", "in³"): 16.38706,
    ("mm/h", "in/h"): 25.4,
    ("mm/min", "in/min"): 25.4,
    ("min/cm", "min/in"): 1 / 2.54,
    ("m/s", "cm/s"): 0.01,
    ("µm/s", "ft/d"): 304800 / 86400,
    ("cm²/min", "in²/min"): 6.4516,
    ("m²/a", "ft²/a"): 0.3048**2,
    ("kPa", "kgf/cm²"): 98.0665,
    ("MPa", "kgf/cm²"): 0.0980665,
    ("MN/m³", "kgf/cm³"): 9.80665,
    ("kPa/m", "kgf/cm²/m"): 98.0665,
    ("kN", "kgf"): 0.00980665,
    ("kN/m³", "tf/m³"): 9.80665,
}
# A shared sentence takes the unit of the reading it is about when it is told.
OF_THE_READING = "‹unit›"
OF_THE_ONE_BESIDE = "‹its›"
EVERY_DOUBT = {
    (code, one.code, one.says): one for code, method in METHODS.items() for one in (*method.findings, *SHARED)
}


def test_what_is_shown_in_si_is_what_was_reckoned():
    reduction = Reduction(parameters=[Result("qu", "qu", "strength", "kPa", WHOLE).of(184.2)])
    assert reduction_in(reduction, SI, METHODS["unconfined"]) is reduction


@pytest.mark.parametrize(
    ("unit", "value", "rounding", "text", "shown"),
    [
        ("kPa", 184.2, WHOLE, "184", "psi"),
        ("mm", 25.43, TENTH, "25.4", "in"),
        ("g/cm³", 1.8512, HUNDREDTH, "1.85", "lb/ft³"),
        ("m", 0.3048, HUNDREDTH, "0.30", "ft"),
    ],
)
def test_a_result_is_as_fine_as_before_and_converts_back(unit, value, rounding, text, shown):
    parameter = Result("x", "x", "x", unit, rounding).of(value, doubt=Scatter(value / 100))
    assert parameter.text == text
    other = parameter_in(parameter, FEET)
    assert other.unit == shown
    step, before = (10.0 ** -len(one.partition(".")[2]) for one in (other.text, text))
    assert before / 10 < step * FACTOR[shown] <= before, "no coarser than before, at most ten times finer"
    assert other.reported * FACTOR[shown] == pytest.approx(float(text), abs=step * FACTOR[shown] / 2 * 1.0001)
    assert other.value * FACTOR[shown] == pytest.approx(value, rel=1e-6)
    assert other.doubt * FACTOR[shown] == pytest.approx(value / 100, rel=1e-6)


def test_known_conversions():
    """100 kPa are 14.5 psi, 1.00 g/cm³ are 62.4 lb/ft³, 20.0 °C are 68.0 °F and 0.5 °C of doubt 0.9 °F of it."""
    assert parameter_in(Result("a", "a", "a", "kPa", WHOLE).of(100), FEET).text == "14.5"
    assert parameter_in(Result("a", "a", "a", "g/cm³", HUNDREDTH).of(1.0), FEET).text == "62.4"
    warm = parameter_in(Result("a", "a", "a", "°C", TENTH).of(20.0, doubt=Scatter(0.5)), FEET)
    assert warm.text == "68.0"
    assert warm.doubt == pytest.approx(0.9)


def test_words_and_numbers_without_a_unit_of_the_set_stay():
    word = Result("pl", "PL", "plastic limit", "%", WHOLE).word("NP")
    share = Result("w", "w", "water content", "%", TENTH).of(23.4)
    assert parameter_in(word, FEET) == word
    assert parameter_in(share, FEET) == share


@given(st.floats(1e-6, 1e6), st.integers(1, 6))
def test_a_written_number_has_the_figures_asked_for_and_is_the_number(value, figures):
    text = with_figures(value, figures)
    assert float(text) == pytest.approx(value, rel=0.5 * 10.0 ** (1 - figures) * 1.0001)
    if "." in text or "e" in text:
        assert figures_of(text.partition("e")[0]) == figures


@pytest.mark.parametrize(
    ("text", "figures"), [("184", 3), ("0.0250", 3), ("-3.10", 3), ("+0.5", 1), ("0", 1), ("12.0", 3)]
)
def test_figures_of_a_written_number(text, figures):
    assert figures_of(text) == figures


def test_a_sentence_names_its_units_and_is_filled_in_either():
    says = "{volume:g cm³} is not {low:g [cm³]} to {high:g cm³}; {percent:.0f %} of {what}."
    values = {"volume": 944.0, "low": 900.0, "high": 1100.0, "percent": 12.4, "what": "it"}
    assert fill(says, values) == "944 cm³ is not 900 to 1100 cm³; 12 % of it."
    assert fill(says, values, FEET) == "57.61 in³ is not 54.92 to 67.13 in³; 12 % of it."
    assert in_words(says) == "‹volume› cm³ is not ‹low› to ‹high› cm³; ‹percent› % of ‹what›."
    assert unit_slots(says) == {"volume": "cm³", "low": "cm³", "high": "cm³", "percent": "%"}


def test_a_finding_is_said_in_other_units_even_after_it_was_kept():
    doubt = warn("too-large", "The plate moved {moved:.1f mm} under {load:g kPa}.", "Go back below {load:g kPa}.")
    finding = doubt.at("rows.3.mean_mm", moved=12.7, load=100)
    assert finding.sentence == "The plate moved 12.7 mm under 100 kPa. Go back below 100 kPa."
    kept = Finding.model_validate(json.loads(json.dumps(finding.model_dump(mode="json"))))
    other = finding_in(kept, FEET)
    assert other.sentence == "The plate moved 0.500 in under 14.5 psi. Go back below 14.5 psi."
    assert (other.code, other.severity, other.cells) == ("too-large", "warn", ["rows.3.mean_mm"])


def test_a_finding_kept_by_an_earlier_release_stays_as_it_was_written():
    old = Finding(severity="warn", code="x", message="944 cm³ is much.", action="Look again.")
    assert finding_in(old, FEET).message == "944 cm³ is much."


def test_every_unit_in_a_declared_sentence_is_a_unit():
    assert len(EVERY_DOUBT) > 1000
    units = {
        (method, code, unit)
        for (method, code, _), doubt in EVERY_DOUBT.items()
        for sentence in (doubt.says, doubt.do)
        for unit in unit_slots(sentence).values()
    }
    assert len({unit for _, _, unit in units}) > 10
    plain = ("%", "°", OF_THE_READING, OF_THE_ONE_BESIDE)
    assert {one for one in units if one[2] not in plain and not is_unit(one[2])} == set()


def test_no_declared_sentence_writes_a_unit_behind_a_number_by_hand():
    by_hand = re.compile(r"\{\w+:[^{} ]+\} (kPa|MPa|mm|cm|m|g|kg|kN|N|%|°C|min|s|cm³|g/cm³)(?![\w/²³·])")
    assert by_hand.search("{q:.0f} kPa is much")
    assert [at[:2] for at, doubt in EVERY_DOUBT.items() if by_hand.search(doubt.says + doubt.do)] == []


def figure():
    return Figure(
        key="f",
        title="f",
        description="f",
        x=Axis(label="load", unit="kPa", low=0, high=200, ticks=[0, 100, 200], named=[(100, "design")]),
        y=Axis(label="settlement", unit="mm", low=0, high=25.4, down=True),
        lines=[Line(key="l", points=[(0, 0), (100, 12.7)])],
        series=[Series(key="s", label="s", marks=[Mark(x=100, y=12.7, path="rows.0")])],
        handles=[Handle(setting="to_kpa", label="h", x=100, y=0, along="x", low=0, high=200, step=1)],
        result=Mark(x=200, y=25.4),
    )


def test_a_figure_in_other_units_is_the_same_drawing():
    drawn = drawing_in(figure(), FEET)
    psi = 100 / FACTOR["psi"]
    assert (drawn.x.unit, drawn.y.unit) == ("psi", "in")
    assert (drawn.x.high, drawn.y.high) == pytest.approx((2 * psi, 1.0))
    assert drawn.x.ticks is None, "round ticks of kPa are not round in psi"
    assert drawn.x.named == [(pytest.approx(psi), "design")]
    assert drawn.lines[0].points[1] == pytest.approx((psi, 0.5))
    assert (drawn.series[0].marks[0].x, drawn.series[0].marks[0].path) == (pytest.approx(psi), "rows.0")
    assert (drawn.handles[0].x, drawn.handles[0].high, drawn.handles[0].step) == pytest.approx(
        (psi, 2 * psi, 1 / FACTOR["psi"])
    )
    assert (drawn.result.x, drawn.result.y) == pytest.approx((2 * psi, 1.0))
    assert drawing_in(figure(), SI) == figure()


@pytest.mark.parametrize("code", METHODS)
def test_every_output_in_every_set_converts_back(code):
    """Every result and every mark of a virtual test, shown in each set with a comma, is the number reckoned."""
    method, rng = METHODS[code], np.random.default_rng(3)
    plain = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    own = method.reduce_raw(plain)
    for name in SETS:
        other = reduction_in(own, units_named(name, ","), method)
        for mine, theirs in zip(own.parameters, other.parameters, strict=True):
            back = BACK.get((mine.unit, theirs.unit), 1.0)
            assert mine.unit == theirs.unit or back != 1.0, f"{theirs.unit} for {mine.unit} is not in the table"
            if mine.reported is not None:
                assert theirs.value * back == pytest.approx(mine.value, rel=1e-5)
                step = 10.0 ** -len(theirs.text.partition(",")[2])
                read = float(theirs.text.replace(",", "."))
                assert read == pytest.approx(theirs.reported) == pytest.approx(mine.reported / back, abs=0.501 * step)
        for mine, theirs in zip(own.figures, other.figures, strict=True):
            if isinstance(mine, Figure):
                for along in ("x", "y"):
                    one, two = getattr(mine, along), getattr(theirs, along)
                    back = BACK.get((one.unit, two.unit), 1.0)
                    assert one.unit == two.unit or back != 1.0, f"{two.unit} for {one.unit} is not in the table"
                    assert [back * getattr(m, along) for s in theirs.series for m in s.marks] == pytest.approx(
                        [getattr(m, along) for s in mine.series for m in s.marks], rel=1e-5, abs=1e-12
                    )
                assert not any(s.unit == two.unit for s in theirs.handles if one.unit == two.unit)
        assert [f.code for f in other.findings] == [f.code for f in own.findings]


def test_a_handle_goes_back_in_the_unit_it_was_dragged_in():
    """The value a hand sets in a project of other units is read by the settings as the laboratory's."""
    method = METHODS["plate-incremental"]
    handle = Handle(setting="elastic_to_kpa", label="h", x=360.0, y=0.0, along="x", low=0.0, high=500.0, step=10.0)
    dragged = drawing_in(replace(figure(), handles=[handle]), SETS["US customary"]).handles[0]
    assert (dragged.x, dragged.unit) == (pytest.approx(7.5188, abs=1e-4), "ksf")
    kept = method.Settings.model_validate({"elastic_to_kpa": f"{dragged.x} {dragged.unit}"})
    assert kept.elastic_to_kpa == pytest.approx(360.0)
    assert figure().handles[0].unit == ""


@pytest.mark.parametrize(
    ("said", "shown"),
    [
        ("2: 100 kPa", "2: 2.09 ksf"),
        ("penetration per blow, 0.30 to 0.60 m", "penetration per blow, 0.98 to 1.97 ft"),
        ("CBR at 2.5 mm", "CBR at 0.098 in"),  # 2.5 / 25.4 = 0.0984
        ("tested by ISO 17892-1, 4.2 and 12 % water", "tested by ISO 17892-1, 4.2 and 12 % water"),
        ("at 20 °C", "at 20 °C"),  # what a standard refers to
        ("5 mm/min and 3 min", "0.20 in/min and 3 min"),
        ("12.5 % at 25 blows", "12.5 % at 25 blows"),
    ],
)
def test_numbers_in_words_are_converted_where_a_unit_of_the_set_follows(said, shown):
    assert SETS["US customary"].words(said) == shown
    assert SI.words(said) == said


def test_sizes_of_grains_stay_in_millimetres():
    method, rng = METHODS["sieve"], np.random.default_rng(3)
    own = method.reduce_raw(
        method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    )
    other = reduction_in(own, SETS["US customary"], method)
    assert other == own.model_copy(update={"figures": other.figures})
    assert [f.x.unit for f in other.figures] == ["mm"]


def test_a_finding_speaks_of_readings_in_the_unit_of_their_columns():
    """The plunger's penetration is typed in mm: a finding says mm; the column of a vane has no such unit."""
    said = Finding(severity="warn", code="far", message="", action="", says="at {at:.1f mm}", values={"at": 2.5})
    reduction = Reduction(findings=[said])
    assert "mm" in read_in(METHODS["cbr-lab"])
    assert reduction_in(reduction, SETS["US customary"], METHODS["cbr-lab"]).findings[0].message == "at 2.5 mm"
    assert finding_in(said, SETS["US customary"]).message == "at 0.098 in"


def test_an_uncertainty_is_shown_in_the_units_of_its_result():
    """± 3 kPa of 184 kPa, as hundredths of ksf: 0.0627 of 3.84 (1 ksf = 47.88 kPa)."""
    one = Combined(Result("qu", "qu", "qu", "kPa", WHOLE).of(184.0), 1.5, Hand(0.0, np.inf, "none"), (), False)
    assert one.text == "± 3"
    shown = combined_in(one, units_named("US customary", ","))
    assert (shown.parameter.text, shown.text) == ("3,84", "± 0.07")
    assert shown.expanded == pytest.approx(3.0 / 47.88026, rel=1e-4)


def test_three_figures_of_a_power_of_ten():
    assert (
        parameter_in(
            Parameter(key="k", symbol="k", name="k", unit="m", value=1e-6, reported=1e-6, text="1.0e-6"), FEET
        ).text
        == "3.3e-6"
    )
    assert Result("k", "k", "k", "m", significant(2)).of(1.04).text == "1.0"


def test_words_of_a_result_follow_and_sizes_of_grains_do_not():
    method, customary = METHODS["falling-head"], SETS["US customary"]
    band = Parameter(key="ks_site_band", symbol="Ks", name="band", unit="mm/h", text="31.3 to 32.8")
    shown = parameter_in(band, units_of(method, customary))
    assert (shown.text, shown.unit) == ("1.232 to 1.291", "in/h")  # 31.3 / 25.4 = 1.2323
    judged = Parameter(key="judged", symbol="required", name="required", text="meets 10 mm/h")
    assert parameter_in(judged, customary).text == "meets 0.39 in/h"
    stones = Parameter(key="stones", symbol="stones", name="stones above 2 mm", unit="%", text="24", reported=24.0)
    assert parameter_in(stones, units_of(METHODS["excavation-density"], customary)).name == "stones above 2 mm"
    assert parameter_in(stones, units_of(METHODS["cbr-lab"], customary)).name != stones.name, "there it is a travel"


def test_a_power_of_ten_stays_where_zeros_would_be_counted():
    """8.5e-7 m/s are 8.5e-5 cm/s; 1.2e-2 m/s are 1.2 cm/s and read without one."""
    slow = Parameter(key="k", symbol="k", name="k", unit="m/s", text="8.5e-7", reported=8.5e-7, value=8.5e-7)
    assert parameter_in(slow, SETS["US customary"]).text == "8.5e-5"
    fast = replace(slow, text="1.2e-2", reported=1.2e-2, value=1.2e-2)
    assert parameter_in(fast, SETS["US customary"]).text == "1.2"
