"""Percolation hole, soakage pit and double ring: by hand, by an integration of their own, and each slip named."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from tests import SOILS
from vadum.soil.physics.soaking import Pit, soakage_m_s, wall_and_base_mm_min
from vadum.soil.physics.water import water_viscosity
from vadum.soil.registry import METHODS

HOLE, PIT, RINGS = METHODS["percolation"], METHODS["soakage-pit"], METHODS["double-ring"]


def value(result, key):
    found = result.parameter(key)
    return None if found is None else found.value


def codes(result):
    return [f.code for f in result.findings if f.severity != "note"]


# The hole


def hole(fills, every=30.0, **more):
    """Return a hole of 150 mm with fills of (start, end) mm of water, dipped from a bar 850 mm above the base."""
    levels = []
    for k, (start, end) in enumerate(fills, 1):
        levels += [
            {"fill": k, "elapsed_min": 0, "level_mm": 850 - start},
            {"elapsed_min": every, "level_mm": 850 - end},
        ]
    return {
        "hole_diameter_mm": 150,
        "hole_depth_mm": 700,
        "base_mm": 850,
        "soaked": "overnight",
        "services_located": "yes",
        "fills": [{"temperature_c": 20}],
        "levels": levels,
    } | more


def test_a_hole_by_hand():
    """From 150 to 120 mm in 30 min, r 75: 75/60 ln(375/315) = 0.2179 mm/min = 13.08 mm/h; the fall is 60 mm/h."""
    result = HOLE.reduce_raw(hole([(150, 120)] * 3))
    assert value(result, "rate") == pytest.approx(13.08, abs=0.01)
    assert value(result, "fall_mm_h") == pytest.approx(60.0)
    assert value(result, "percolation") == pytest.approx(10.0)
    assert "no infiltration rate" in result.parameter("fall_mm_h").name
    assert result.reportable


def test_the_mean_depth_rule_agrees_for_small_falls():
    """60 r dH/(t (r + 2 Hmean)), as handbooks write it, is the same to a tenth of a percent for a small fall."""
    exact = wall_and_base_mm_min(75.0, 150.0, 145.0, 10.0)
    assert exact == pytest.approx(75.0 * 5.0 / (10.0 * (75.0 + 2 * 147.5)), rel=1e-3)


def test_a_hole_against_the_balance_of_water_integrated():
    """Another way: the water that goes through wall and base, integrated by steps."""
    rate, r = 0.4, 60.0
    fell = solve_ivp(
        lambda t, h: [-rate * (2 * np.pi * r * h[0] + np.pi * r**2) / (np.pi * r**2)], (0, 25), [180.0], rtol=1e-9
    )
    assert wall_and_base_mm_min(r, 180.0, float(fell.y[0, -1]), 25.0) == pytest.approx(rate, rel=1e-5)


def test_a_scale_from_the_base_and_a_dipper_from_above_say_one_thing():
    above = hole([(150, 118), (152, 121), (150, 120)])
    rows = [row | {"level_mm": 850 - row["level_mm"]} for row in above["levels"]]
    below = above | {"base_mm": 0, "levels": rows}
    assert value(HOLE.reduce_raw(above), "rate") == pytest.approx(value(HOLE.reduce_raw(below), "rate"))


def test_cold_water_factor_and_what_is_required():
    readings = hole([(150, 120)] * 3) | {"fills": [{"temperature_c": 8}]}
    rate = value(HOLE.reduce_raw(readings), "rate")
    result = HOLE.reduce_raw(readings, {"safety_factor": 4, "design_c": 4, "required_mm_h": 3})
    cold = float(water_viscosity(8) / water_viscosity(4))
    assert value(result, "rate_20") == pytest.approx(rate * float(water_viscosity(8) / water_viscosity(20)))
    assert value(result, "design_mm_h") == pytest.approx(rate * cold / 4)
    assert result.parameter("judged").text == "does not meet 3 mm/h"
    assert HOLE.reduce_raw(readings, {"required_mm_h": 3}).parameter("judged").text == "meets 3 mm/h"


def test_without_the_base_there_is_a_fall_and_no_rate():
    plain = {k: v for k, v in hole([(150, 120)] * 3).items() if k != "base_mm"}
    result = HOLE.reduce_raw(plain)
    assert value(result, "rate") is None
    assert value(result, "percolation") == pytest.approx(10.0)
    assert "only-fall" in result.codes()


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        (hole([(150, 120)] * 3, soaked="no"), "not-soaked"),
        (hole([(150, 120)] * 3, services_located="no"), "services"),
        (hole([(150, 120)] * 3, water_table_m=1.1), "water-table"),
        (hole([(150, 120)] * 3, base_mm=720), "below-base"),
        (hole([(150, 120)] * 3, base_mm=1800), "above-hole"),
        (hole([(150, 120), (150, 119), (150, 0)]), "run-dry"),
        (hole([(150, 148)] * 3), "fall-small"),
        (hole([(150, 120), (150, 119), (150, 60), (150, 121), (150, 120)]), "rates-jump"),
    ],
)
def test_each_slip_at_a_hole_is_named(readings, code):
    assert code in HOLE.reduce_raw(readings).codes()


def test_a_hole_that_never_is_steady_and_one_whose_float_hangs():
    many = [(150, 132 - 8 * (k % 2)) for k in range(12)]
    assert "never-steady" in HOLE.reduce_raw(hole(many)).codes()
    hangs = hole([(150, 120)] * 3)
    hangs["levels"] += [{"elapsed_min": 30 + 10 * k, "level_mm": 730} for k in (1, 2, 3)]
    finding = next(f for f in HOLE.reduce_raw(hangs).findings if f.code == "water-stands")
    assert "same for 30 min" in finding.message


def test_a_number_that_skips_and_a_level_that_goes_back():
    skips = hole([(150, 120)] * 3)
    skips["levels"][4]["fill"] = 5
    finding = next(f for f in HOLE.reduce_raw(skips).findings if f.code == "number-skips")
    assert finding.cells == ["levels.4.fill"]
    back = hole([(150, 120), (150, 165), (150, 120)])
    assert "wrong-way" in HOLE.reduce_raw(back).codes()
    late = hole([(150, 120)] * 3)
    late["levels"][3]["elapsed_min"] = 0
    assert "time-back" in HOLE.reduce_raw(late).codes()


def test_a_fill_left_out_is_no_number_that_skips():
    readings = hole([(150, 120)] * 4)
    for row in readings["levels"][2:4]:
        row["left_out"] = "knocked over"
    result = HOLE.reduce_raw(readings)
    assert codes(result) == []
    assert result.reportable


def test_the_next_thing_to_do_at_a_hole():
    begun = {"services_located": "yes", "hole_diameter_mm": 150, "hole_depth_mm": 700, "base_mm": 850}
    assert HOLE.reduce_raw({}).next_action.startswith("Locate cables and pipes")
    assert HOLE.reduce_raw({"services_located": "yes"}).next_action.startswith("Dig the hole")
    assert HOLE.reduce_raw(begun).next_action.startswith("Soak the hole")
    assert HOLE.reduce_raw(begun | {"soaked": "sandy"}).next_action.startswith("Fill to 150 mm")
    one = HOLE.reduce_raw(hole([(150, 120)]))
    assert one.next_action.startswith("Refill to the same level as fill 2: at least 2 more intervals.")
    half = hole([(150, 120)])
    half["levels"] = half["levels"][:1]
    assert "before half of the water is gone" in HOLE.reduce_raw(half).next_action


def test_holes_in_two_hundred_grounds():
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        ground = HOLE.a_soil(rng)
        result = HOLE.reduce(HOLE.virtual(ground, HOLE.Settings(), rng), HOLE.Settings(), HOLE.Context())
        assert codes(result) == [], seed
        assert value(result, "rate_20") == pytest.approx(ground.rate_mm_h, rel=0.02), seed


# The pit


def pit(times, **more):
    """Return a pit of 2 x 1 m with 1.5 m of water that falls evenly over these minutes."""
    levels = []
    for k, minutes in enumerate(times, 1):
        rows = [{"elapsed_min": minutes * share, "level_mm": 500 + 1500 * share} for share in np.linspace(0, 0.95, 11)]
        rows[0]["fill"] = k
        levels += rows
    return {
        "length_mm": 2000,
        "width_mm": 1000,
        "base_mm": 2000,
        "full_mm": 500,
        "services_located": "yes",
        "fills": [{"temperature_c": 12}],
        "levels": levels,
    } | more


def test_a_pit_by_hand():
    """1.5 m3 between the quarters over 6.5 m2 in half of 180 min: 1.5/(6.5 x 5400) = 4.27e-5 m/s; the least governs."""
    result = PIT.reduce_raw(pit([160, 180, 170]))
    assert value(result, "rate_2") == pytest.approx(4.2735e-5, rel=1e-4)
    assert value(result, "rate_m_s") == value(result, "rate_2")
    assert value(result, "rate") == pytest.approx(3.6e6 * 4.2735e-5, rel=1e-4)
    assert "least of 3 fills" in result.parameter("rate_m_s").name


def test_stone_leaves_its_voids_and_leaning_sides_hold_more():
    upright = Pit(2000, 1000, 2000, 1000, 1500)
    stone = Pit(2000, 1000, 2000, 1000, 1500, voids=0.4)
    assert soakage_m_s(stone, 90.0) == pytest.approx(0.4 * soakage_m_s(upright, 90.0))
    leaning = Pit(2000, 1000, 2600, 1600, 1500)
    heights = np.linspace(0, 1500, 20001)
    areas = np.array([np.prod(leaning.plan(h)) for h in heights]) / 1e6
    assert leaning.volume_m3(1500) == pytest.approx(np.trapezoid(areas, heights) / 1000, rel=1e-6)
    # Sides that lean by 0.3 m over 1.5 m: each is longer by sqrt(1.5^2 + 0.3^2)/1.5.
    slant = np.hypot(1.5, 0.3)
    assert leaning.wetted_m2(1500) == pytest.approx(2.0 + (2.0 + 2.6) * slant + (1.0 + 1.6) * slant)


def test_voids_are_asked_for_and_used():
    readings = pit([160, 180, 170])
    bare, filled = PIT.reduce_raw(readings), PIT.reduce_raw(readings | {"voids_percent": 38}, {"backfill": "stone"})
    assert value(filled, "rate") == pytest.approx(0.38 * value(bare, "rate"))
    assert value(PIT.reduce_raw(readings, {"backfill": "stone"}), "rate") is None


def test_a_quarter_that_is_not_reached_gives_a_bound():
    readings = pit([160, 180, 170])
    readings["levels"] = readings["levels"][:-4]
    result = PIT.reduce_raw(readings)
    assert not result.complete
    assert result.parameter("bound").text.startswith("below ")
    assert "not-a-quarter" in result.codes()
    assert result.next_action.startswith("Fill 3: read on until the water is 1625 mm down")


@pytest.mark.parametrize(
    ("readings", "code"),
    [
        (pit([160, 180, 170], full_mm=2100), "full-below-base"),
        (pit([160, 180, 170], base_mm=1900), "below-base"),
        (pit([160, 180, 170], top_length_mm=1500), "leans-in"),
        (pit([160, 180, 170], length_mm=800), "long-for-wide"),
        (pit([160, 180, 120]), "faster-again"),
        (pit([160, 180, 230]), "fills-apart"),
        (pit([160, 180, 170], filled_l=1500), "volume-differs"),
        (pit([160, 180, 170], services_located="no"), "services"),
        (pit([4000, 4100, 4200]), "not-24-h"),
    ],
)
def test_each_slip_at_a_pit_is_named(readings, code):
    assert code in PIT.reduce_raw(readings).codes()


def test_water_that_stands_and_a_level_that_jumps():
    stands = pit([160, 180, 170])
    stands["levels"] += [{"elapsed_min": 170 + 10 * k, "level_mm": 1925} for k in (1, 2, 3)]
    assert "water-stands" in PIT.reduce_raw(stands).codes()
    jumps = pit([160, 180, 170])
    jumps["levels"][15]["level_mm"] += 110
    assert "rate-jumps" in PIT.reduce_raw(jumps).codes()
    low = pit([160, 180, 170])
    low["levels"] = low["levels"][4:]
    assert "start-low" in PIT.reduce_raw(low).codes()
    few = pit([160, 180, 170])
    few["levels"] = [row for k, row in enumerate(few["levels"]) if k not in (3, 4, 5, 6, 7)]
    assert "sparse" in PIT.reduce_raw(few).codes()


def test_the_next_thing_to_do_at_a_pit():
    assert PIT.reduce_raw({}).next_action.startswith("Locate cables and pipes")
    assert PIT.reduce_raw({"services_located": "yes"}).next_action.startswith("Dig the pit")
    assert PIT.reduce_raw(pit([])).next_action.startswith("Fill 1 of 3: fill it fast")
    assert PIT.reduce_raw(pit([160])).next_action.startswith("Fill 2 of 3")
    done = PIT.reduce_raw(pit([160, 180, 170]))
    assert done.reportable
    assert done.next_action.startswith("Fill the pit with its soil again")


def test_the_rule_of_the_halves_is_a_little_low_and_never_high():
    """Ground that drinks alike wherever it is wet, integrated: the rule divides by a larger area than counts."""
    for length, width, full in ((1800, 600, 1100), (300, 300, 1000), (4000, 1000, 800)):
        pit = Pit(length, width, length, width, full)
        assert 0.9 < soakage_m_s(pit, _minutes_to_a_quarter(pit)) * 60_000 < 1.0, (length, width)


def _minutes_to_a_quarter(pit):
    """Return how long the water takes from three quarters to one where all that is wet drinks 1 mm/min."""
    around, plan = 2 * (pit.length_mm + pit.width_mm), pit.length_mm * pit.width_mm

    def fall(t, h):
        return [-(plan + around * h[0]) / plan]

    fell = solve_ivp(fall, (0, 5000), [0.75 * pit.full_mm], rtol=1e-9, events=[_at(0.25 * pit.full_mm)])
    return float(fell.t_events[0][0])


def _at(level):
    def reached(t, h):
        return h[0] - level

    reached.terminal = True
    return reached


# The rings


def rings(inner, outer, every=15.0, **more):
    """Return rings of 300 and 600 mm whose tubes of 120 and 360 cm2 fall by these mm each interval."""
    rows = [{"elapsed_min": 0, "inner_mm": 900, "outer_mm": 900}]
    for k, (a, b) in enumerate(zip(inner, outer, strict=True), 1):
        last = rows[-1]
        rows.append({"elapsed_min": k * every, "inner_mm": last["inner_mm"] - a, "outer_mm": last["outer_mm"] - b})
    return {
        "inner_mm": 300,
        "outer_mm": 600,
        "inner_driven_mm": 60,
        "outer_driven_mm": 150,
        "inner_head_mm": 100,
        "outer_head_mm": 100,
        "inner_tube_cm2": 120,
        "outer_tube_cm2": 360,
        "temperature_c": 20,
        "sealed": "yes",
        "services_located": "yes",
        "readings": rows,
    } | more


FALLS = [60, 44, 41, 40, 40, 40]


def test_rings_by_hand():
    """40 mm of 120 cm2 in 15 min is 480 cm3 on 706.9 cm2: 6.79 mm, 27.16 mm/h; between them 1440 on 2120.6 the same."""
    result = RINGS.reduce_raw(rings(FALLS, FALLS))
    by_hand = 4 * 480 / (np.pi / 4 * 30**2) * 10
    window = (41 + 3 * 40) / 4 / 40
    assert value(result, "rate") == pytest.approx(by_hand * window, rel=1e-6)
    assert value(result, "annular") == pytest.approx(by_hand * window, rel=1e-6)
    assert value(result, "rings_ratio") == pytest.approx(1.0)
    assert value(result, "design_mm_h") == pytest.approx(by_hand * window / 2)
    assert result.reportable


def test_volumes_poured_say_what_levels_say():
    plain = rings(FALLS, FALLS)
    tubes = ("inner_tube_cm2", "outer_tube_cm2")
    poured = {k: v for k, v in plain.items() if k not in (*tubes, "readings")}
    rows = [{"elapsed_min": 15.0 * k, "inner_cm3": 12.0 * a, "outer_cm3": 36.0 * a} for k, a in enumerate(FALLS, 1)]
    poured["readings"] = [{"elapsed_min": 0}, *rows]
    by_volume = RINGS.reduce_raw(poured, {"kept": "volumes"})
    assert value(by_volume, "rate") == pytest.approx(value(RINGS.reduce_raw(plain), "rate"))
    assert by_volume.reportable


def test_a_scale_that_counts_what_went_out_and_tubes_filled_up():
    plain = rings(FALLS, FALLS)
    turned = [r | {"inner_mm": 1000 - r["inner_mm"], "outer_mm": 1000 - r["outer_mm"]} for r in plain["readings"]]
    assert value(RINGS.reduce_raw(plain | {"readings": turned}), "rate") == pytest.approx(
        value(RINGS.reduce_raw(plain), "rate")
    )
    filled = [dict(r) for r in rings([*FALLS, 40], [*FALLS, 40])["readings"]]
    again = {"elapsed_min": filled[4]["elapsed_min"], "inner_mm": 900.0, "outer_mm": 900.0, "refilled": "yes"}
    for r in filled[5:]:
        r["inner_mm"] += 900 - filled[4]["inner_mm"]
        r["outer_mm"] += 900 - filled[4]["outer_mm"]
    result = RINGS.reduce_raw(plain | {"readings": [*filled[:5], again, *filled[5:]]})
    assert codes(result) == []
    assert value(result, "rate") == pytest.approx(4 * 480 / (np.pi / 4 * 900) * 10)


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"outer_head_mm": 70}, "heads-apart"),
        ({"outer_mm": 400}, "ring-ratio"),
        ({"inner_driven_mm": 30}, "shallow"),
        ({"outer_driven_mm": 40}, "shallow"),
        ({"sealed": "no"}, "not-sealed"),
        ({"services_located": "no"}, "services"),
        ({"water_table_m": 0.7}, "water-table"),
        ({"ring_cm2": 400}, "sizes-differ"),
        ({"inner_tube_cm2": 240}, "inner-faster"),
        ({"outer_tube_cm2": 720}, "outer-faster"),
        ({"inner_mm": None}, "no-ring"),
    ],
)
def test_each_slip_at_the_rings_is_named(more, code):
    readings = {k: v for k, v in (rings(FALLS, FALLS) | more).items() if v is not None}
    assert code in RINGS.reduce_raw(readings).codes()


def test_the_columns_of_two_rings_exchanged_are_noticed():
    # Water spreads sideways below the outer rim: between the rings it goes faster, never more slowly.
    faster = [1.15 * fall for fall in FALLS]
    plain, turned = (RINGS.reduce_raw(rings(*both)).codes() for both in ((FALLS, faster), (faster, FALLS)))
    assert "inner-faster" not in plain
    assert "inner-faster" in turned


def test_tubes_that_stand_go_back_or_never_are_steady():
    assert "stuck" in RINGS.reduce_raw(rings([40, 40, 0, 0, 0], [40] * 5)).codes()
    assert "wrong-way" in RINGS.reduce_raw(rings([60, 44, -41, 40, 40, 40], FALLS)).codes()
    assert "rate-jumps" in RINGS.reduce_raw(rings([60, 44, 41, 90, 40, 40], FALLS)).codes()
    trembles = [20 + 12 * (k % 2) for k in range(22)]
    assert "never-steady" in RINGS.reduce_raw(rings(trembles, trembles)).codes()
    assert "stopped" in RINGS.reduce_raw(rings([60, 44, 30], [60, 44, 30])).codes()
    back = rings(FALLS, FALLS)
    back["readings"][3]["elapsed_min"] = 20
    assert "time-back" in RINGS.reduce_raw(back).codes()


def test_a_short_reading_is_said_and_the_next_thing_to_do():
    assert "short" in RINGS.reduce_raw(rings(FALLS, FALLS)).codes()
    assert RINGS.reduce_raw({}).next_action.startswith("Locate cables and pipes")
    assert RINGS.reduce_raw({"services_located": "yes"}).next_action.startswith("Measure both rings inside")
    begun = rings([], [])
    assert "at least 4 more" in RINGS.reduce_raw(begun).next_action
    assert RINGS.reduce_raw(begun | {"readings": []}).next_action.startswith("Read both at 0 min")
    no_tube = {k: v for k, v in begun.items() if k != "inner_tube_cm2"}
    assert RINGS.reduce_raw(no_tube).next_action.startswith("Type the section of the inner supply tube")
    no_head = {k: v for k, v in begun.items() if k != "inner_head_mm"}
    assert "fill both rings to one level" in RINGS.reduce_raw(no_head).next_action


@pytest.mark.parametrize("kept", ["levels", "volumes"])
def test_rings_on_two_hundred_grounds(kept):
    settings = RINGS.Settings.model_validate({"kept": kept})
    for seed in range(SOILS):
        rng = np.random.default_rng(seed)
        ground = RINGS.a_soil(rng)
        result = RINGS.reduce(RINGS.virtual(ground, settings, rng), settings, RINGS.Context())
        assert codes(result) == [], seed
        # Volumes are poured to 5 cm3; the tightest ground takes little more over an interval.
        assert value(result, "rate_20") == pytest.approx(ground.rate_mm_h, rel=0.05), seed
