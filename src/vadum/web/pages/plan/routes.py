"""The day and week planner: tests chosen, limits given, a plan drawn; what a person drags stays, with its conflicts."""

from datetime import UTC, datetime, time, timedelta
from typing import Any

from fastapi import APIRouter, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import BaseModel, Field
from sqlmodel import Session, col, select

from vadum.bench.limits import PLACES, Limits
from vadum.bench.planner import Plan, PlannedTask, plan
from vadum.bench.tasks import Job, tasks_of
from vadum.drawing.timeline import Bar, Day, Lane, draw_timeline
from vadum.records.tables import Revision, Test, on_soil
from vadum.records.times import operations_of, times_of
from vadum.records.together import with_places
from vadum.records.zone import zone_of
from vadum.soil.registry import METHODS
from vadum.web.rendering import Db, page, seen

router = APIRouter()
_MOST_TESTS = 80
_CHOSEN_AT_FIRST = 8


class PlanRequest(BaseModel):
    """What to plan, within what; ``pinned`` are starts a person insists on."""

    tests: list[int] = Field(default=[], max_length=_MOST_TESTS)
    opens: time = time(8, 0)
    closes: time = time(17, 0)
    weekend: bool = False
    places: dict[str, int] = Field(default={}, max_length=30)
    pinned: dict[str, float] = Field(default={}, max_length=400)
    origin: datetime | None = None
    width: float = Field(1100, ge=320, le=4000)


@router.get("/plan", response_class=HTMLResponse)
def plan_page(request: Request, session: Db) -> HTMLResponse:
    tests = _open_tests(session, request)
    chosen = {int(i) for i in request.query_params.getlist("test") if i.isdecimal()}
    first = chosen or {test.id or 0 for test in tests[:_CHOSEN_AT_FIRST]}
    return page(request, "plan/plan.html", tests=[(test, test.id in first) for test in tests], places=PLACES)


@router.post("/api/plan")
def make_plan(request: Request, session: Db, asked: PlanRequest) -> Response:
    """Return a plan with its drawing, its conflicts and how far it is from the bound."""
    origin = (asked.origin or datetime.now(UTC)).astimezone(zone_of(session)).replace(second=0, microsecond=0)
    limits = Limits(
        places={**PLACES, **{name: max(0, count) for name, count in asked.places.items()}},
        opens=asked.opens,
        closes=asked.closes,
        days=frozenset(range(7 if asked.weekend else 5)),
    )
    wanted = [test for test in _open_tests(session, request) if test.id in set(asked.tests)]
    jobs = _jobs(session, wanted)
    windows = limits.windows(origin)
    tasks = tasks_of(jobs, origin)
    made = plan(tasks, limits, windows, asked.pinned)
    with_work = [job for job in jobs if any(task.job == str(job.test_id) for task in tasks)]
    return JSONResponse(_shown(made, with_work, windows, origin, asked.width))


def _open_tests(session: Session, request: Request) -> list[Test]:
    query = select(Test).where(col(Test.state).in_(("planned", "running")), on_soil())
    return seen(request, session.exec(with_places(query.order_by(col(Test.state), col(Test.id)))).all())


def _jobs(session: Session, tests: list[Test]) -> list[Job]:
    times = times_of(session, tests)
    jobs = []
    for test in tests:
        first = session.exec(
            select(Revision.at).where(Revision.test_id == test.id).order_by(col(Revision.number))
        ).first()
        label = f"{test.place}, {METHODS[test.method].title}"
        begun = first if test.state == "running" else None
        jobs.append(
            Job(
                test.id or 0,
                test.method,
                f"sample {test.sample_id}" if test.sample_id else f"location {test.location_id}",
                label,
                operations_of(test),
                times.get(test.id or 0, {}),
                begun,
            )
        )
    return jobs


def _shown(
    made: Plan, jobs: list[Job], windows: list[tuple[float, float]], origin: datetime, width: float
) -> dict[str, Any]:
    rows = [
        Lane(
            job.label.split(", ")[0] + " " + METHODS[job.code].title[:14],
            f"/tests/{job.test_id}",
            [_bar(p, origin) for p in made.placed if p.task.job == str(job.test_id)],
        )
        for job in jobs
    ]
    last = max((p.end for p in made.placed), default=0.0)
    days = [_day(begins, ends, origin) for begins, ends in windows if begins <= last] or [_day(*windows[0], origin)]
    labels = {str(job.test_id): job.label for job in jobs}
    wrong = [{"what": f"{labels[p.task.job]}: {p.task.what}", "said": said} for p in made.placed if (said := _wrong(p))]
    wrong += [{"what": f"{labels[t.job]}: {t.what}", "said": "finds no room within three weeks"} for t in made.unplaced]
    return {
        "svg": draw_timeline(rows, days, width=width),
        "origin": origin.isoformat(),
        "conflicts": wrong,
        "lines": [
            {"at": _clock(p.start, origin), "what": p.task.what, "test": labels[p.task.job], "hands": p.task.hands}
            for p in made.placed
        ],
        "ends": _clock(made.length, origin) if made.placed else "",
        "length": round(made.length),
        "bound": round(made.bound),
        "boundBy": made.bound_by,
        "over": round(100 * (made.length / made.bound - 1)) if made.bound > 0 and made.placed else 0,
    }


def _bar(placed: PlannedTask, origin: datetime) -> Bar:
    task = placed.task
    return Bar(
        task.id,
        placed.start,
        task.hands,
        task.holds,
        task.what,
        _clock(placed.start, origin),
        placed.pinned,
        _wrong(placed),
    )


def _wrong(placed: PlannedTask) -> str:
    late = [f"{placed.late_by:.0f} min outside its tolerance"] if placed.late_by > 0.5 else []
    return ", ".join([*placed.conflicts, *late])


def _day(begins: float, ends: float, origin: datetime) -> Day:
    at = origin + timedelta(minutes=begins)
    return Day(begins, ends, at.strftime("%a %d %b"), at.hour * 60 + at.minute)


def _clock(minutes: float, origin: datetime) -> str:
    return (origin + timedelta(minutes=minutes)).strftime("%a %H:%M")
