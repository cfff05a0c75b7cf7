"""Permeability in the cell and in the borehole: by hand, against tabled factors, by an integration, each slip named."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from tests import SOILS
from vadum.soil.physics.borehole import Intake, intake_factor_m
from vadum.soil.physics.water import water_viscosity
from vadum.soil.registry import METHODS

CELL, BORE = METHODS["permeability-laboratory"], METHODS["borehole-permeability"]


def value(result, key):
    found = result.parameter(key)
    return None if found is None else found.value


def codes(result):
    return [f.code for f in result.findings if f.severity != "note"]


# The cell

SPECIMEN = {"diameter_mm": 100, "length_mm": 180, "mass_dry_g": 2290, "saturated": "yes", "deaired": "yes"}


def flows(*rows, **more):
    """Return a cell with tubes 100 mm apart and flows of (head mm, cm3, s), in water of 20 degrees."""
    made = [{"head_mm": h, "volume_cm3": v, "seconds": s, "temperature_c": 20} for h, v, s in rows]
    return SPECIMEN | {"taps_mm": 100, "flows": made} | more


STEADY = ((20, 100, 300), (40, 200, 300), (60, 300, 300), (20, 100, 300))


def test_constant_head_by_hand():
    """100 cm3 in 300 s through 78.54 cm2 is 4.244e-3 cm/s; under 20 mm over 100 mm k is 2.12e-2 cm/s = 2.12e-4 m/s."""
    result = CELL.reduce_raw(flows(*STEADY))
    assert value(result, "k_ref") == pytest.approx(100 / 300 / 78.5398 / 0.2 / 100, rel=1e-5)
    assert value(result, "dry_density") == pytest.approx(2290 / (np.pi / 4 * 100 * 18), rel=1e-6)
    assert value(result, "linearity") == pytest.approx(1.0)
    assert result.follows == ["ASTM D2434"]
    assert result.reportable


def test_falling_head_by_hand():
    """A tube of 12 mm from 1000 to 500 mm in 600 s: k = 1.131 x 18/(78.54 x 600) ln 2 = 2.99e-4 cm/s."""
    falls = [{"from_mm": 1000, "to_mm": 500, "seconds": 600, "temperature_c": 20}] * 4
    result = CELL.reduce_raw(SPECIMEN | {"tube_mm": 12, "falls": falls}, {"head": "falling"})
    assert value(result, "k_ref") == pytest.approx(1.13097 * 18 / (78.5398 * 600) * np.log(2) / 100, rel=1e-5)
    assert result.follows == ["ISO 17892-11"]


def test_a_falling_head_is_what_small_constant_heads_add_up_to():
    """Another way: Darcy's law integrated over the fall of the tube."""
    k, a, area, length = 3e-4, 1.131, 78.54, 18.0  # cm, s
    fell = solve_ivp(lambda t, h: [-k * area * h[0] / (length * a)], (0, 900), [90.0], rtol=1e-10)
    row = {"from_mm": 900, "to_mm": round(10 * float(fell.y[0, -1]), 4), "seconds": 900, "temperature_c": 20}
    readings = SPECIMEN | {"tube_mm": (4 * a / np.pi) ** 0.5 * 10, "falls": [row] * 4}
    assert value(CELL.reduce_raw(readings, {"head": "falling"}), "k_ref") == pytest.approx(k / 100, rel=1e-4)


def test_water_is_taken_to_the_temperature_of_reference():
    cold = [(20, 100, 300), (40, 200, 300), (60, 300, 300), (20, 100, 300)]
    readings = flows(*cold)
    for row in readings["flows"]:
        row["temperature_c"] = 10
    ratio = float(water_viscosity(10) / water_viscosity(20))
    at_20, at_10 = CELL.reduce_raw(readings), CELL.reduce_raw(readings, {"reference_c": 10})
    assert value(at_20, "k_ref") == pytest.approx(value(at_10, "k_ref") * ratio)
    assert "in water of 10 °C" in at_10.parameter("k_ref").name


def test_the_state_of_the_specimen_beside_the_samples_densest():
    context = {"maximum_dry_density": {"value": 1.8, "source": "test 4"}, "particle_density": {"value": 2.65}}
    result = CELL.reduce_raw(flows(*STEADY), context=context)
    dry = value(result, "dry_density")
    assert value(result, "compaction_degree") == pytest.approx(100 * dry / 1.8)
    assert value(result, "void_ratio") == pytest.approx(2.65 * 0.99820 / dry - 1, rel=1e-4)
    loose = CELL.reduce_raw(flows(*STEADY), context=context | {"maximum_dry_density": {"value": 2.0}})
    assert "density-far" in loose.codes()


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        (flows(*STEADY, saturated="no"), "not-saturated"),
        (flows(*STEADY, deaired="no"), "not-deaired"),
        (flows(*STEADY, taps_mm=200), "taps"),
        (flows(*STEADY, largest_mm=20), "grains"),
        (flows((20, 100, 300), (40, 190, 300), (60, 270, 300), (20, 84, 300)), "falls-with-time"),
        (flows((20, 84, 300), (40, 180, 300), (60, 290, 300), (20, 100, 300)), "rises-with-time"),
        (flows((20, 100, 300), (160, 800, 300), (20, 100, 300), (20, 100, 300)), "steep"),
        (
            flows((20, 100, 300), (40, 200, 300), (140, 520, 300), (140, 520, 300), (40, 200, 300), (20, 100, 300)),
            "not-laminar",
        ),
        (flows((20, 100, 300), (40, 260, 300), (60, 300, 300), (20, 100, 300)), "odd-row"),
        (flows((20, 100, 300), (40, 200, 300)), "few"),
        (flows(*[(20, 100, 300)] * 4), "one-head"),
        (flows(*[(h, v / 100, s * 10) for h, v, s in STEADY]), "too-tight"),
    ],
)
def test_each_slip_at_the_cell_is_named(readings, code):
    assert code in CELL.reduce_raw(readings).codes()


