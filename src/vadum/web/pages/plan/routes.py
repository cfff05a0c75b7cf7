"""The day and week planner: tests chosen, limits given, a plan drawn; what a person drags stays, with its conflicts."""

from dataclasses import dataclass
from datetime import UTC, datetime, time, tzinfo
from typing import Any, Self

from fastapi import APIRouter, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import BaseModel, Field, model_validator
from sqlmodel import Session, col, select

from vadum.bench.ics import calendar_of
from vadum.bench.kept import keep_plan, kept_plan, moved
from vadum.bench.limits import Limits, clock_at, minutes_after
from vadum.bench.planner import Plan, PlannedTask, plan
from vadum.bench.tasks import Job, task_id, tasks_of
from vadum.drawing.timeline import LETTERS, Bar, Day, Lane, draw_timeline
from vadum.drawing.words import cut
from vadum.records.apart import told_apart
from vadum.records.calibrations import begun_of
from vadum.records.conditions import on_soil
from vadum.records.hours import DAYS, WorkingHours, hours_of
from vadum.records.resources import PLACES
from vadum.records.row_number import row_numbers
from vadum.records.tables import Test, WorkPlan
from vadum.records.times import times_of, timetables_of
from vadum.records.together import WITHOUT_READINGS, with_places
from vadum.records.zone import zone_of
from vadum.soil.registry import METHODS
from vadum.web.nothere import NotHere
from vadum.web.rendering import Db, Who, as_download, page, seen

router = APIRouter()
_MOST_TESTS = 80
_CHOSEN_AT_FIRST = 8


class PlanRequest(BaseModel):
    """What to plan, within what; ``pinned`` are starts a person insists on, in minutes after ``origin``.

    Hours that are not given are the laboratory's. ``opens``, ``closes`` and ``weekend`` say them for the whole week.
    """

    tests: list[int] = Field(default=[], max_length=_MOST_TESTS)
    hours: WorkingHours | None = None
    opens: time | None = None
    closes: time | None = None
    weekend: bool = False
    places: dict[str, int] = Field(default={}, max_length=30)
    pinned: dict[str, float] = Field(default={}, max_length=400)
    origin: datetime | None = None
    width: float = Field(1100, ge=320, le=4000)

    @model_validator(mode="after")
    def _closes_after_it_opens(self) -> Self:
        opens, closes = self.day
        if closes <= opens:
            raise ValueError(f"the bench closes at {closes:%H:%M}, before it opens at {opens:%H:%M}; say other hours")
        return self

    @property
    def day(self) -> tuple[time, time]:
        """From when to when hands are there, by the laboratory's clock whatever zone was said."""
        opens, closes = self.opens or time(8, 0), self.closes or time(17, 0)
        return opens.replace(tzinfo=None), closes.replace(tzinfo=None)

    def limits(self, session: Session) -> Limits:
        hours = self.hours or hours_of(session)
        week = hours.week
        if self.opens or self.closes or self.weekend:
            day = self.day
            week = (*5 * (day,), *2 * (day if self.weekend else None,))
        places = {**PLACES, **{name: max(0, count) for name, count in self.places.items()}}
        return Limits(places=places, week=week, away=frozenset(hours.closed), out=tuple(hours.out))


@dataclass(frozen=True)
class Made:
    """A plan with what it was made of."""

    plan: Plan
    jobs: list[Job]
    windows: list[tuple[float, float]]
    origin: datetime

    @property
    def labels(self) -> dict[str, str]:
        return {str(job.test_id): job.label for job in self.jobs}

    @property
    def done(self) -> set[str]:
        """What the tests say was done, by the identity of its task."""
        return {
            task_id(job.test_id, o.key) for job in self.jobs for o in job.operations if o.done or o.key in job.times
        }


