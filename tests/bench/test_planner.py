"""Plans: no two hands at once, no resource overbooked, prerequisites kept, readings on time or said not to be."""

from datetime import UTC, date, datetime
from datetime import time as time_of_day
from itertools import pairwise
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from vadum.bench.calendar import LATER_HANDS, Calendar
from vadum.bench.limits import Limits, clock_at, minutes_after
from vadum.bench.planner import Task, plan
from vadum.records.hours import WORKING_WEEK
from vadum.records.resources import OutOfUse, out_of_use

MONDAY = datetime(2026, 5, 4, 7, 0, tzinfo=UTC)
LIMITS = Limits()
WINDOWS = LIMITS.windows(MONDAY)


def planned(tasks, limits=LIMITS, windows=WINDOWS, **more):
    return plan(tasks, limits, windows, **more)


def counted(thing, name):
    """Return a list that grows with every call of a method of a thing."""
    calls, method = [], getattr(thing, name)
    setattr(thing, name, lambda *given: calls.append(given) or method(*given))
    return calls


def starts(made):
    return {placed.task.id: placed.start for placed in made.placed}


def kept(made, tasks, limits, windows, reserved=()):
    """Assert everything a plan promises."""
    hands = sorted((p.start, p.end) for p in made.placed if p.task.hands > 0)
    assert all(after[0] >= before[1] - 1e-6 for before, after in pairwise(hands))
    for begin, end in hands:
        assert any(a - 1e-6 <= begin and end <= b + 1e-6 for a, b in windows)
    for resource in {t.resource for t in tasks if t.resource}:
        spans = [(p.start, p.released) for p in made.placed if p.task.resource == resource]
        for moment, _ in spans:
            assert sum(a <= moment + 1e-6 < b - 1e-6 for a, b in spans) <= limits.place(resource)
    at = starts(made)
    for p in made.placed:
        for before, lag in p.task.after:
            if before in at:
                assert p.start >= at[before] + lag - (p.task.tolerance if p.task.rigid else 0) - 1e-6
                if p.task.rigid:
                    inside = p.start <= at[before] + lag + p.task.tolerance + 1e-6
                    assert inside or p.late_by > 0
    assert len(made.placed) + len(made.unplaced) == len(tasks)
    assert made.length >= made.bound - 1e-6 or made.unplaced


def test_hours_are_the_laboratorys_own():
    assert WINDOWS[0] == (60, 600)
    # Monday to Friday over three weeks.
    assert len(WINDOWS) == 15
    assert WINDOWS[5][0] == 7 * 1440 + 60


def test_a_calendar_finds_the_first_gap():
    calendar = Calendar([(0, 100), (200, 300)], {"oven": 2})
    calendar.take(0, 30, "oven", 50)
    assert calendar.earliest(0, 20, "oven", 10) == 30
    calendar.take(30, 10, "oven", 100)
    # Both places are held until 80, the hands are free from 40.
    assert calendar.earliest(0, 10, "oven", 5) == 80
    assert calendar.earliest(95, 10, "", 0) == 200
    assert calendar.earliest(0, 150, "", 0) is None
    assert calendar.clashes(35, 10, "oven", 5) == ["hands are busy", "no place: oven"]
    assert calendar.clashes(120, 10, "", 0) == ["outside the hours"]


def chain(job, *steps, **first):
    """Return a chain of (hands, holds, resource); each step waits for the one before and its hold."""
    tasks, before = [], ()
    for i, (hands, holds, resource) in enumerate(steps):
        tasks.append(Task(f"{job}.{i}", job, f"step {i}", hands, holds, resource, before, **(first if i == 0 else {})))
        before = ((f"{job}.{i}", hands + holds),)
    return tasks


def test_long_soaks_begin_first():
    tasks = chain("short", (60, 0, "")) + chain("long", (30, 400, ""), (20, 0, ""))
    at = starts(planned(tasks))
    assert at["long.0"] == 60
    assert at["short.0"] == 90
    assert at["long.1"] == 490


def test_a_full_oven_waits():
    small = Limits(places={"oven": 1})
    tasks = chain("a", (5, 120, "oven"), (5, 0, "")) + chain("b", (5, 120, "oven"), (5, 0, ""))
    made = planned(tasks, small)
    kept(made, tasks, small, WINDOWS)
    assert sorted(p.start for p in made.placed if p.task.resource) == [60, 185]


def cylinder(job, dues=(1, 2, 4, 8, 15, 30, 60, 120, 240, 1440)):
    start = Task(f"{job}.start", job, "set down", 0.5, 1440, "cylinder")
    reads = [
        Task(f"{job}.{d}", job, f"read at {d}", 1, 0, "hydrometer", ((f"{job}.start", d),), 0.1 * d, rigid=True)
        for d in dues
    ]
    return [start, *reads]


