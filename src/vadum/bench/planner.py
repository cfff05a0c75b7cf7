"""A plan for the bench: which operation when, by a greedy list scheduler, with the bound it is measured against."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from vadum.bench.calendar import Calendar, Taken
from vadum.bench.limits import Limits

_SEARCH_STEP_MIN = 1.0
# Beyond the first day a start need not be found to the minute.
_LATER_STEP_MIN = 10.0
# A soak of four days whose readings fall on working days may have to wait for Monday.
_SEARCH_MIN = 7 * 1440


@dataclass(frozen=True)
class Task:
    """One operation to be planned, in minutes.

    ``after`` are the tasks it waits for and how long after their start at least. A ``rigid`` task has one such task and
    must start within ``tolerance`` of that lag: a reading of a clock that runs.
    """

    id: str
    job: str
    what: str
    hands: float
    holds: float = 0.0
    resource: str = ""
    after: tuple[tuple[str, float], ...] = ()
    tolerance: float = 0.0
    rigid: bool = False
    deadline: float | None = None
    """When its job is wanted, minutes after the origin."""


@dataclass
class PlannedTask:
    """A task with its time. ``late_by`` says by how much its tolerance is missed, ``conflicts`` what stands against
    it."""

    task: Task
    start: float
    late_by: float = 0.0
    pinned: bool = False
    conflicts: list[str] = field(default_factory=list)

    @property
    def end(self) -> float:
        return self.start + self.task.hands

    @property
    def released(self) -> float:
        return self.end + self.task.holds


@dataclass(frozen=True)
class Wait:
    """The longest wait on the way to a plan's end: for what, and from when on, minutes after the origin."""

    why: str
    since: float


@dataclass(frozen=True)
class Plan:
    """The placed tasks in order of time, those that found no room, the bound of any plan's length, and what the plan
    waits for that is longer."""

    placed: list[PlannedTask]
    unplaced: list[Task]
    bound: float
    bound_by: str
    waits: Wait | None = None

    @property
    def length(self) -> float:
        return max((p.end for p in self.placed), default=0.0)


def plan(
    tasks: list[Task],
    limits: Limits,
    windows: list[tuple[float, float]],
    pinned: dict[str, float] | None = None,
    out: Sequence[Taken] = (),
) -> Plan:
    """Return a plan of tasks within limits.

    Greedy: of the tasks that may start, the one that can start first is placed; of equals, the one whose job has the
    least time to spare, then the one with the longest work behind it, so that soaks and ovens begin early. A task with
    rigid followers is placed where they fit as well. Tasks in ``pinned`` stand where a person put them, with what
    stands against them said.

    Arguments
    ---------
    tasks : every task once; ``after`` may name tasks already done, with negative lags, which are ignored
    windows : hours in which hands are there, minutes after the origin
    pinned : start by task id, minutes after the origin
    out : resources of which a place is out of use, from when until when, minutes after the origin
    """
    return _Planning(tasks, limits, Calendar(windows, limits.places, out), pinned or {}).run()


