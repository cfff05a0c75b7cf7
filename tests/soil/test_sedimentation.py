"""Water, Stokes and the hydrometer against published tables, and the suspension judged."""

import numpy as np
import pytest

from vadum.soil.methods.hydrometer import equations as eq
from vadum.soil.methods.hydrometer.stagger import HANDS_MIN, next_starts, staggered
from vadum.soil.methods.hydrometer.virtual import a_log
from vadum.soil.physics.water import water_density, water_viscosity
from vadum.soil.registry import METHODS
from vadum.soil.virtual.grain_soil import GrainSoil

HYDROMETER = METHODS["hydrometer"]
SOIL = GrainSoil(0.02, 0.5, 1.0, 1.2, particle_density=2.70, largest_mm=2.0)


@pytest.mark.parametrize(
    ("temperature", "density"),
    # CRC Handbook of Chemistry and Physics, air-free water, g/cm3.
    [
        (0, 0.99984),
        (4, 0.99997),
        (10, 0.99970),
        (15, 0.99910),
        (20, 0.99821),
        (25, 0.99705),
        (30, 0.99565),
        (40, 0.99222),
    ],
)
def test_density_of_water(temperature, density):
    assert water_density(temperature) == pytest.approx(density, abs=1e-4)


@pytest.mark.parametrize(
    ("temperature", "viscosity"), [(10, 1.307), (20, 1.002), (25, 0.8904), (30, 0.7975), (40, 0.6529)]
)
def test_viscosity_of_water(temperature, viscosity):
    assert water_viscosity(temperature) == pytest.approx(viscosity, rel=3e-3)


# ASTM D422, table 3, Gs 2.65 from 16 to 30 degrees; and 20 degrees across Gs.
K_2_65 = [
    0.01435,
    0.01417,
    0.01399,
    0.01382,
    0.01365,
    0.01348,
    0.01332,
    0.01317,
    0.01301,
    0.01286,
    0.01272,
    0.01257,
    0.01243,
    0.01229,
    0.01216,
]
K_20 = {2.60: 0.01386, 2.65: 0.01365, 2.70: 0.01344, 2.75: 0.01325, 2.80: 0.01307}


def test_stokes_constant_is_the_published_table():
    assert eq.stokes_constant(2.65, np.arange(16, 31)) == pytest.approx(K_2_65, rel=3e-3)
    for gs, k in K_20.items():
        assert eq.stokes_constant(gs, 20.0) == pytest.approx(k, rel=3e-3)


# ASTM D422, table 2.
DEPTH_152H = {
    0: 16.3,
    5: 15.5,
    10: 14.7,
    15: 13.8,
    20: 13.0,
    25: 12.2,
    30: 11.4,
    35: 10.6,
    40: 9.7,
    45: 8.9,
    50: 8.1,
    55: 7.3,
    60: 6.5,
}
DEPTH_151H = {
    1.000: 16.3,
    1.005: 15.0,
    1.010: 13.7,
    1.015: 12.3,
    1.020: 11.0,
    1.025: 9.7,
    1.030: 8.4,
    1.035: 7.0,
    1.038: 6.2,
}


@pytest.mark.parametrize(("instrument", "table"), [("152H", DEPTH_152H), ("151H", DEPTH_151H)])
def test_effective_depth_is_the_published_table(instrument, table):
    assert eq.effective_depth_cm(list(table), instrument) == pytest.approx(list(table.values()), abs=0.1)


def test_density_factor_is_the_published_table():
    # ASTM D422, table 1.
    table = {
        2.95: 0.94,
        2.90: 0.95,
        2.85: 0.96,
        2.80: 0.97,
        2.75: 0.98,
        2.70: 0.99,
        2.65: 1.00,
        2.60: 1.01,
        2.55: 1.02,
        2.50: 1.03,
        2.45: 1.05,
    }
    for gs, a in table.items():
        assert eq.density_factor(gs) == pytest.approx(a, abs=0.01)


