"""By which rule a project's limits are judged: as measured, or with the uncertainty to spare."""

from sqlmodel import Session, col, or_, select

from vadum.records.dependents import renew
from vadum.records.tables import Project, Sample, Test
from vadum.soil.registry import METHODS


def keep_decision_rule(session: Session, project: Project, *, guarded: bool) -> None:
    """Judge limits by this rule from now on, open tests at once, and commit; what was checked stays as it was."""
    project.guarded = guarded
    session.add(project)
    session.flush()
    judged = [code for code, method in METHODS.items() if method.limits_asked]
    places = [place.id for place in project.locations]
    samples = select(Sample.id).where(col(Sample.location_id).in_(places))
    mine = or_(col(Test.location_id).in_(places), col(Test.sample_id).in_(samples))
    renew(session, session.exec(select(Test).where(col(Test.method).in_(judged), mine)).all())
    session.commit()