@router.get("/plan", response_class=HTMLResponse)
def plan_page(request: Request, session: Db, who: Who) -> HTMLResponse:
    tests, kept, hours = _open_tests(session, request), kept_plan(session, who), hours_of(session)
    asked = kept.asked if kept else {}
    chosen = row_numbers(request.query_params.getlist("test"))
    first = chosen or set(asked.get("tests", ())) or {test.id or 0 for test in tests[:_CHOSEN_AT_FIRST]}
    mine = WorkingHours.model_validate(asked["hours"]) if asked.get("hours") else hours
    return page(
        request,
        "plan/plan.html",
        tests=[(test, test.id in first) for test in tests],
        called=told_apart(tests),
        places=PLACES | asked.get("places", {}),
        days=list(zip(DAYS, mine.words, strict=True)),
        closed=" ".join(day.isoformat() for day in mine.closed),
        out="; ".join(map(str, mine.out)),
        kept=kept,
        pinned=asked.get("pinned_at", {}),
    )


@router.post("/api/plan")
def make_plan(request: Request, session: Db, who: Who, asked: PlanRequest) -> Response:
    """Return a plan with its drawing, its conflicts, how far it is from the bound, and what moved since it was kept."""
    made, kept = _made(session, request, asked), kept_plan(session, who)
    return JSONResponse(_shown(made, asked.width) | _against(kept, made))


@router.post("/api/plan/keep")
def keep(request: Request, session: Db, who: Who, asked: PlanRequest) -> Response:
    """Keep the plan as the one that the person works by; what they kept before is no more."""
    made = _made(session, request, asked)
    plain = asked.model_dump(mode="json", include={"tests", "hours", "places"})
    plain["pinned_at"] = {name: clock_at(made.origin, minutes).isoformat() for name, minutes in asked.pinned.items()}
    kept = keep_plan(session, who, plain, made.plan, made.origin, made.labels)
    return JSONResponse(_shown(made, asked.width) | _against(kept, made))


@router.get("/plan.ics", response_class=Response)
def plan_as_calendar(session: Db, who: Who) -> Response:
    """Return the plan that the person keeps as a calendar file."""
    kept = kept_plan(session, who)
    if kept is None:
        raise NotHere("plan that was kept")
    headers = {"Content-Disposition": as_download("plan.ics")}
    return Response(calendar_of(kept), media_type="text/calendar", headers=headers)


def _made(session: Session, request: Request, asked: PlanRequest) -> Made:
    origin = (asked.origin or datetime.now(UTC)).astimezone(zone_of(session)).replace(second=0, microsecond=0)
    limits = asked.limits(session)
    under_way = _open_tests(session, request)
    wanted = [test for test in under_way if test.id in set(asked.tests)]
    # What one is called does not hang on which others are planned with it.
    jobs, windows = _jobs(session, wanted, told_apart(under_way)), limits.windows(origin)
    tasks = tasks_of(jobs, origin)
    return Made(plan(tasks, limits, windows, asked.pinned, limits.out_of_use(origin)), jobs, windows, origin)


def _against(kept: WorkPlan | None, made: Made) -> dict[str, Any]:
    """Return what the plan says otherwise than the one that was kept."""
    if kept is None:
        return {"keptAt": "", "moved": []}
    lines = moved(kept, made.plan, made.origin, made.labels, made.done)
    return {
        "keptAt": _said_at(kept.kept_at.astimezone(made.origin.tzinfo)),
        "moved": [
            {
                "what": f"{line.label}: {line.what}",
                "was": _said_at(line.was) if line.was else "not in the plan",
                "now": _said_at(line.now) if line.now else "done" if line.done else "no longer planned",
                "done": line.done,
            }
            for line in lines
        ],
    }


def _open_tests(session: Session, request: Request) -> list[Test]:
    query = select(Test).where(col(Test.state).in_(("planned", "running")), on_soil())
    query = with_places(query.order_by(col(Test.state), col(Test.id))).options(*WITHOUT_READINGS)
    return seen(request, session.exec(query).all())


