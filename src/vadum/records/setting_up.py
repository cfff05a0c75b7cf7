"""What a new laboratory has still to do before its first sheet is right; gone once it is done, or once it works."""

from dataclasses import dataclass

from sqlmodel import Session, col, select

from vadum.records.demonstration import is_demonstration
from vadum.records.letterhead import letterhead_of
from vadum.records.people import anybody
from vadum.records.presets import Presets
from vadum.records.tables import Equipment, Person, Project, Test
from vadum.records.zone import zone_name


@dataclass(frozen=True)
class Step:
    """A thing to do: in words, why, the route of the page where it is done with the place on it, and the route that
    does it."""

    what: str
    why: str
    route: str
    done_by: str
    at: str = ""


_MANAGER = Step(
    "Register the manager",
    "With the one-time code that stands where Vadum was started; from then on everybody signs in.",
    "people_page",
    "add",
    "new",
)
_LETTERHEAD = Step("Letterhead", "Name, address and logo on every sheet.", "letterhead_page", "letterhead_page")
_ZONE = Step(
    "Time zone", "Days of tests and inspections are the laboratory's.", "letterhead_page", "change_zone", "zone-of-lab"
)
_PRESETS = Step(
    "How tests are run here", "Schools, drying, limits of spread, for every new test.", "presets", "keep_method_preset"
)
_PEOPLE = Step("People", "Whoever measured does not check: two at least.", "people_page", "add", "new")
_EQUIPMENT = Step("Equipment", "Balances, ovens, rings and cups with their calibrations.", "register", "add_equipment")
_TINS = Step("Tins", "Paste numbers and tares; then a number is all that is typed.", "tins_page", "tins_pasted")
_PROJECT = Step("First project", "Then its locations, samples and tests.", "start", "add_project", "new-project")


def left_to_do(session: Session) -> list[Step]:
    """Return what is still to be done, in the order in which it helps; nothing once a test was checked."""
    if (
        is_demonstration(session)
        or session.exec(select(Test.id).where(col(Test.state).in_(("checked", "issued"))).limit(1)).first()
    ):
        return []
    if not anybody(session):
        return [_MANAGER]
    kinds = set(session.exec(select(Equipment.kind).distinct()).all())
    people = session.exec(select(Person.id).where(col(Person.active)).limit(2)).all()
    steps = (
        (letterhead_of(session).name, _LETTERHEAD),
        (zone_name(session), _ZONE),
        (Presets.of(session, None).laboratory, _PRESETS),
        (len(people) > 1, _PEOPLE),
        (kinds - {"tin"}, _EQUIPMENT),
        ("tin" in kinds, _TINS),
        (session.exec(select(Project.id).limit(1)).first(), _PROJECT),
    )
    return [step for done, step in steps if not done]
