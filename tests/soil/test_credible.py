"""What people who wanted it to fail did to it: each is said, names the reading, and nothing breaks or claims to be
done."""

import copy

import numpy as np
import pytest

from vadum.soil.contract.field import Supplied
from vadum.soil.registry import METHODS


def clean(code, seed=1):
    method = METHODS[code]
    rng = np.random.default_rng(seed)
    settings = method.Settings()
    return method.virtual(method.a_soil(rng), settings, rng).model_dump(mode="json", exclude_none=True)


def without(readings, path):
    """Return readings with one cell blank, in every row where the path has a star."""
    left = copy.deepcopy(readings)
    table, _, rest = path.partition(".")
    if not rest:
        left.pop(table)
        return left
    number, _, name = rest.partition(".")
    for i, row in enumerate(left[table]):
        if number in ("*", str(i)):
            row.pop(name, None)
    return left


BLANKS = [
    ("direct-shear", "cap_kg", "not-written"),
    ("direct-shear", "lever", "not-written"),
    ("direct-shear", "hanger_kg", "hanger-missing"),
    ("direct-shear", "rate_mm_min", "not-written"),
    ("direct-shear", "screws", "not-written"),
    ("triaxial", "shearing.*.pore_kpa", "pore-not-read"),
    ("triaxial", "specimens.1.out_cm3", "missing-reading"),
    ("excavation-density", "temperature_c", "temperature-assumed"),
    ("falling-head", "cylinders.1.temperature_c", "not-written"),
    ("well-permeameter", "temperature_c", "not-written"),
    ("well-permeameter", "head_2_mm", "head-2-missing"),
    ("well-permeameter", "utilities", "not-written"),
    ("sieve", "mass_dry_g", "total-missing"),
    ("water-content", "determinations.0.drying_h", "not-constant"),
    ("hydrometer", "sedimentation.3.temperature_c", "missing-reading"),
    ("hydrometer", "particle_density", "gs-assumed"),
    ("hydrometer", "passing_percent", "passing-assumed"),
    ("cbr-in-situ", "on_stands", "not-written"),
    ("cbr-in-situ", "services_clear", "not-written"),
    ("cbr-in-situ", "reaction_kn", "not-written"),
    ("plate-incremental", "footing_width_m", "not-written"),
    ("plate-incremental", "seating_released", "not-written"),
    ("vane", "pin_drawn", "not-written"),
    ("vane", "plasticity_index", "pi-unknown"),
    ("unconfined", "mass_g", "not-written"),
    ("lime-demand", "bottles.2.lime_percent", "lime-percent-missing"),
]


@pytest.mark.parametrize(("code", "path", "said"), BLANKS)
def test_a_blank_that_matters_is_said_and_nothing_is_called_done(code, path, said):
    result = METHODS[code].reduce_raw(without(clean(code), path))
    finding = next(f for f in result.findings if f.code == said)
    assert finding.severity != "note"
    assert "second person" not in result.next_action
    if finding.severity == "stop":
        assert not result.reportable
    if said in ("not-written", "missing-reading"):
        assert finding.cells[0].rsplit(".", 1)[-1] == path.rsplit(".", 1)[-1]


@pytest.mark.parametrize("path", ["mass_g", "calipers.*.top_mm"])
def test_a_finished_specimen_is_not_asked_to_be_trimmed_again(path):
    assert "Trim" not in METHODS["unconfined"].reduce_raw(without(clean("unconfined"), path)).next_action


def test_a_hole_that_is_filled_in_is_not_dug_again():
    result = METHODS["excavation-density"].reduce_raw(without(clean("excavation-density"), "mass_moist_g"))
    assert "Dig" not in result.next_action
    assert "not written" in result.next_action


def flat_heads(readings):
    for row in readings["heads"]:
        row["head_mm"] = 400.0 - (row["elapsed_min"] > 0) * min(3, round(row["elapsed_min"] / 5))


def hundredfold_water(readings):
    for row in readings["specimens"]:
        row["out_cm3"] *= 100


def wild_number(readings, table="heads", column="cylinder", name="falling-head"):
    rows = readings.pop(table)
    log = {key: [row.get(key, 0.0) for row in rows] for key in rows[0] if key != "left_out"}
    log[column][-1] = 3_000_000
    readings["log"] = log


BROKEN = {
    "the head falls by three millimetres": ("falling-head", flat_heads),
    "a ring ten times too small": ("retention", lambda r: r.update(volume_cm3=r["volume_cm3"] / 10)),
    "water in mm3": ("triaxial", hundredfold_water),
    "as short as it was long": ("triaxial", lambda r: r["specimens"][0].update(shortened_mm=100.0)),
    "shortening of the whole length": ("triaxial", lambda r: r["shearing"][-1].update(shortening_mm=100.0)),
    "no mass": ("unconfined", lambda r: r.update(mass_g=0)),
    "pressed to nothing": ("unconfined", lambda r: r["loading"][-1].update(shortening_mm=108.0)),
    "cylinder three million": ("falling-head", wild_number),
    "specimen three million": ("direct-shear", lambda r: wild_number(r, "record", "specimen")),
}


@pytest.mark.parametrize("what", BROKEN)
def test_readings_that_cannot_be_are_a_finding_and_not_an_exception(what):
    code, spoil = BROKEN[what]
    readings = clean(code)
    spoil(readings)
    result = METHODS[code].reduce_raw(readings)
    assert "not-reduced" not in result.codes()
    assert [f for f in result.findings if f.severity != "note"] or not result.complete


