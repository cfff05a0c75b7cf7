"""A test that belongs to another sample than was said, and a test that is made once more."""

from sqlmodel import Session, select

from vadum.records.changes import state_of
from vadum.records.database import writing
from vadum.records.dependents import renew, renew_dependents
from vadum.records.presets import begun
from vadum.records.proposed import propose
from vadum.records.saving import record, settle
from vadum.records.standing import FROZEN
from vadum.records.states import RefusedMove
from vadum.records.tables import Sample, Test, now
from vadum.soil.registry import method as method_of

_LEAST_REASON = 3


def to_sample(session: Session, test: Test, sample: Sample, who: str, reason: str) -> None:
    """Say that a test is of another sample of the project; what leans on it in both is renewed. Commits.

    Raises
    ------
    RefusedMove
        If it is checked, issued, void, of no sample, of another project's, or no reason is given.
    """
    with writing(session):
        _to_sample(session, test, sample, who, reason)


def _to_sample(session: Session, test: Test, sample: Sample, who: str, reason: str) -> None:
    old = test.sample
    if old is None:
        raise RefusedMove("Only a test of a sample is moved to another one.")
    if test.state in FROZEN or test.state == "void":
        raise RefusedMove(f"A {test.state} test stays where it is: reopen it first, with the reason.")
    if sample.location.project_id != old.location.project_id:
        raise RefusedMove("The other sample is of another project.")
    if sample.id == old.id:
        return
    if len(reason.strip()) < _LEAST_REASON:
        raise RefusedMove("Say how it came to be with the wrong sample; it is kept with the record.")
    before, was = state_of(test), _named(old)
    test.sample_id, test.sample, test.updated_at = sample.id, sample, now()
    record(session, test, before, who=who, what=f"moved: from {was} to {_named(sample)}", reason=reason.strip())
    session.flush()
    settle(session, test)
    renew_dependents(session, test)
    left = session.exec(select(Test).where(Test.sample_id == old.id)).all()
    renew(session, [one for one in left if one.kept or one.state != "planned"])
    session.commit()


def once_more(session: Session, test: Test) -> Test:
    """Return a planned test like this one, with its settings and equipment and none of its readings. Commits.

    Raises
    ------
    RefusedMove
        If it is practice.
    """
    if test.practice:
        raise RefusedMove("Practice is begun anew on its own page.")
    method, ground = method_of(test.method), test.ground
    again = begun(session, method, ground.project if ground else None, None)
    largest = test.sample.largest_particle_mm if test.sample else None
    again.settings, again.setting_origins = test.settings, test.setting_origins
    again.kept = method.begin(method.Settings.model_validate(test.settings), largest)
    again.sample_id, again.location_id, again.equipment_id = test.sample_id, test.location_id, test.equipment_id
    propose(again, test)
    session.add(again)
    session.commit()
    return again


def _named(sample: Sample) -> str:
    return f"{sample.location.name} {sample.name}"
