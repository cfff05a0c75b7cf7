"""How a project is shown, and by which rule its limits are judged: as measured, or with the uncertainty to spare."""

from pydantic import Field
from sqlmodel import Session, col, or_, select

from vadum.records.chosen import choose
from vadum.records.dependents import renew
from vadum.records.tables import Project, Sample, Test
from vadum.records.units import Shown
from vadum.soil.registry import METHODS

SHOWN = "shown"


class HowShown(Shown):
    """How a project is shown and printed, and how its limits are judged."""

    guarded: bool = Field(default=False, title="limits guarded by U")


def how_shown(project: Project) -> HowShown:
    return HowShown(units=project.units, decimal_mark=project.decimal_mark, guarded=project.guarded)


def keep_how_shown(session: Session, project: Project, wanted: HowShown, who: str, seen: int | None = None) -> None:
    """Show a project so and judge limits by this rule from now on, open tests at once, and commit; what was checked
    stays as it was, what was issued as it was printed.

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile.
    """
    chosen = choose(session, project, SHOWN, how_shown(project), wanted, who, seen)
    project.units, project.decimal_mark = chosen.units, chosen.decimal_mark
    project.guarded = chosen.guarded
    session.add(project)
    session.flush()
    judged = [code for code, method in METHODS.items() if method.limits_asked]
    places = [place.id for place in project.locations]
    samples = select(Sample.id).where(col(Sample.location_id).in_(places))
    mine = or_(col(Test.location_id).in_(places), col(Test.sample_id).in_(samples))
    renew(session, session.exec(select(Test).where(col(Test.method).in_(judged), mine)).all())
    session.commit()
