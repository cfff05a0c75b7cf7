"""Plans that people keep: what was planned when, and how it stands against what really happened."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from vadum.bench.limits import clock_at
from vadum.bench.planner import Plan
from vadum.records.database import writing
from vadum.records.tables import WorkPlan, now

# A start that moved by less is the same start.
_SAME_MIN = 5.0


@dataclass(frozen=True)
class Moved:
    """An operation whose time is another one than in the plan that was kept; ``was`` or ``now`` is None where it stood
    or stands in none. ``done`` says that it is in none because it was done."""

    id: str
    what: str
    label: str
    was: datetime | None
    now: datetime | None
    done: bool = False


def kept_plan(session: Session, who: str) -> WorkPlan | None:
    """Return the plan that a person keeps."""
    return session.exec(select(WorkPlan).where(WorkPlan.who == who)).first()


def keep_plan(
    session: Session, who: str, asked: dict[str, Any], made: Plan, origin: datetime, labels: dict[str, str]
) -> WorkPlan:
    """Keep a plan in the place of the one that the person kept before, and commit."""
    lines = [
        {
            "id": p.task.id,
            "what": p.task.what,
            "label": labels[p.task.job],
            "at": clock_at(origin, p.start).isoformat(),
            "hands": p.task.hands,
        }
        for p in made.placed
    ]
    with writing(session):
        plan = kept_plan(session, who) or WorkPlan(who=who)
        plan.kept_at, plan.asked, plan.lines = now(), asked, lines
        session.add(plan)
        session.commit()
    return plan


def moved(plan: WorkPlan, made: Plan, origin: datetime, labels: dict[str, str], done: set[str]) -> list[Moved]:
    """Return what is planned otherwise now than in a plan that was kept, in the order of the new times.

    Arguments
    ---------
    labels : the tests that are planned now, by key
    done : the operations that were done, by the identity of their task
    """
    before = {line["id"]: line for line in plan.lines}
    found = []
    for placed in made.placed:
        task, at = placed.task, clock_at(origin, placed.start)
        line = before.pop(task.id, None)
        was = datetime.fromisoformat(line["at"]).astimezone(origin.tzinfo) if line else None
        if was is None or abs((at - was).total_seconds()) >= 60 * _SAME_MIN:
            found.append(Moved(task.id, task.what, labels[task.job], was, at))
    for line in before.values():
        was = datetime.fromisoformat(line["at"]).astimezone(origin.tzinfo)
        found.append(Moved(line["id"], line["what"], line["label"], was, None, done=line["id"] in done))
    return found


def who_does(session: Session) -> dict[str, tuple[str, datetime]]:
    """Return who planned each operation and for when, by the identity of its task; of two plans the newer one says."""
    plans = session.exec(select(WorkPlan).order_by(col(WorkPlan.kept_at))).all()
    return {line["id"]: (plan.who, datetime.fromisoformat(line["at"])) for plan in plans for line in plan.lines}