def test_two_cylinders_four_tins_and_a_soak_on_one_plan():
    tasks = cylinder("c1") + cylinder("c2")
    for tin in range(4):
        tasks += chain(f"tin{tin}", (3, 960, "oven"), (5, 0, ""))
    tasks += chain("soak", (10, 960, "jar"), (20, 0, ""))
    made = planned(tasks)
    kept(made, tasks, LIMITS, WINDOWS)
    assert not made.unplaced
    assert all(p.late_by == 0 for p in made.placed)


def test_six_cylinders_keep_every_reading_inside_its_tolerance():
    tasks = [task for i in range(6) for task in cylinder(f"c{i}")]
    made = planned(tasks)
    kept(made, tasks, LIMITS, WINDOWS)
    assert max(p.late_by for p in made.placed) == 0


def test_a_reading_at_night_is_said_not_to_be_possible():
    # Ten hours and a third after any start of a nine-hour day lies in the night, and its tolerance does not reach out.
    tasks = cylinder("c", dues=(620,))
    made = planned(tasks, windows=LIMITS.windows(MONDAY)[:2])
    kept(made, tasks, LIMITS, LIMITS.windows(MONDAY)[:2])
    assert [p.task.id for p in made.placed if p.late_by > 0] == ["c.620"]


def test_a_pinned_task_stays_and_its_conflicts_are_said():
    tasks = chain("a", (30, 60, ""), (10, 0, "")) + chain("b", (30, 0, ""))
    made = planned(tasks, pinned={"a.1": 70.0, "b.0": 75.0})
    by_id = {p.task.id: p for p in made.placed}
    assert by_id["a.1"].start == 70
    assert by_id["b.0"].conflicts == ["hands are busy"]
    assert by_id["a.1"].conflicts == ["too early after “step 0”"]
    night = planned(chain("a", (30, 0, "")), pinned={"a.0": 700.0})
    assert night.placed[0].conflicts == ["outside the hours"]


def test_the_bound_is_the_longest_chain_or_the_hands():
    alone = planned(chain("a", (30, 300, ""), (10, 0, "")))
    assert (alone.bound, alone.bound_by) == (60 + 340, "the longest chain")
    assert alone.length == alone.bound
    crowd = planned([task for i in range(10) for task in chain(str(i), (50, 0, ""))])
    assert (crowd.bound, crowd.bound_by) == (60 + 500, "one pair of hands")
    assert crowd.length == crowd.bound


def test_the_bound_knows_the_night():
    tasks = chain("a", (30, 600, ""), (10, 0, ""))
    made = planned(tasks)
    # Ten hours after half past eight lie in the night: the next morning at eight is the least possible.
    assert made.bound == made.length == 1440 + 60 + 10


def random_tasks(rng):
    tasks = []
    for job in range(int(rng.integers(1, 9))):
        if rng.random() < 0.25:
            tasks += cylinder(
                f"c{job}",
                tuple(sorted(rng.choice([1, 2, 4, 8, 15, 30, 60, 120, 240, 1440], 5, replace=False).tolist())),
            )
            continue
        steps = []
        for _ in range(int(rng.integers(1, 5))):
            resource = str(rng.choice(["", "oven", "cup", "mould", "jar"]))
            steps.append(
                (float(rng.integers(1, 60)), float(rng.choice([0, 0, 60, 960])) if resource != "cup" else 0.0, resource)
            )
        tasks += chain(f"j{job}", *steps)
    return tasks


@pytest.mark.parametrize("seed", range(3))
def test_a_hundred_random_plans_keep_every_promise(seed):
    rng = np.random.default_rng(seed)
    for _ in range(100):
        tasks = random_tasks(rng)
        limits = Limits(places={"oven": int(rng.integers(1, 5)), "jar": 2, "cylinder": 6})
        windows = limits.windows(MONDAY)
        kept(planned(tasks, limits, windows), tasks, limits, windows)


def test_two_hundred_operations_are_planned_as_a_few_are():
    rng = np.random.default_rng(1)
    tasks = [task for i in range(6) for task in cylinder(f"c{i}")]
    while len(tasks) < 200:
        tasks += chain(f"j{len(tasks)}", (10, 960, "oven"), (5, 0, ""), (float(rng.integers(5, 30)), 0, "cup"))
    kept(planned(tasks), tasks, LIMITS, WINDOWS)


LISBON = ZoneInfo("Europe/Lisbon")


def test_a_day_on_which_the_clock_is_changed_has_an_hour_less_and_opens_by_the_clock():
    friday = datetime(2026, 3, 27, 8, 0, tzinfo=LISBON)  # summer time begins on Sunday, 29 March, at 1:00
    opens = [begins for begins, _ in LIMITS.windows(friday)]
    assert opens[:2] == [0, 3 * 1440 - 60]
    assert clock_at(friday, opens[1]) == datetime(2026, 3, 30, 8, 0, tzinfo=LISBON)
    assert minutes_after(friday, datetime(2026, 3, 30, 8, 0, tzinfo=LISBON)) == opens[1]
    # Sixteen hours in an oven are sixteen hours, over the night with 25 as well.
    autumn = datetime(2026, 10, 24, 17, 0, tzinfo=LISBON)
    assert clock_at(autumn, 16 * 60).hour == 8