def test_both_instruments_agree_on_the_same_suspension():
    # 30 g/L of soil of Gs 2.65 on a 152H is 30 / 1.606 g/L of excess density on a 151H.
    in_grams = eq.percent_in_suspension(30.0, 0.0, 50.0, 2.65, "152H")
    as_gravity = eq.percent_in_suspension(1 + 30e-3 * 1.65 / 2.65, 1.0, 50.0, 2.65, "151H")
    assert in_grams == pytest.approx(60.0)
    assert as_gravity == pytest.approx(in_grams, rel=1e-3)


def test_composite_correction_is_linear_between_two_temperatures():
    assert eq.composite_correction([19, 22, 25], [25, 19], [3.8, 5.2]) == pytest.approx([5.2, 4.5, 3.8])
    assert eq.composite_correction([18, 26], [22], [4.5]) == pytest.approx([4.5, 4.5])


def cylinder(**change):
    """Return plain readings of a sound cylinder, changed by table or field."""
    rng = np.random.default_rng(8)
    plain = HYDROMETER.virtual(SOIL, HYDROMETER.Settings(), rng).model_dump(exclude_none=True)
    return plain | change


def codes(readings, **settings):
    return HYDROMETER.reduce_raw(readings, settings).codes()


def test_a_sound_cylinder_has_no_finding():
    assert codes(cylinder()) == []


def rows(**at):
    """Return sedimentation rows with one row changed: ``rows(_4={"hydrometer": 30})``."""
    changed = cylinder()["sedimentation"]
    for number, change in at.items():
        changed[int(number[1:])] |= change
    return changed


@pytest.mark.parametrize(
    ("change", "code", "cell"),
    [
        ({"sedimentation": rows(_1={"elapsed_min": 3.2})}, "off-time", "sedimentation.1.elapsed_min"),
        ({"sedimentation": rows(_5={"hydrometer": 55.0})}, "finer-rises", "sedimentation.5.hydrometer"),
        ({"sedimentation": rows(_9={"temperature_c": 27.0})}, "outside-corrections", "sedimentation.9.temperature_c"),
        ({"sedimentation": rows(_9={"hydrometer": 1.0})}, "below-correction", "sedimentation.9.hydrometer"),
        ({"sedimentation": rows(_3={"elapsed_min": 1.0})}, "time-falls", "sedimentation.3.elapsed_min"),
        ({"corrections": []}, "corrections-missing", "corrections.0.hydrometer"),
        (
            {"corrections": [{"temperature_c": 19, "hydrometer": 5.2}, {"temperature_c": 25, "hydrometer": 38}]},
            "correction-unusual",
            "corrections.1.hydrometer",
        ),
        ({"mass_dry_g": 20.0}, "finer-above-all", "sedimentation.0.hydrometer"),
        ({"mass_dry_g": 190.0}, "mass-unusual", "mass_dry_g"),
        ({"clear_layer": "yes"}, "flocculated", "clear_layer"),
        ({"soil_on_wall": "yes"}, "soil-on-wall", "soil_on_wall"),
    ],
)
def test_what_is_wrong_is_named_at_its_cell(change, code, cell):
    findings = HYDROMETER.reduce_raw(cylinder(**change)).findings
    found = next(f for f in findings if f.code == code)
    assert cell in found.cells
    assert found.action


def test_missing_particle_density_and_passing_are_said():
    plain = cylinder()
    del plain["particle_density"], plain["passing_percent"]
    result = HYDROMETER.reduce_raw(plain)
    assert sorted(result.codes()) == ["gs-assumed", "passing-assumed"]
    assert "assumed" in result.school


def test_a_missed_reading_is_missed_not_zero():
    kept = rows(_2={"hydrometer": None, "elapsed_min": None})
    result = HYDROMETER.reduce_raw(cylinder(sedimentation=kept))
    assert result.codes() == ["reading-missed"]
    assert "4 min" in result.findings[0].message
    assert "sedimentation.2.finer_percent" not in result.computed


