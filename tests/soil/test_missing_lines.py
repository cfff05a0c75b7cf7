"""Records with lines missing: the beginning, the stretch around a peak, an end. What nobody read is named, not drawn
through."""

from copy import deepcopy

import numpy as np
import pytest

from vadum.soil.physics.peak import unread_at_peak
from vadum.soil.registry import METHODS


def virtual(code, seed=1, **settings):
    """Return a method, its settings, and what a technician would have read on a virtual soil."""
    method = METHODS[code]
    chosen = method.Settings.model_validate(settings)
    rng = np.random.default_rng(seed)
    read = method.virtual(method.a_soil(rng), chosen, rng)
    return method, settings, read.model_dump(mode="json", exclude_none=True)


def without(readings, table, gone):
    """Return readings without the rows of a table for which ``gone`` says so."""
    return deepcopy(readings) | {table: [row for row in readings[table] if not gone(row)]}


def said(result, code):
    """Return the finding of a code."""
    return next(f for f in result.findings if f.code == code)


# Cylinders


@pytest.mark.parametrize("table", ["loading", "remoulded"])
def test_a_cylinder_whose_peak_nobody_read(table):
    """The strength was that of the nearest reading: 61 for 71 kPa in one soil, reportable, without a word."""
    method, settings, plain = virtual("unconfined", seed=2)
    top = max(plain[table], key=lambda row: row["force_n"])["shortening_mm"]
    assert "peak-unread" not in method.reduce_raw(plain, settings).codes()
    result = method.reduce_raw(
        without(plain, table, lambda row: 0.3 * top < row["shortening_mm"] < 2.0 * top), settings
    )
    assert said(result, "peak-unread").message.startswith("Remoulded: " if table == "remoulded" else "Nothing")
    behind = int(said(result, "peak-unread").cells[0].split(".")[1])
    assert plain[table][behind]["shortening_mm"] < top  # the row that stands there now, not where it stood before


@pytest.mark.parametrize("table", ["loading", "remoulded"])
@pytest.mark.parametrize("share", [0.2, 1.0])
def test_a_cylinder_whose_record_begins_under_load(table, share):
    """From a fifth of the way to the peak on, or from the peak on: the curve has no beginning."""
    method, settings, plain = virtual("unconfined")
    top = max(plain[table], key=lambda row: row["force_n"])["shortening_mm"]
    result = method.reduce_raw(without(plain, table, lambda row: row["shortening_mm"] < share * top - 1e-9), settings)
    assert said(result, "begun-late").cells == [f"{table}.0.force_n"]


def test_a_cylinder_with_gauge_and_cell_off_their_zero():
    """3 mm and 20 N in every line: neither the gauge alone nor the load alone says so."""
    for code, table in (("unconfined", "loading"), ("unconfined", "remoulded"), ("triaxial", "shearing")):
        method, settings, plain = virtual(code)
        for row in plain[table]:
            row["shortening_mm"] = round(row["shortening_mm"] + 3.0, 3)
            row["force_n"] = round(row["force_n"] + 0.1 * max(r["force_n"] for r in plain[table]), 1)
        assert "begun-late" in method.reduce_raw(plain, settings).codes(), (code, table)


def test_a_triaxial_specimen_whose_peak_nobody_read():
    method, settings, plain = virtual("triaxial", seed=2)
    second = [row for row in plain["shearing"] if row["specimen"] == 2]
    top = max(second, key=lambda row: row["force_n"])["shortening_mm"]
    result = method.reduce_raw(
        without(plain, "shearing", lambda row: row["specimen"] == 2 and 0.4 * top < row["shortening_mm"] < 1.4 * top),
        settings,
    )
    assert said(result, "peak-unread").message.startswith("Specimen 2: ")


def test_a_consolidation_with_its_middle_missing_gives_no_time_in_silence():
    """4 to 120 min missing: t90 came out as 19 min for 87, and the rate of shearing follows from it."""
    method, settings, plain = virtual("triaxial", seed=2)
    assert "draining-unread" not in method.reduce_raw(plain, settings).codes()
    cut = without(plain, "consolidation", lambda row: row["specimen"] == 2 and 5 < row["elapsed_min"] < 100)
    result = method.reduce_raw(cut, settings)
    assert said(result, "draining-unread").message.startswith("Specimen 2: much of its water came out from 4 to 120")
    late = without(plain, "consolidation", lambda row: row["specimen"] == 1 and row["elapsed_min"] < 60)
    assert "Specimen 1" in said(method.reduce_raw(late, settings), "draining-unread").message
    typed = cut | {"times": [{}, {"t90_min": 87.0, "t50_min": 21.5, "t100_min": 88.0}, {}]}
    assert "draining-unread" not in method.reduce_raw(typed, settings).codes()


# Shear box