def test_nobody_is_there_on_days_off_and_hours_go_by_the_day():
    week = ((time_of_day(9), time_of_day(12)), None, *WORKING_WEEK[2:])
    found = Limits(week=week, away=frozenset({date(2026, 5, 6)})).windows(MONDAY)
    assert found[0] == (120, 300)
    assert found[1][0] == 3 * 1440 + 60, "Tuesday nobody, Wednesday closed"


def out_of(text):
    return tuple(OutOfUse(**one) for one in out_of_use(text))


def test_nothing_goes_into_an_oven_that_would_stand_in_it_while_it_is_serviced():
    """Sixteen hours of drying, the oven serviced on Tuesday: put in on Monday it would be taken out in the middle."""
    limits = Limits(places={"oven": 1}, out=out_of("oven 2026-05-05"))
    drying = Task("dry", "j", "dry", 5, 16 * 60, "oven")
    made = planned([drying], limits, out=limits.out_of_use(MONDAY))
    assert clock_at(MONDAY, made.placed[0].start) == datetime(2026, 5, 6, 8, tzinfo=UTC)
    assert made.waits.why == "the oven is taken or out of use"
    by_hand = planned([drying], limits, out=limits.out_of_use(MONDAY), pinned={"dry": 120.0})
    assert by_hand.placed[0].conflicts == ["no place: oven"]


@pytest.mark.parametrize(("away", "at_once"), [(1, 2), (2, 1), (3, 0), (0, 0), (9, 0)])
def test_of_several_places_some_may_be_out_of_use(away, at_once):
    limits = Limits(places={"oven": 3}, out=out_of(f"{away or ''} oven 2026-05-04 to 2026-05-08"))
    drying = [Task(f"dry {i}", str(i), "dry", 5, 2 * 60, "oven") for i in range(12)]
    made = planned(drying, limits, out=limits.out_of_use(MONDAY))
    weekend = minutes_after(MONDAY, datetime(2026, 5, 9, tzinfo=UTC))
    spans = [(p.start, p.released) for p in made.placed if p.start < weekend]
    assert max((sum(a <= moment < b for a, b in spans) for moment, _ in spans), default=0) == at_once
    kept(made, drying, limits, WINDOWS)


def test_what_is_out_of_use_is_written_as_it_is_read():
    text = "oven 2026-12-01 to 2026-12-03; 2 cylinder 2026-12-07; soak tank 2026-12-08"
    assert "; ".join(map(str, out_of(text))) == text
    assert out_of("Oven 2026-12-01\n\n") == out_of("oven 2026-12-01 to 2026-12-01")


def test_what_is_wanted_first_is_done_first():
    tasks = [
        Task("late", "1", "weigh", hands=60, deadline=9000),
        Task("soon", "2", "weigh", hands=60, deadline=700),
        Task("whenever", "3", "weigh", hands=60),
    ]
    assert [p.task.id for p in planned(tasks).placed] == ["soon", "late", "whenever"]


def drying(count):
    return [Task(f"{i}", f"{i}", "dry", hands=5, holds=900, resource="oven") for i in range(count)]


@pytest.mark.parametrize(
    ("tasks", "ovens", "why"),
    [
        (drying(3), 1, "the oven is taken"),
        (drying(5), 2, "every oven is taken"),
        ([Task(f"{i}", f"{i}", "roll", hands=60) for i in range(3)], 1, "hands are busy"),
        ([Task("a", "1", "soak", 5), Task("b", "1", "weigh", 5, after=(("a", 700.0),))], 1, "nobody is there"),
    ],
)
def test_a_plan_says_what_it_waits_for(tasks, ovens, why):
    assert planned(tasks, Limits(places={"oven": ovens})).waits.why == why


def test_a_start_that_waits_for_its_readings_says_so_and_is_told_in_no_time():
    """The mix could begin at 110, its reading 500 minutes later would fall beyond the hours."""
    tasks = [
        Task("talk", "1", "talk", hands=110),
        Task("start", "2", "mix", hands=5),
        Task("read", "2", "read", hands=5, after=(("start", 500.0),), tolerance=0, rigid=True),
    ]
    windows = [(0.0, 600.0), (1090.0, 1700.0)]
    calendar = Calendar(windows, {})
    asked = counted(calendar, "_in_hours")
    made = planned(tasks, windows=windows, pinned={"talk": 0.0})
    assert starts(made) == {"talk": 0.0, "start": 590.0, "read": 1090.0}
    assert made.waits.why == LATER_HANDS
    calendar.take(0, 110, "", 0)
    assert calendar.held_up(0, 5, "", 0, 590) == LATER_HANDS
    assert len(asked) < 700, "one question a minute at most"


def test_a_plan_that_waits_for_nothing_says_nothing():
    assert planned([Task("a", "1", "weigh", hands=5)], windows=[(0, 600)]).waits is None
