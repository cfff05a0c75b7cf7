"""From timetables to tasks of a plan, with what must come before what within a sample."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from vadum.bench.clock import due_operations
from vadum.bench.limits import minutes_after
from vadum.bench.planner import Task
from vadum.soil.contract.method import Operation
from vadum.soil.registry import method as method_of


@dataclass(frozen=True)
class Job:
    """A test to be planned."""

    test_id: int
    code: str
    soil: str
    """The sample or location it is of: what must come before what holds within one."""
    label: str
    operations: Sequence[Operation]
    times: dict[str, datetime]
    begun: datetime | None
    wanted_by: datetime | None = None
    """When the results are wanted."""
    place: str = ""
    apart: str = ""
    """What tells it from another job of its place and method; "" where nothing has to."""


def tasks_of(jobs: list[Job], origin: datetime) -> list[Task]:
    """Return the open operations of the jobs as tasks, in minutes after ``origin``."""
    tasks: list[Task] = []
    for job in jobs:
        by_key = {due.operation.key: due for due in due_operations(job.operations, job.times, job.begun, origin)}
        for i, operation in enumerate(job.operations):
            if by_key[operation.key].standing in ("done", "missed"):
                continue
            anchor = operation.after or (job.operations[i - 1].key if i else "")
            after: list[tuple[str, float]] = []
            if anchor:
                lag = operation.due_min - next(o.due_min for o in job.operations if o.key == anchor)
                done_at = by_key[anchor].done_at
                passed = by_key[anchor].standing in ("done", "missed")
                since = (done_at - origin).total_seconds() / 60 if done_at else 0.0
                after.append((task_id(job.test_id, anchor), lag + (since if passed else 0.0)))
            after += [
                (task_id(other.test_id, key), _hands(other, key)) for other, key in _before(job, operation.key, jobs)
            ]
            tasks.append(
                Task(
                    id=task_id(job.test_id, operation.key),
                    job=str(job.test_id),
                    what=operation.what,
                    hands=operation.hands_on_min,
                    holds=operation.holds_min,
                    resource=operation.resource,
                    after=tuple(after),
                    tolerance=operation.tolerance_min,
                    rigid=operation.after is not None,
                    deadline=minutes_after(origin, job.wanted_by) if job.wanted_by else None,
                )
            )
    open_ids = {task.id for task in tasks}
    # A prerequisite that is done already holds nothing up; an own anchor that is done holds by the clock.
    return [_without_done(task, open_ids) for task in tasks]


def task_id(test_id: int, key: str) -> str:
    return f"{test_id}.{key}"


def _before(job: Job, key: str, jobs: list[Job]) -> list[tuple[Job, str]]:
    return [
        (other, before.begun)
        for before in method_of(job.code).waits_for
        for other in jobs
        if before.operation == key and other.soil == job.soil and other.code == before.method
    ]


def _hands(job: Job, key: str) -> float:
    return next((o.hands_on_min for o in job.operations if o.key == key), 0.0)


def _without_done(task: Task, open_ids: set[str]) -> Task:
    own = f"{task.job}."
    kept = tuple((before, lag) for before, lag in task.after if before in open_ids or before.startswith(own))
    return replace(task, after=kept)