def test_a_box_whose_peak_nobody_read():
    method, settings, plain = virtual("direct-shear")
    third = [row for row in plain["record"] if row["specimen"] == 3]
    top = max(third, key=lambda row: row["force_n"])["horizontal_mm"]
    cut = without(plain, "record", lambda row: row["specimen"] == 3 and 0 < abs(row["horizontal_mm"] - top) < 1.0)
    cut = without(cut, "record", lambda row: row["specimen"] == 3 and row["horizontal_mm"] == top)
    assert "Specimen 3" in said(method.reduce_raw(cut, settings), "peak-unread").message


def test_a_box_that_was_stopped_early_is_not_an_end_like_the_others():
    """One of three stopped just past its peak: the line through the ends stood at 35 for 30 degrees."""
    method, settings, plain = virtual("direct-shear")
    result = method.reduce_raw(plain, settings)
    assert "ended-early" not in result.codes()
    cut = without(plain, "record", lambda row: row["specimen"] == 3 and row["horizontal_mm"] > 1.8)
    early = method.reduce_raw(cut, settings)
    assert early.parameter("friction_end").value > result.parameter("friction_end").value + 3
    assert "Specimen 3 ended at 1.8 mm" in said(early, "ended-early").message


# Plunger


@pytest.mark.parametrize(("code", "table"), [("cbr-lab", "top"), ("cbr-in-situ", "position_1")])
def test_a_plunger_that_nobody_read_for_a_while(code, table):
    method, settings, plain = virtual(code)
    assert "run-gap" not in method.reduce_raw(plain, settings).codes()
    middle = method.reduce_raw(without(plain, table, lambda row: 2 < row["penetration_mm"] < 4), settings)
    assert "from 2 to 4 mm" in said(middle, "run-gap").message
    assert middle.reportable
    # Begun at 3 mm there is no ratio at the first depth: nobody can say which is the larger.
    late = method.reduce_raw(without(plain, table, lambda row: row["penetration_mm"] < 3), settings)
    assert "from 0 to 3 mm" in said(late, "run-gap").message
    assert not late.reportable
    # One reading that was missed is bridged.
    assert (
        "run-gap"
        not in method.reduce_raw(without(plain, table, lambda row: row["penetration_mm"] == 2.0), settings).codes()
    )


# The rule


def test_a_record_read_evenly_hides_no_peak_however_coarse():
    """ASTM D2850 asks for each percent; who reads each third percent and finds the peak has read it."""
    assert unread_at_peak(np.arange(0.0, 20.0, 3.0), [0, 50, 80, 90, 85, 80, 75], 2.0) is None
    assert unread_at_peak([0.0, 0.0, 0.0], [0, 1, 2], 2.0) is None
    # Denser at first, a percent later: the standard's own series.
    series = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 7, 8]
    assert unread_at_peak(series, [10 * x if x < 6 else 120 - 10 * x for x in series], 2.0) is None


# Loads that were taken off, gauges that stopped


def from_zero_again(rows, name, first):
    """Return rows whose readings of a column count from nothing again from one row on."""
    return [row if i < first else row | {name: round(row[name] - rows[first][name], 2)} for i, row in enumerate(rows)]


@pytest.mark.parametrize(
    ("code", "table", "share"),
    [
        ("unconfined", "loading", 0.2),
        ("unconfined", "loading", 0.5),
        ("triaxial", "shearing", 0.2),
        ("direct-shear", "record", 0.2),
        ("direct-shear", "record", 0.7),
    ],
)
def test_a_load_cell_set_to_zero_on_the_way_is_named(code, table, share):
    """A strength of 121 kPa came out as 96, friction at the end of a box test as 24 for 30 degrees, in silence."""
    method, settings, plain = virtual(code)
    assert "load-taken-off" not in method.reduce_raw(plain, settings).codes()
    first = [row for row in plain[table] if row.get("specimen", 1) == 1]
    cut = from_zero_again(first, "force_n", int(share * len(first)))
    result = method.reduce_raw(plain | {table: cut + plain[table][len(first) :]}, settings)
    assert said(result, "load-taken-off").cells == [f"{table}.{int(share * len(first))}.force_n"]


def test_a_specimen_that_breaks_apart_has_no_load_taken_off():
    """Dry clay splits: its load is gone, and stays gone."""
    method, settings, plain = virtual("unconfined", seed=2)
    top = max(range(len(plain["loading"])), key=lambda i: plain["loading"][i]["force_n"])
    split = [row if i <= top else row | {"force_n": 2.0} for i, row in enumerate(plain["loading"])]
    assert "load-taken-off" not in method.reduce_raw(plain | {"loading": split}, settings).codes()


def test_a_plate_whose_rows_stand_twice_is_not_loaded_twice():
    """The second time the largest pressure counted as another increment: 473 for 452 kPa."""
    method, settings, plain = virtual("plate-incremental")
    once = method.reduce_raw(plain, settings)
    twice = method.reduce_raw(plain | {"rows": plain["rows"] * 2}, settings)
    assert "loaded-again" in twice.codes()
    for key in ("ultimate_kpa", "largest_settlement_mm", "rebound_mm"):
        assert twice.parameter(key).value == once.parameter(key).value, key