def _jobs(session: Session, tests: list[Test], called: dict[int, str]) -> list[Job]:
    times, zone = times_of(session, tests), zone_of(session)
    timetables, first = timetables_of(session, tests), begun_of(session, tests)
    jobs = []
    for test in tests:
        label = f"{called[test.id or 0]}, {METHODS[test.method].title}"
        begun = first.get(test.id or 0) if test.state == "running" else None
        jobs.append(
            Job(
                test.id or 0,
                test.method,
                f"sample {test.sample_id}" if test.sample_id else f"location {test.location_id}",
                label,
                timetables[test.id or 0].operations,
                times.get(test.id or 0, {}),
                begun,
                _wanted_by(test, zone),
                test.place,
                called[test.id or 0].removeprefix(test.place).strip(", "),
            )
        )
    return jobs


def _wanted_by(test: Test, zone: tzinfo) -> datetime | None:
    """Return the end of the day on which a test's project is wanted."""
    day = test.ground.project.wanted_by if test.ground else None
    return datetime.combine(day, time(23, 59), zone) if day else None


def _called(job: Job) -> str:
    """Return what stands before a test's bars: of what soil, and which test."""
    title = cut(METHODS[job.code].title, 15)
    return f"{cut(job.place, LETTERS - len(title) - 1)} {title}".lstrip()


def _shown(whole: Made, width: float) -> dict[str, Any]:
    made, origin, windows = whole.plan, whole.origin, whole.windows
    jobs = [job for job in whole.jobs if any(p.task.job == str(job.test_id) for p in made.placed)]
    rows = [
        Lane(
            _called(job),
            f"/tests/{job.test_id}",
            cut(job.apart, LETTERS),
            f"{job.place} {METHODS[job.code].title} {job.apart}".strip(),
            [_bar(p, origin) for p in made.placed if p.task.job == str(job.test_id)],
        )
        for job in jobs
    ]
    last = max((p.end for p in made.placed), default=0.0)
    days = [_day(begins, ends, origin) for begins, ends in windows if begins <= last]
    days = days or [_day(begins, ends, origin) for begins, ends in windows[:1]]
    labels = whole.labels
    wrong = [{"what": f"{labels[p.task.job]}: {p.task.what}", "said": said} for p in made.placed if (said := _wrong(p))]
    wrong += [{"what": f"{labels[t.job]}: {t.what}", "said": "finds no room within three weeks"} for t in made.unplaced]
    wrong += _too_late(whole)
    return {
        "svg": draw_timeline(rows, days, width=width),
        "origin": origin.isoformat(),
        "conflicts": wrong,
        "lines": [
            {
                "at": _clock(p.start, origin),
                "what": p.task.what,
                "test": labels[p.task.job],
                "href": f"/tests/{p.task.job}",
                "hands": p.task.hands,
            }
            for p in made.placed
        ],
        "unplaced": len(made.unplaced),
        "ends": _clock(made.length, origin) if made.placed else "",
        "length": round(made.length),
        "bound": round(made.bound),
        "boundBy": made.bound_by,
        "earliest": _clock(made.bound, origin) if made.placed else "",
        "because": f"{made.waits.why} on {_clock(made.waits.since, origin)}" if made.waits else "",
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


def _too_late(made: Made) -> list[dict[str, str]]:
    """Return the tests that end after the day they are wanted."""
    said = []
    for job in made.jobs:
        ends = max((p.end for p in made.plan.placed if p.task.job == str(job.test_id)), default=0.0)
        if job.wanted_by and ends > minutes_after(made.origin, job.wanted_by):
            said.append(
                {"what": job.label, "said": f"ends {_clock(ends, made.origin)}, wanted by {job.wanted_by:%a %d %b}"}
            )
    return said


def _day(begins: float, ends: float, origin: datetime) -> Day:
    at = clock_at(origin, begins)
    return Day(begins, ends, at.strftime("%a %d %b"), at.hour * 60 + at.minute)


def _clock(minutes: float, origin: datetime) -> str:
    return _said_at(clock_at(origin, minutes))


def _said_at(at: datetime) -> str:
    return at.strftime("%a %d %b %H:%M")