def test_a_reduction_that_breaks_still_says_which_reading_is_odd(monkeypatch):
    def broken(self, readings, settings, context):
        raise ZeroDivisionError

    vane = METHODS["vane"]
    monkeypatch.setattr(type(vane), "work_out", broken)
    readings = clean("vane")
    readings["profile"][4]["peak"] *= 10
    result = vane.reduce_raw(readings)
    assert result.codes()[0] == "not-reduced"
    assert result.findings[0].message.startswith(f"{vane.title}: these readings could not be reduced")
    assert any(f.code == "odd-reading" and f.cells == ["profile.4.peak"] for f in result.findings)
    assert not result.reportable


@pytest.mark.parametrize(
    ("code", "piece", "own"),
    [
        ("vane", "constant", 0.9),
        ("direct-shear", "lever", 11.0),
        ("direct-shear", "cap_kg", 1.02),
        ("well-permeameter", "inner_cm2", 3.1),
        ("plate-static", "piston_cm2", 44.0),
    ],
)
def test_a_typed_constant_that_is_not_the_pieces_is_said_everywhere(code, piece, own):
    known = {"supplied": Supplied(by="Piece 3", values={piece: own}).model_dump()}
    (said,) = [f for f in METHODS[code].reduce_raw(clean(code), None, known).findings if f.code == "other-piece"]
    assert (said.cells, said.severity) == ([piece], "warn")
    assert "Piece 3 has" in said.message


def test_a_typed_ring_factor_is_held_against_the_ring_in_use():
    ring = {"ring": {"name": "Ring 4", "table": [[0, 0], [800, 10.0]]}}
    for code in ("cbr-lab", "cbr-in-situ"):
        readings = clean(code) | {"ring_factor_n_div": 20.0}
        said = next(f for f in METHODS[code].reduce_raw(readings, None, ring).findings if f.code == "other-piece")
        assert said.message == "Ring factor: typed 20 N/div, Ring 4 has 12.5 N/div in the register."


def test_a_typed_value_that_the_samples_own_test_contradicts_is_said():
    vane, readings = METHODS["vane"], clean("vane")
    own = readings["plasticity_index"] / 2
    context = {"plasticity_index": {"value": own, "source": "test 5"}}
    (said,) = [f for f in vane.reduce_raw(readings, None, context).findings if f.code == "other-test"]
    assert said.message == f"PI: typed {readings['plasticity_index']:g}, test 5 gives {own:g}."
    alike = {"plasticity_index": {"value": readings["plasticity_index"] * 1.01, "source": "test 5"}}
    assert "other-test" not in vane.reduce_raw(readings, None, alike).codes()


def spoilt(code, path, change):
    readings = clean(code)
    *way, name = path.split(".")
    holder = readings
    for step in way:
        holder = holder[int(step)] if step.isdigit() else holder[step]
    holder[name] = change(holder[name])
    return METHODS[code].reduce_raw(readings)


@pytest.mark.parametrize(
    ("path", "change", "said"),
    [
        ("specimens.1.out_cm3", lambda v: 1.5 * v, "out-differs"),
        ("specimens.1.shortened_mm", lambda v: 3 * v, "shortening-odd"),
        ("specimens.1.back_kpa", lambda v: v - 30, "back-differs"),
        ("specimens.1.out_cm3", lambda v: 500.0, "size-impossible"),
        ("shearing.40.shortening_mm", lambda v: 60.0, "too-short"),
    ],
)
def test_what_is_read_twice_in_the_cell_agrees(path, change, said):
    assert said in spoilt("triaxial", path, change).codes()


@pytest.mark.parametrize("code", ["ring-density", "excavation-density", "triaxial", "cbr-lab", "unconfined"])
def test_tins_of_one_soil_with_other_water_contents_are_said_with_the_slip(code):
    readings = clean(code)
    first = dict(readings["tins"][0])
    other = first | {"tin": "Z-9", "mass_tin_g": first["mass_tin_g"] / 10}
    readings["tins"] = [first, dict(first) | {"tin": "Z-8"}, other]
    (said,) = [f for f in METHODS[code].reduce_raw(readings).findings if f.code == "water-contents-apart"]
    assert said.cells[0] == "tins.2.mass_tin_g"
    assert "the point is one place off?" in said.message


def test_one_lower_last_digit_does_not_finish_a_test():
    for code, table in (("unconfined", "loading"), ("direct-shear", "record")):
        readings = clean(code)
        rows = readings[table]
        if code == "direct-shear":
            rows = [row for row in rows if row["specimen"] == 3]
        top = max(range(len(rows)), key=lambda i: rows[i]["force_n"])
        cut = [*rows[: top + 1], rows[top + 1] | {"force_n": rows[top]["force_n"] - 0.1}]
        readings[table] = cut if code == "unconfined" else [r for r in readings[table] if r["specimen"] < 3] + cut
        result = METHODS[code].reduce_raw(readings)
        assert {"peak-not-passed", "still-rising"} & set(result.codes()), code
        assert "second person" not in result.next_action


def test_a_count_without_a_tin_is_an_attempt():
    readings = clean("liquid-limit")
    whole = METHODS["liquid-limit"].reduce_raw(readings)
    readings["trials"].insert(0, {"blows": 61})
    tried = METHODS["liquid-limit"].reduce_raw(readings)
    assert (tried.codes(), tried.reportable) == (whole.codes(), True)
    assert tried.parameter("liquid_limit").value == whole.parameter("liquid_limit").value
    # While it is being made the count is still advice.
    assert "count-outside" in METHODS["liquid-limit"].reduce_raw({"trials": [{"blows": 61}]}).codes()