def test_readings_outside_the_corrections_are_used_only_with_a_reason():
    cold = cylinder(sedimentation=rows(_9={"temperature_c": 27.0}))
    refused = HYDROMETER.reduce_raw(cold)
    assert "sedimentation.9.finer_percent" not in refused.computed
    assert not refused.reportable
    allowed = HYDROMETER.reduce_raw(cold | {"outside_because": "bath failed overnight"})
    assert "sedimentation.9.finer_percent" in allowed.computed
    assert "bath failed overnight" in next(f.message for f in allowed.findings if f.code == "outside-corrections")


def test_the_other_instruments_scale_is_noticed():
    (found,) = [
        f for f in HYDROMETER.reduce_raw(cylinder(), {"instrument": "151H"}).findings if f.code == "instrument-scale"
    ]
    assert "151H" in found.message
    assert found.severity == "stop"


@pytest.mark.parametrize(
    ("taken", "words"),
    [(0, "turn 60 times"), (1, "Next reading at 2 min"), (9, "Next reading at 24 h"), (10, "Wash the soil out")],
)
def test_the_next_action_follows_the_clock(taken, words):
    kept = [row if i < taken else {"due_min": row["due_min"]} for i, row in enumerate(cylinder()["sedimentation"])]
    assert words in HYDROMETER.reduce_raw(cylinder(sedimentation=kept)).next_action


def test_a_log_of_twenty_thousand_rows_recovers_the_soil():
    rng = np.random.default_rng(4)
    log = a_log(SOIL, HYDROMETER.Settings(), rng, 20_000)
    readings = {
        "mass_dry_g": 50.0,
        "particle_density": 2.70,
        "passing_percent": SOIL.finer(2.0),
        "log": log,
        "corrections": [{"temperature_c": 19, "hydrometer": 5.24}, {"temperature_c": 25, "hydrometer": 3.80}],
    }
    result = HYDROMETER.reduce_raw(readings)
    assert result.codes() == []
    for percent in (30, 50):
        assert result.parameter(f"d{percent}_mm").value == pytest.approx(SOIL.diameter(percent), rel=0.05)
    # Drawn thin, but numbers come from all rows: the figure stays small.
    assert len(result.figures[0].series[0].marks) <= 120


def test_columns_of_a_log_must_be_even():
    with pytest.raises(ValueError, match="one length"):
        HYDROMETER.reduce_raw({"log": {"elapsed_min": [1, 2], "hydrometer": [30], "temperature_c": [20, 20]}})


def test_staggered_cylinders_never_need_two_hands_at_once():
    schedule = (1, 2, 4, 8, 15, 30, 60, 120, 240, 1440)
    for cylinders in range(1, 7):
        starts = staggered(cylinders, schedule)
        times = sorted(start + due for start in starts for due in (0, *schedule))
        assert min(np.diff(times), default=9) >= HANDS_MIN
    assert starts[0] == 0


def test_a_cylinder_waits_for_those_under_way():
    (start,) = next_starts([0.2, 1.0, 3.0], [(2.0,)], now=0.0)
    assert all(abs(start + due - busy) >= HANDS_MIN for due in (0, 2) for busy in (0.2, 1.0, 3.0))
    with pytest.raises(ValueError, match="at most 6"):
        next_starts([], [(1.0,)] * 7, 0.0)


def cylinder_of(seed=3, **chosen):
    settings = HYDROMETER.Settings(**chosen)
    readings = HYDROMETER.virtual(SOIL, settings, np.random.default_rng(seed))
    return readings.model_dump(mode="json", exclude_none=True), settings.model_dump(mode="json", exclude_defaults=True)


def test_the_depth_of_an_own_hydrometer_by_hand():
    # The hydrometer and cylinder behind the table itself (D422, notes to table 2): bulb 14 cm and 67 cm3, cylinder
    # 27.8 cm2, 10.5 cm from the bulb to 0 g/L and 2.3 cm to 50 g/L.
    own = eq.own_depth_cm([0, 20, 40, 60], (0.0, 50.0), (10.5, 2.3), 14.0, 67.0, 27.8)
    assert own == pytest.approx(eq.effective_depth_cm([0, 20, 40, 60], "152H"), abs=0.02)