class _Planning:
    """One run of the scheduler."""

    def __init__(self, tasks: list[Task], limits: Limits, calendar: Calendar, pinned: dict[str, float]) -> None:
        self.tasks = {task.id: task for task in tasks}
        self.limits, self.calendar = limits, calendar
        self.pinned = pinned
        self.behind = _work_behind(tasks)
        self.rigid: dict[str, list[Task]] = {}
        for task in tasks:
            if task.rigid and task.after and task.after[0][0] in self.tasks:
                self.rigid.setdefault(task.after[0][0], []).append(task)
        self.placed: dict[str, PlannedTask] = {}
        self.unplaced: list[Task] = []

    def run(self) -> Plan:
        for task in self.tasks.values():
            if task.id in self.pinned:
                self._pin(task, self.pinned[task.id])
        open_tasks = [t for t in self.tasks.values() if t.id not in self.placed and not self._follows_rigidly(t)]
        earliest: dict[str, float | None] = {}
        while open_tasks:
            ready = [
                t for t in open_tasks if all(before in self.placed or before not in self.tasks for before, _ in t.after)
            ]
            if not ready:
                self.unplaced += open_tasks
                break
            for task in ready:
                # A time found earlier stays the first possible until the calendar takes it.
                known = earliest.get(task.id, -1.0)
                if known is not None and (
                    known < 0 or not self.calendar.fits(known, task.hands, task.resource, task.holds)
                ):
                    earliest[task.id] = self.calendar.earliest(
                        max(known, self._may_start(task)), task.hands, task.resource, task.holds
                    )
            task = min(ready, key=lambda t: (_or_never(earliest[t.id]), self._to_spare(t), -self.behind[t.id]))
            open_tasks.remove(task)
            at = earliest[task.id]
            if at is None:
                self.unplaced.append(task)
            elif self.rigid.get(task.id):
                self._place_group(task, at)
            else:
                self._place(task, at)
        self._judge()
        bound, by = _bound(list(self.tasks.values()), self.limits, self.calendar.windows)
        placed = sorted(self.placed.values(), key=lambda p: (p.start, p.task.id))
        return Plan(placed, self.unplaced, bound, by, self._waits())

    def _to_spare(self, task: Task) -> float:
        return float("inf") if task.deadline is None else task.deadline - self.behind[task.id]

    def _waits(self) -> Wait | None:
        """Return the longest wait on the chain that ends last; None where nothing on it waits."""
        longest, found = 1.0, None
        placed = max(self.placed.values(), key=lambda p: p.end, default=None)
        while placed is not None:
            task, ready = placed.task, self._may_start(placed.task)
            if placed.start - ready > longest and not placed.pinned:
                longest = placed.start - ready
                why = self.calendar.held_up(ready, task.hands, task.resource, task.holds, placed.start)
                found = Wait(why, ready)
            before = [(self.placed[b].start + lag, b) for b, lag in task.after if b in self.placed]
            placed = self.placed[max(before)[1]] if before else None
        return found

    def _follows_rigidly(self, task: Task) -> bool:
        return task.rigid and bool(task.after) and task.after[0][0] in self.tasks

    def _may_start(self, task: Task) -> float:
        return max(
            [
                0.0,
                *(self.placed[b].start + lag for b, lag in task.after if b in self.placed),
                *(lag for b, lag in task.after if b not in self.tasks),
            ]
        )

    def _place(self, task: Task, at: float) -> None:
        self.calendar.take(at, task.hands, task.resource, task.holds)
        self.placed[task.id] = PlannedTask(task, at)

    def _pin(self, task: Task, at: float) -> None:
        conflicts = self.calendar.clashes(at, task.hands, task.resource, task.holds)
        self.calendar.take(at, task.hands, task.resource, task.holds)
        self.placed[task.id] = PlannedTask(task, at, pinned=True, conflicts=conflicts)

    def _place_group(self, first: Task, at: float) -> None:
        """Place a task where all its rigid followers fit, else where the fewest do not."""
        followers = [t for t in self.rigid[first.id] if t.id not in self.placed]
        best: tuple[int, float] | None = None
        start: float | None = at
        while start is not None and start <= at + _SEARCH_MIN:
            misses = sum(self._follower_start(t, first, start) is None for t in followers)
            if best is None or misses < best[0]:
                best = (misses, start)
            if not misses:
                break
            step = _SEARCH_STEP_MIN if start < at + 1440 else _LATER_STEP_MIN
            start = self.calendar.earliest(start + step, first.hands, first.resource, first.holds)
        assert best is not None
        self._place(first, best[1])
        for task in followers:
            found = self._follower_start(task, first, best[1])
            wanted = best[1] + task.after[0][1]
            chosen = (
                found if found is not None else self.calendar.earliest(wanted, task.hands, task.resource, task.holds)
            )
            if chosen is None:
                self.unplaced.append(task)
            else:
                self._place(task, chosen)

    def _follower_start(self, task: Task, first: Task, start: float) -> float | None:
        """Return when a rigid follower can start within its tolerance, nearest to its time."""
        wanted = start + task.after[0][1]
        first_busy = (start, start + first.hands)
        at = self.calendar.earliest(wanted, task.hands, task.resource, task.holds)
        if (
            at is not None
            and at <= wanted + task.tolerance
            and not (at < first_busy[1] - 1e-6 and at + task.hands > first_busy[0] + 1e-6)
        ):
            return at
        early = self.calendar.earliest(max(0.0, wanted - task.tolerance), task.hands, task.resource, task.holds)
        return early if early is not None and first_busy[1] <= early <= wanted + task.tolerance else None

    def _judge(self) -> None:
        """Say of each placed task by how much it misses its tolerance and what it starts too early for."""
        for placed in self.placed.values():
            task = placed.task
            for before, lag in task.after:
                start = (
                    self.placed[before].start if before in self.placed else 0.0 if before not in self.tasks else None
                )
                if start is None:
                    continue
                if placed.start < start + lag - (task.tolerance if task.rigid else 0.0) - 1e-6:
                    name = self.tasks[before].what if before in self.tasks else "an earlier step"
                    placed.conflicts.append(f"too early after “{name}”")
                over = placed.start - (start + lag) - task.tolerance
                if task.rigid and over > 1e-6:
                    placed.late_by = max(placed.late_by, over)


