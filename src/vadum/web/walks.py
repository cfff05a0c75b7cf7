"""A walk for each job in the laboratory: where its day begins, and at the end something that is done there."""

from dataclasses import dataclass

from sqlmodel import Session, col, select

from vadum.records.tables import Location, Project, Sample, Test
from vadum.web.tour import Stop


@dataclass(frozen=True)
class Walk:
    """A walk: whose it is, the route that this person may go to, and its stops."""

    job: str
    needs: str
    stops: list[Stop]


def walks(session: Session, projects: set[int] | None = None) -> dict[str, Walk]:
    """Return the walks by the word of their addresses, each with the stops that this laboratory has something to show
    at."""
    mine = [] if projects is None else [col(Project.id).in_(projects)]
    project = session.exec(select(Project).where(*mine).order_by(col(Project.id))).first()
    running, waiting = _of_sample(session, project, "running"), _of_sample(session, project, "reduced")
    return {
        "bench": Walk("bench technician", "work_as", _bench(running)),
        "field": Walk("field technician", "work_as", _field(_in_ground(session, project))),
        "check": Walk("checker", "work_as", _check(waiting)),
        "manage": Walk("manager", "people_page", _MANAGE),
        "engineer": Walk("engineer", "summary", _engineer(project)),
    }


def _bench(test: Test | None) -> list[Stop]:
    found = [
        Stop(
            "/board",
            ".due-part",
            "What is due",
            "The day begins here: what is late and what is due now, by the server's clock. A line leads to the cell"
            " that is missing; what no reading proves is said to be done.",
        )
    ]
    if test is not None:
        found += [
            Stop(
                f"/tests/{test.id}",
                ".zone-read",
                "Type what you read",
                "Enter goes where the hand goes next, Ctrl Z brings back what stood there. A doubt stands under its row"
                " with what to do about it now.",
            ),
            Stop(
                f"/tests/{test.id}",
                ".tools",
                "Everything else in one row",
                "School, steps, cautions, equipment, photographs: each opens beside the readings. Run shows one reading"
                " at a time, in large digits.",
            ),
            Stop(
                f"/tests/{test.id}",
                ".strip",
                "What it says, and what is next",
                "The result so far, what is open, and one thing to do. Nothing left to measure: Done measuring.",
            ),
        ]
    return [
        *found,
        Stop(
            "/practice",
            "main",
            "Now you: measure a hidden soil",
            "Begin a test here, read what the bench shows, and hand it in. Nothing of it enters the record.",
        ),
    ]


def _field(test: Test | None) -> list[Stop]:
    if test is None:
        return []
    return [
        Stop(
            f"/locations/{test.location_id}",
            "main",
            "All of one place",
            "Its column, its samples and the tests in its ground. A new test in the ground is begun here.",
        ),
        Stop(
            f"/tests/{test.id}",
            ".zone-read",
            "The same sheet, outside",
            "On a phone the readings stand under one another; the strip below says what is next.",
        ),
        Stop(
            "/with-me",
            "main",
            "Without a line",
            "What you take along opens here without a line; what you type waits on the device and is sent when the line"
            " is back.",
        ),
        Stop(
            f"/locations/{test.location_id}",
            "[data-take]",
            "Now you: take it with you",
            "Press Take with me. From then on this place can be opened in the pit.",
        ),
    ]


def _check(test: Test | None) -> list[Stop]:
    found = [
        Stop(
            "/board",
            "#checks",
            "What waits for you",
            "Tests that are done, and checked ones whose ground has moved since: oldest first.",
        )
    ]
    if test is None:
        return found
    return [
        *found,
        Stop(
            f"/tests/{test.id}",
            ".zone-read",
            "Every reading with its doubt",
            "What is odd is asked about; what was left out stands there with its reason. History says who typed what.",
        ),
        Stop(
            f"/tests/{test.id}/sheet",
            "main",
            "What would leave the laboratory",
            "The sheet as it is printed, with what nobody said and what the result leans on.",
        ),
        Stop(
            f"/tests/{test.id}",
            ".strip .moves",
            "Now you: check it, or send it back",
            "Check freezes readings, settings and equipment; Reopen asks why. Nobody checks what they measured.",
        ),
    ]


_MANAGE = [
    Stop(
        "/equipment",
        "main",
        "What you answer for",
        "Cups inspected today, calibrations that ran out, tins and tares. Each piece says which sheets it touches.",
    ),
    Stop(
        "/people",
        "main",
        "Who may do what",
        "Roles, passwords, who is signed off for which method. Who leaves is let go; what they recorded stays.",
    ),
    Stop(
        "/presets",
        "main",
        "How tests are run here",
        "Schools, drying, limits of spread: for every new test. Tests on record keep theirs.",
    ),
    Stop(
        "/plan",
        "main",
        "Now you: plan the week",
        "Choose tests, move a bar, and keep the plan: the board then says who does what and when.",
    ),
]


def _engineer(project: Project | None) -> list[Stop]:
    if project is None:
        return []
    return [
        Stop(
            f"/projects/{project.id}",
            "main",
            "The ground",
            "Pits and boreholes to scale, filled by what their own tests say they are. A pin is a sample.",
        ),
        Stop(
            f"/projects/{project.id}/summary",
            "main",
            "What was found",
            "All results by place and depth, how they spread, and what contradicts what.",
        ),
        Stop(
            f"/projects/{project.id}/positions",
            "main",
            "Where it was found",
            "Tests with their positions, and what each came to.",
        ),
        Stop(
            f"/projects/{project.id}/reports",
            "main",
            "Now you: make a report",
            "Choose chapters, places and tests. A draft may be looked at and removed; an issued one stays as it is.",
        ),
    ]


def _of_sample(session: Session, project: Project | None, state: str) -> Test | None:
    """Return a test of a sample of the project in a state: a liquid limit where there is one, since most that a
    worksheet can do is on its page."""
    if project is None:
        return None
    query = select(Test).join(Sample, col(Test.sample_id) == Sample.id).join(Location)
    query = query.where(Location.project_id == project.id, Test.state == state)
    return session.exec(query.order_by(col(Test.method) != "liquid-limit", col(Test.id))).first()


def _in_ground(session: Session, project: Project | None) -> Test | None:
    if project is None:
        return None
    query = select(Test).join(Location, col(Test.location_id) == Location.id)
    return session.exec(
        query.where(Location.project_id == project.id, Test.state != "void").order_by(col(Test.id))
    ).first()