def test_what_goes_wrong_with_a_falling_tube():
    fast = [{"from_mm": 1000, "to_mm": 300, "seconds": 6, "temperature_c": 20}] * 4
    settings = {"head": "falling"}
    assert "too-open" in CELL.reduce_raw(SPECIMEN | {"tube_mm": 20, "falls": fast}, settings).codes()
    turned = [{"from_mm": 500, "to_mm": 1000, "seconds": 600, "temperature_c": 20}]
    finding = CELL.reduce_raw(SPECIMEN | {"tube_mm": 12, "falls": turned}, settings).findings[0]
    assert finding.code == "not-fallen"
    assert finding.cells == ["falls.0.from_mm", "falls.0.to_mm"]


def test_the_next_thing_to_do_at_the_cell():
    assert CELL.reduce_raw({}).next_action.startswith("Place the soil in the cell")
    sizes = {"diameter_mm": 100, "length_mm": 180}
    assert CELL.reduce_raw(sizes).next_action.startswith("Measure how far the two tubes")
    assert CELL.reduce_raw(sizes, {"head": "falling"}).next_action.startswith("Measure the tube inside")
    assert CELL.reduce_raw(sizes | {"taps_mm": 100}).next_action.startswith("Drive the air out")
    assert CELL.reduce_raw(flows((20, 100, 300))).next_action.startswith("Measurement 2 of 4: under another head")
    no_mass = {k: v for k, v in flows(*STEADY).items() if k != "mass_dry_g"}
    assert not CELL.reduce_raw(no_mass).reportable


@pytest.mark.parametrize("head", ["constant", "falling"])
def test_cells_of_two_hundred_soils(head):
    settings = CELL.Settings.model_validate({"head": head})
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        soil = CELL.a_soil(rng)
        result = CELL.reduce(CELL.virtual(soil, settings, rng), settings, CELL.Context())
        assert codes(result) == [], seed
        truth = soil.sand_m_s if head == "constant" else soil.silt_m_s
        assert value(result, "k_ref") == pytest.approx(truth, rel=0.01), seed


# The borehole


def bore(k=1e-6, rest=3.0, first=2.0, until=1.6, runs=("falling", "rising"), **more):
    """Return runs in a casing of 50 mm above 1 m of bare hole of 100 mm, read to the millimetre."""
    factor = 2 * np.pi / np.log(10 + np.sqrt(101))
    lag = np.pi / 4 * 0.05**2 / (factor * k) / 60
    levels = []
    for number, way in enumerate(runs, 1):
        for i, t in enumerate(np.linspace(0, until * lag, 9)):
            head = first * np.exp(-t / lag)
            level = rest - head if way == "falling" else rest + head
            levels.append(({"fill": number} if i == 0 else {}) | {"elapsed_min": t, "level_m": round(level, 3)})
    return {
        "casing_mm": 50,
        "section_mm": 100,
        "top_m": 5.0,
        "base_m": 6.0,
        "rest_m": rest,
        "cleaned": "yes",
        "services_located": "yes",
        "fills": [{"temperature_c": 10}],
        "levels": levels,
    } | more


@pytest.mark.parametrize(
    ("slender", "tabled"),
    # F/D of a section in uniform ground by Hvorslev's formula, worked with a table of logarithms.
    [(4, 25.13 / 2.0947), (10, 62.83 / 2.9982), (20, 125.66 / 3.6895)],
)
def test_intake_factors_against_worked_values(slender, tabled):
    assert intake_factor_m(Intake.SECTION, 0.1, 0.1 * slender) == pytest.approx(0.1 * tabled, rel=1e-3)
    assert intake_factor_m(Intake.FLUSH, 0.1, 9.9) == pytest.approx(0.275)
    assert intake_factor_m(Intake.FLUSH_BOUNDARY, 0.1, 9.9) == pytest.approx(0.2)
    # A tight layer above is a mirror: half of a section twice as long.
    both = intake_factor_m(Intake.SECTION, 0.1, 0.2 * slender)
    assert intake_factor_m(Intake.SECTION_BOUNDARY, 0.1, 0.1 * slender) == pytest.approx(both / 2)