def _or_never(at: float | None) -> float:
    return float("inf") if at is None else at


def _work_behind(tasks: list[Task]) -> dict[str, float]:
    """Return the longest chain of lags and hands that follows each task, itself included."""
    following: dict[str, list[tuple[Task, float]]] = {}
    for task in tasks:
        for before, lag in task.after:
            following.setdefault(before, []).append((task, lag))
    behind: dict[str, float] = {}

    def of(task: Task) -> float:
        if task.id not in behind:
            behind[task.id] = task.hands
            behind[task.id] = max([task.hands, *(lag + of(later) for later, lag in following.get(task.id, []))])
        return behind[task.id]

    for task in tasks:
        of(task)
    return behind


def _bound(tasks: list[Task], limits: Limits, windows: list[tuple[float, float]]) -> tuple[float, str]:
    """Return a length no plan can undercut, and why: the longest chain, the busiest resource, or the hands' hours."""
    if not tasks:
        return 0.0, "nothing to do"
    begin = windows[0][0] if windows else 0.0
    found = {"the longest chain": _alone(tasks, windows)}
    left = sum(task.hands for task in tasks)
    for begins, ends in windows:
        if left <= ends - begins:
            found["one pair of hands"] = begins + left
            break
        left -= ends - begins
    # A resource is held after the last hands too; the plan's length ends with the hands.
    for resource in {task.resource for task in tasks if task.resource}:
        spans = sorted(task.hands + task.holds for task in tasks if task.resource == resource)
        if (places := limits.place(resource)) < 1:
            continue
        load = sum(spans[: max(0, len(spans) - places)]) / places
        found[f"places: {resource}"] = begin + load
    by = max(found, key=lambda name: found[name])
    return found[by], by


def _alone(tasks: list[Task], windows: list[tuple[float, float]]) -> float:
    """Return when the longest chain would end if it had all hands and places to itself, within the hours."""
    free = Calendar(windows, {})
    known = {task.id: task for task in tasks}
    ends: dict[str, float] = {}
    starts: dict[str, float] = {}

    def of(task: Task) -> float:
        if task.id not in starts:
            slack = task.tolerance if task.rigid else 0.0
            ready = max([0.0, *((of(known[b]) if b in known else 0.0) + lag - slack for b, lag in task.after)])
            # A chain that leaves the horizon is no bound; what is known of it is.
            starts[task.id] = ready if (at := free.earliest(ready, task.hands, "", 0.0)) is None else at
            ends[task.id] = starts[task.id] + task.hands
        return starts[task.id]

    for task in tasks:
        of(task)
    return max(ends.values())
