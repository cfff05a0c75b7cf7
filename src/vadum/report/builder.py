"""A report made part by part: it says how far it is, and stops when it is told to."""

from collections.abc import Callable, Iterator

from sqlmodel import Session

from vadum.records.letterhead import letterhead_of
from vadum.records.site import site_of
from vadum.records.tables import Project, Test, now
from vadum.records.zone import stamp
from vadum.report.document import Document, Part
from vadum.report.log import log_part
from vadum.report.sample import sample_part
from vadum.report.sheet import Asked, sheet_number, sheets_of
from vadum.report.summary import summary_part
from vadum.report.wanted import WORDS, Wanted
from vadum.soil.registry import method as method_of

Progress = Callable[[int, int, str], None]


def make(
    session: Session, project: Project, wanted: Wanted, number: str, who: str, progress: Progress, role: str = ""
) -> bytes:
    """Return the report as PDF.

    Arguments
    ---------
    number : printed on every page
    who, role : who makes or issues it, and as what
    progress : called with steps done, steps in all, and what is being made; may raise to stop
    """
    tests = wanted.tests(project)
    steps = _steps(project, wanted, tests)
    done = 0

    def tick(what: str = "summary") -> None:
        nonlocal done
        done += 1
        progress(done, steps, what)

    progress(0, steps, "reading the record")
    made = stamp(session, now())
    state = "issued" if wanted.issue else "draft, not issued"
    with Document(letterhead_of(session), kind="Report", title=wanted.title, number=number, state=state) as document:
        document.add(_cover(project, wanted, tests, number, f"{who}, {role}" if role else who, made))
        for what, part in _parts(session, project, wanted, tests, tick):
            document.add(part)
            if part.kind != "summary":
                tick(what)
        progress(done, steps, "setting the pages")
        return document.compiled()[0]


def _steps(project: Project, wanted: Wanted, tests: list[Test]) -> int:
    """Return how many steps a report takes: one for each test the summary reads, one for each part, one to set the
    pages."""
    places = wanted.places(project)
    each = {"summary": len(tests), "logs": len(places), "samples": len(wanted.taken(project)), "tests": len(tests)}
    return sum(each[chapter] for chapter in wanted.chapters) + 1


def _parts(
    session: Session, project: Project, wanted: Wanted, tests: list[Test], tick: Callable[[], None]
) -> Iterator[tuple[str, Part]]:
    for chapter in wanted.chapters:
        if chapter == "summary":
            site = site_of(project, wanted.shows, tick)
            yield (
                "summary",
                summary_part(site, project.name, wanted.scope(project), every_parameter=wanted.every_parameter),
            )
        elif chapter == "logs":
            for place in wanted.places(project):
                yield f"log of {place.name}", log_part(place, wanted.shows)
        elif chapter == "samples":
            for sample in wanted.taken(project):
                yield f"{sample.location.name} {sample.name}", sample_part(session, sample, wanted.shows)
        else:
            asked = Asked(wanted.derivation, wanted.uncertainty, wanted.records)
            for test, part in sheets_of(session, tests, asked):
                # Among others a sheet says in its heading, and so in the contents, where it is from.
                part.data["title"] = f"{part.data['title']}, {test.place}"
                yield f"test {test.id}", part


def _cover(project: Project, wanted: Wanted, tests: list[Test], number: str, who: str, made: str) -> Part:
    data = {
        "title": wanted.title,
        "project": project.name,
        "client": project.client,
        "note": project.note,
        "facts": [
            ["report", number],
            ["made", made],
            ["issued by" if wanted.issue else "by", who],
            ["of", wanted.scope(project)],
            ["tests", str(len(tests))],
            ["contains", ", ".join(WORDS[chapter] for chapter in wanted.chapters)],
        ],
        "issued": wanted.issue,
        "tests": [[test.place, method_of(test.method).title, test.state, sheet_number(test)] for test in tests],
    }
    return Part("cover", data)