def test_a_borehole_by_hand():
    """Casing 50 mm, F 2.096 m, slope so that T is 15.6 min: k = 1.9635e-3/(2.0956 x 937) = 1e-6 m/s; all ways agree."""
    result = BORE.reduce_raw(bore())
    for key in ("k", "k_1", "k_2", "k_lag_1", "k_velocity_1"):
        assert value(result, key) == pytest.approx(1e-6, rel=0.01), key
    assert value(result, "intake_factor") == pytest.approx(2.0956, abs=1e-4)
    assert value(result, "lag_1") == pytest.approx(1.9635e-3 / (2.0956e-6 * 60), rel=0.005)
    assert value(result, "k_mm_h") == pytest.approx(3.6, rel=0.01)
    assert value(result, "k_20") == pytest.approx(1e-6 * float(water_viscosity(10) / water_viscosity(20)), rel=0.01)
    assert result.reportable


@pytest.mark.parametrize("by", ["slope", "lag", "velocity"])
def test_each_way_leads_where_it_is_chosen(by):
    result = BORE.reduce_raw(bore(3e-7), {"by": by})
    assert value(result, "k") == pytest.approx(3e-7, rel=0.015)
    assert len({p.key for p in result.parameters}) == len(result.parameters)


def test_a_rest_that_is_wrong_bends_the_line_and_the_velocity_finds_it():
    """Read against a rest 0.4 m too deep, ln H bends; where nothing moves is the true rest, by the velocity."""
    result = BORE.reduce_raw(bore(rest=3.0, runs=("falling",)) | {"rest_m": 3.4})
    finding = next(f for f in result.findings if f.code == "not-straight")
    assert "It would be straight for a rest of 3.0" in finding.message
    assert "rest_m" in finding.cells


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        (bore(services_located="no"), "services"),
        (bore(cleaned="no"), "not-cleaned"),
        (bore(top_m=6.5), "turned"),
        (bore(section_mm=40), "narrow-section"),
        (bore(top_m=5.8), "short-section"),
        (bore(top_m=0.4, rest=0.3, first=0.2), "long-section"),
        (bore(rest_m=5.5), "above-water"),
        (bore(rest_m=1.0), "at-rest"),
        (bore(rest_m=2.5), "past-rest"),
        (bore(until=0.3), "read-on"),
        (bore(slug_l=8.0), "slug-differs"),
        (bore(length_m=1.2), "length-differs"),
        (bore(runs=("falling",)), "falling-only"),
    ],
)
def test_each_slip_at_a_borehole_is_named(readings, code):
    assert code in BORE.reduce_raw(readings).codes()


def test_a_taped_filter_holds_the_section_against_its_depths_to_a_few_centimetres():
    assert "length-differs" not in BORE.reduce_raw(bore(length_m=1.04)).codes()
    found = next(f for f in BORE.reduce_raw(bore(length_m=1.06)).findings if f.code == "length-differs")
    assert set(found.cells) == {"top_m", "base_m", "length_m"}
    assert "1.00 m" in found.message
    assert "1.06 m" in found.message


def test_limits_of_the_section_are_dismissed_with_a_reason():
    short = bore(top_m=5.8)
    assert "short-section" not in BORE.reduce_raw(short | {"odd_because": "thin layer of sand"}).codes()


def test_runs_that_disagree_a_level_that_is_odd_and_one_that_stands():
    slow, fast = bore(1e-6, runs=("falling",)), bore(4e-6, runs=("rising",))
    second = [dict(row) for row in fast["levels"]]
    second[0]["fill"] = 2
    apart = slow | {"levels": slow["levels"] + second}
    assert "runs-apart" in BORE.reduce_raw(apart).codes()
    odd = bore()
    odd["levels"][4]["level_m"] = round(odd["levels"][4]["level_m"] - 0.2, 3)
    finding = next(f for f in BORE.reduce_raw(odd).findings if f.code == "odd-level")
    assert finding.cells[0] == "levels.4.level_m"
    stands = bore()
    last = stands["levels"][-1]
    stands["levels"] += [{"elapsed_min": last["elapsed_min"] + k, "level_m": last["level_m"]} for k in (1, 2, 3)]
    assert "water-stands" in BORE.reduce_raw(stands).codes()


def test_the_next_thing_to_do_at_a_borehole():
    begun = {k: v for k, v in bore().items() if k != "levels"}
    assert BORE.reduce_raw({}).next_action.startswith("Locate cables and pipes")
    assert BORE.reduce_raw({"services_located": "yes"}).next_action.startswith("Wait until the water stands")
    assert BORE.reduce_raw({"services_located": "yes", "rest_m": 3}).next_action.startswith("Measure the casing")
    assert BORE.reduce_raw(begun).next_action.startswith("Put water in, or bail it")
    assert BORE.reduce_raw(bore(until=0.3)).next_action.startswith("Run 2: read on, 74 % of the head is left")


def test_boreholes_in_two_hundred_grounds():
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        ground = BORE.a_soil(rng)
        result = BORE.reduce(BORE.virtual(ground, BORE.Settings(), rng), BORE.Settings(), BORE.Context())
        assert codes(result) == [], seed
        assert value(result, "k") == pytest.approx(ground.k_m_s, rel=0.01), seed
