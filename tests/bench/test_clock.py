"""Clocks and the board: what is due, what moves when something was early or late, what is missed."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.bench.board import Running, board
from vadum.bench.clock import due_operations
from vadum.soil.contract.method import Operation
from vadum.soil.registry import METHODS

NOON = datetime(2026, 5, 4, 12, 0, tzinfo=UTC)
CHAIN = [
    Operation(
        key="in", what="Tins into the oven", due_min=0, tolerance_min=30, hands_on_min=5, resource="oven", holds_min=960
    ),
    Operation(key="out", what="Tins out", due_min=960, tolerance_min=60, hands_on_min=5),
    Operation(key="weigh", what="Weigh", due_min=970, tolerance_min=30, hands_on_min=5),
]
READS = [
    Operation(key="start", what="Set down", due_min=0, tolerance_min=60),
    *(
        Operation(key=f"read-{m}", what=f"Read at {m} min", due_min=m, tolerance_min=m / 10, after="start")
        for m in (1, 2, 4, 8)
    ),
]


def minutes(count):
    return timedelta(minutes=count)


def standings(operations, times, at, begun=NOON):
    return {due.operation.key: due.standing for due in due_operations(operations, times, begun, NOON + minutes(at))}


def dues(operations, times, at, begun=NOON):
    return {
        d.operation.key: d.due and (d.due - NOON) / minutes(1)
        for d in due_operations(operations, times, begun, NOON + minutes(at))
    }


def test_a_chain_moves_with_what_was_done_late():
    assert dues(CHAIN, {}, 0) == {"in": 0, "out": 960, "weigh": 970}
    assert dues(CHAIN, {"in": NOON + minutes(45)}, 60) == {"in": 0, "out": 1005, "weigh": 1015}
    assert dues(CHAIN, {"in": NOON, "out": NOON + minutes(900)}, 910)["weigh"] == 910


def test_what_is_not_done_carries_the_rest_along():
    # Two hours late: the oven cannot have been left sixteen hours at the time first planned.
    assert dues(CHAIN, {}, 120)["out"] == 120 + 960


@pytest.mark.parametrize(
    ("at", "standing"), [(-180, "later"), (-90, "next"), (-4, "now"), (0, "now"), (30, "now"), (31, "late")]
)
def test_standings_by_the_clock(at, standing):
    assert standings(CHAIN, {}, at)["in"] == standing
    assert standings(CHAIN, {}, at)["out"] == "waiting"


def test_a_planned_test_has_no_clock_yet():
    assert standings(CHAIN, {}, 0, begun=None) == {"in": "waiting", "out": "waiting", "weigh": "waiting"}


def test_readings_count_from_one_start_and_not_from_one_another():
    times = {"start": NOON, "read-1": NOON + minutes(1.4)}
    assert dues(READS, times, 2)["read-4"] == 4


def test_a_reading_passed_over_is_missed():
    times = {"start": NOON, "read-1": NOON + minutes(1), "read-4": NOON + minutes(4)}
    assert standings(READS, times, 5) == {
        "start": "done",
        "read-1": "done",
        "read-2": "missed",
        "read-4": "done",
        "read-8": "now",
    }


def test_done_by_the_readings_without_a_time_counts_from_the_beginning():
    done = [CHAIN[0].model_copy(update={"done": True}), *CHAIN[1:]]
    assert dues(done, {}, 5)["out"] == 960


@given(st.lists(st.floats(0, 500), min_size=1, max_size=8), st.data())
def test_dues_never_run_backwards_in_a_chain(gaps, data):
    starts = [sum(gaps[:i]) for i in range(len(gaps))]
    chain = [Operation(key=str(i), what="", due_min=start, tolerance_min=5) for i, start in enumerate(starts)]
    done = data.draw(st.integers(0, len(chain)))
    times = {str(i): NOON + minutes(starts[i] + data.draw(st.floats(-5, 60))) for i in range(done)}
    found = due_operations(chain, times, NOON, NOON + minutes(data.draw(st.floats(0, 3000))))
    open_dues = [due.due for due in found if due.standing not in ("done", "missed")]
    assert open_dues == sorted(open_dues)
    assert sum(due.standing not in ("done", "missed", "waiting") for due in found) <= 1


def running(test_id, operations, times, begun=NOON, tins=()):
    return Running(test_id, "Water content", f"TP{test_id}", operations, times, begun, tins)


def test_the_board_puts_late_ones_first_and_knows_the_ovens():
    tests = [
        running(1, CHAIN, {"in": NOON - minutes(970)}, NOON - minutes(970), ("T-1", "T-2")),
        running(2, CHAIN, {}, NOON - minutes(60)),
        running(3, READS, {"start": NOON - minutes(0.5)}),
    ]
    made = board(tests, NOON)
    assert [line.test.test_id for line in made.late] == [2]
    assert [(line.test.test_id, line.due.operation.key) for line in made.now][:2] == [(1, "out"), (3, "read-1")]
    (held,) = made.oven
    assert held.test.tins == ("T-1", "T-2")
    assert held.out_at == NOON - minutes(10)
    assert made.urgent[0].test.test_id == 2


@pytest.mark.parametrize(
    "code", [code for code, m in METHODS.items() if m.applies_to == "sample" and code != "classification"]
)
def test_a_finished_test_has_nothing_due(code):
    """Every operation of every method is closed by the readings themselves."""
    import numpy as np

    method, rng = METHODS[code], np.random.default_rng(4)
    readings = method.virtual(method.a_soil(rng), method.Settings(), rng)
    operations = method.timetable(readings, method.Settings())
    left = [
        due for due in due_operations(operations, {}, NOON, NOON + minutes(5)) if due.standing not in ("done", "missed")
    ]
    assert left == []


@pytest.mark.parametrize("code", METHODS)
def test_every_operation_has_an_anchor_and_its_own_key(code):
    operations = METHODS[code].timetable(METHODS[code].Readings(), METHODS[code].Settings())
    keys = [operation.key for operation in operations]
    assert len(set(keys)) == len(keys)
    assert all(operation.after is None or operation.after in keys for operation in operations)
