"""The first walk through the demonstration laboratory: a card on each page, and where it goes on."""

from dataclasses import dataclass

from sqlmodel import Session, col, select

from vadum.records.row_number import row_number
from vadum.records.tables import Location, Project, Sample, Test


@dataclass(frozen=True)
class Stop:
    """A stop of the tour: the page, the part of it that is meant (a CSS selector), and what to know about it."""

    path: str
    target: str
    title: str
    words: str


@dataclass(frozen=True)
class Here:
    """The stop a page is at, its number among so many, and the addresses before and after it, "" at the ends."""

    stop: Stop
    number: int
    count: int
    before: str
    after: str


def here(every: list[Stop], number: str, walk: str = "") -> Here | None:
    """Return the stop of a number as it stands in an address; None when there is none. ``walk`` stands before it."""
    at = row_number(number)
    if at is None or not 1 <= at <= len(every):
        return None
    address = ["", *(f"{stop.path}?tour={walk}{i}" for i, stop in enumerate(every, 1)), ""]
    return Here(every[at - 1], at, len(every), address[at - 1], address[at + 1])


def stops(session: Session, projects: set[int] | None = None) -> list[Stop]:
    """Return the stops that this laboratory has something to show at, in the order of a day's work.

    ``projects`` are those that the person may see, None for all.
    """
    found = [
        Stop(
            "/",
            "main",
            "The laboratory",
            "Projects, and the tests in hand. Each line says what to do next; the mark before it how far the test is:"
            " an open ring is planned, half is running, full is done, a tick is checked.",
        )
    ]
    mine = [] if projects is None else [col(Project.id).in_(projects)]
    project = session.exec(select(Project).where(*mine).order_by(col(Project.id))).first()
    if project is not None:
        found.append(
            Stop(
                f"/projects/{project.id}",
                ".locations",
                "The ground is the way around",
                "Each pit and borehole is drawn to scale and takes its texture from its own tests. Pick a sample on its"
                " stem to see its tests.",
            )
        )
    sheet = _a_test(session, project, "running") or _a_test(session, project)
    if sheet is not None:
        found += [
            Stop(
                f"/tests/{sheet.id}",
                ".zone-read",
                "Readings as at the bench",
                "Type a number, Enter goes where the hand goes next. Units may be typed (3.4in), commas are fine. What"
                " cannot be a reading says so beside its cell, and every value is saved as you go.",
            ),
            Stop(
                f"/tests/{sheet.id}",
                ".zone-figure",
                "The figure is an instrument",
                "Click a point to leave it out, with a reason. Lines that a person would draw by hand have a grip to"
                " drag. The strip below says the result, what is wrong, and what to do now.",
            ),
            Stop(
                f"/tests/{sheet.id}/run",
                "main",
                "Run mode",
                "One reading at a time, in large digits, with its clock and the range it should fall in. It survives a"
                " reload and a lost line.",
            ),
        ]
    found.append(
        Stop(
            "/board",
            "main",
            "What is due",
            "Readings of all tests in the order they fall due, by the server's clock; what waits for a check; what is"
            " out of calibration.",
        )
    )
    done = _a_test(session, project, "checked") or sheet
    if done is not None:
        found.append(
            Stop(
                f"/tests/{done.id}/sheet",
                "main",
                "The sheet",
                "What leaves the laboratory, page by page. A second person checks, then it is issued: numbered and"
                " frozen.",
            )
        )
    if project is not None:
        found += [
            Stop(
                f"/projects/{project.id}/summary",
                "main",
                "What a designer asks for",
                "All results by place and depth, how they spread, and the figures of the whole site.",
            ),
            Stop(
                "/practice",
                "main",
                "Practice",
                "A virtual bench hides a soil and, if you like, a mistake. Nothing of it enters the record. That is the"
                " end of the walk; method pages and the glossary are under Help.",
            ),
        ]
    return found


def _a_test(session: Session, project: Project | None, state: str = "") -> Test | None:
    """Return a liquid limit of the project, in a state where one is given: most that a worksheet can do is on its
    page."""
    if project is None:
        return None
    query = (
        select(Test)
        .join(Sample, col(Test.sample_id) == Sample.id)
        .join(Location, col(Sample.location_id) == Location.id)
    )
    query = query.where(Test.method == "liquid-limit", Location.project_id == project.id).order_by(col(Test.id))
    return session.exec(query.where(Test.state == state) if state else query.where(Test.state != "void")).first()