@pytest.mark.parametrize("instrument", ["152H", "151H"])
def test_own_geometry_recovers_the_soil_and_says_what_is_followed(instrument):
    readings, chosen = cylinder_of(instrument=instrument, depth="own")
    result = HYDROMETER.reduce_raw(readings, chosen)
    assert result.codes() == []
    assert result.follows == ["ASTM D7928"]
    assert result.parameter("d50_mm").value == pytest.approx(SOIL.diameter(50), rel=0.03)
    assert HYDROMETER.reduce_raw(*cylinder_of()).follows == ["ASTM D422"]
    del readings["bulb_volume_cm3"]
    assert not HYDROMETER.reduce_raw(readings, chosen).complete


def test_a_reading_without_its_temperature_borrows_none():
    readings, _ = cylinder_of()
    del readings["sedimentation"][4]["temperature_c"]
    result = HYDROMETER.reduce_raw(readings)
    assert "sedimentation.4.finer_percent" not in result.computed
    assert not result.reportable
    assert any(finding.cells == ["sedimentation.4.temperature_c"] for finding in result.findings)


def test_a_correction_of_the_wrong_sign_stops():
    readings, _ = cylinder_of()
    for row in readings["corrections"]:
        row["hydrometer"] = -3.5
    result = HYDROMETER.reduce_raw(readings)
    assert "correction-sign" in result.codes()
    assert not result.reportable


def test_an_air_dry_mass_is_taken_with_the_water_it_held():
    readings, _ = cylinder_of()
    plain = HYDROMETER.reduce_raw(readings)
    held = readings | {"mass_air_dry_g": readings.pop("mass_dry_g") * 1.04, "hygroscopic_percent": 4.0}
    held.pop("mass_dry_g", None)
    result = HYDROMETER.reduce_raw(held)
    assert result.codes() == []
    assert result.parameter("clay_percent").value == pytest.approx(plain.parameter("clay_percent").value)


def test_rows_left_out_are_done_and_three_readings_are_no_test():
    readings, _ = cylinder_of()
    for row in readings["sedimentation"][7:]:
        del row["hydrometer"], row["elapsed_min"], row["temperature_c"]
        row["left_out"] = "cylinder needed"
    result = HYDROMETER.reduce_raw(readings)
    assert result.complete
    for row in readings["sedimentation"][3:7]:
        row["left_out"] = "shaken"
    assert not HYDROMETER.reduce_raw(readings).complete


def test_an_own_schedule_rebuilds_what_was_not_read():
    readings, _ = cylinder_of()
    rows = readings["sedimentation"][:3] + [{"due_min": due} for due in (8, 15, 30, 60, 120, 240, 1440)]
    plain = HYDROMETER.Settings()
    own = HYDROMETER.Settings(schedule="own", own_times="2, 4 8 16;32 60 90")
    made = HYDROMETER.replanned({"sedimentation": rows}, plain, own)["sedimentation"]
    assert made[:3] == rows[:3]
    assert [row["due_min"] for row in made[3:]] == [8, 16, 32, 60, 90]
    assert HYDROMETER.begin(own, None)["sedimentation"][0] == {"due_min": 2.0}
    # Another setting leaves the plan alone, and so does a list that is not written yet.
    other = HYDROMETER.Settings(instrument="151H")
    assert HYDROMETER.replanned({"sedimentation": rows}, plain, other)["sedimentation"] == rows
    unwritten = HYDROMETER.Settings(schedule="own")
    assert HYDROMETER.replanned({"sedimentation": rows}, plain, unwritten)["sedimentation"] == rows
    with pytest.raises(ValueError, match="“soon” is no time in minutes"):
        HYDROMETER.Settings(schedule="own", own_times="2 soon")


def test_pooled_readings_are_named():
    readings, _ = cylinder_of()
    rows = readings["sedimentation"]
    rows[5]["hydrometer"] = rows[4]["hydrometer"] + 0.4
    steps = [step for step in HYDROMETER.reduce_raw(readings).derivation if "pooled" in step.formula]
    assert len(steps) == 1
    assert f"{rows[4]['due_min']:g}, {rows[5]['due_min']:g}" in steps[0].put_in