# Readings in each other's rows


def exchanged(readings, table, name, one, other):
    """Return readings in which two rows of a table have each other's value of a column."""
    rows = deepcopy(readings[table])
    rows[one][name], rows[other][name] = rows[other][name], rows[one][name]
    return readings | {table: rows}


@pytest.mark.parametrize(
    ("code", "table", "name", "rows", "finding"),
    [
        # The flow index stood at 43 for 14 with the same limit.
        ("liquid-limit", "trials", "mass_tin_dry_g", (0, 2), "slope-odd"),
        # t90 came out as 295 for 264 min.
        ("triaxial", "consolidation", "out_cm3", (4, 5), "out-of-order"),
        # The saturated ring was the lighter one: 40.0 for 42.8 %.
        ("retention", "weighings", "mass_g", (0, 1), "mass-rises"),
    ],
)
def test_two_readings_that_stand_in_each_others_rows_are_named(code, table, name, rows, finding):
    method, settings, plain = virtual(code)
    assert method.reduce_raw(plain, settings).codes() == []
    assert finding in method.reduce_raw(exchanged(plain, table, name, *rows), settings).codes()


def test_a_ring_that_is_being_saturated_takes_up_water():
    method, settings, plain = virtual("retention")
    first = plain["weighings"][0]
    soaking = [first | {"mass_g": first["mass_g"] - 9}, first | {"mass_g": first["mass_g"] - 2}]
    result = method.reduce_raw(plain | {"weighings": [*soaking, *plain["weighings"]]}, settings)
    assert "mass-rises" not in result.codes()


def test_one_reading_that_is_half_of_what_it_was_is_no_load_taken_off():
    """The reading is asked about, with the slip that would make it fit: it took the place of that."""
    method, settings, plain = virtual("unconfined")
    top = max(range(len(plain["loading"])), key=lambda i: plain["loading"][i]["force_n"])
    rows = deepcopy(plain["loading"])
    rows[top - 2]["force_n"] = round(rows[top - 2]["force_n"] / 2, 1)
    assert method.reduce_raw(plain | {"loading": rows}, settings).codes() == ["odd-reading"]


def test_one_pressure_mistyped_takes_no_reading_out_of_the_loading():
    """Halved in one row of the largest stage, it split the stage in two; the settlement is that of its last row."""
    method, settings, plain = virtual("plate-incremental")
    once = method.reduce_raw(plain, settings)
    most = max(row["pressure_kpa"] for row in plain["rows"] if row.get("pressure_kpa"))
    mine = [i for i, row in enumerate(plain["rows"]) if row.get("pressure_kpa") == most]
    rows = deepcopy(plain["rows"])
    rows[mine[len(mine) // 2]]["pressure_kpa"] = most / 2
    slipped = method.reduce_raw(plain | {"rows": rows}, settings)
    assert slipped.parameter("largest_settlement_mm").value == once.parameter("largest_settlement_mm").value


def test_a_stiffness_drawn_through_a_stretch_that_nobody_read_says_so():
    method, settings, plain = virtual("unconfined", seed=1)
    assert "half-unread" not in method.reduce_raw(plain, settings).codes()
    length = plain["calipers"][0]["length_mm"]
    cut = without(plain, "loading", lambda row: 0.8 < 100 * row["shortening_mm"] / length < 4.5)
    result = method.reduce_raw(cut, settings)
    assert "half-unread" in result.codes()
    assert result.parameter("qu").value == method.reduce_raw(plain, settings).parameter("qu").value


def test_a_head_that_nobody_looked_at_while_it_fell_is_named():
    """Most of one cylinder's fall was missing, and its rate a fifth off."""
    method, settings, plain = virtual("falling-head")
    assert "gap" not in method.reduce_raw(plain, settings).codes()
    second = [row["head_mm"] for row in plain["heads"] if row["cylinder"] == 2]
    top, low = max(second), min(second)
    cut = without(
        plain,
        "heads",
        lambda row: row["cylinder"] == 2 and 0.2 * top + 0.8 * low < row["head_mm"] < 0.9 * top + 0.1 * low,
    )
    assert said(method.reduce_raw(cut, settings), "gap").message.startswith("Cylinder 2: the record has nothing")


def test_a_load_cell_that_pulls_was_set_to_zero_at_the_peak():
    """What is left after the peak is less than it: from there on the cell says less than nothing."""
    method, settings, plain = virtual("unconfined", seed=2)
    top = max(range(len(plain["loading"])), key=lambda i: plain["loading"][i]["force_n"])
    rows = from_zero_again(plain["loading"], "force_n", top + 1)
    assert "load-taken-off" in method.reduce_raw(plain | {"loading": rows}, settings).codes()
