"""Correcting what was typed of projects, locations, samples and equipment: who, when, from what to what, and why."""

from collections.abc import Iterable, Mapping
from typing import Any

from sqlalchemy.orm import object_session
from sqlmodel import Session, col, select

from vadum.records.dependents import renew_all, renew_users, users_of
from vadum.records.standing import FROZEN
from vadum.records.tables import Calibration, Correction, Equipment, Location, Project, Sample, Test

Corrected = Project | Location | Sample | Equipment
_LEAST_REASON = 3


class CorrectionError(ValueError):
    """A correction that is not made; ``field`` is where it hangs, the message is for the person who typed.

    ``others`` are the fields that somebody else changed meanwhile and this hand did not.
    """

    def __init__(self, field: str, message: str, others: Iterable[str] = ()) -> None:
        super().__init__(message)
        self.field, self.others = field, frozenset(others)


def tests_of(row: Corrected) -> list[Test]:
    """Return the tests of a project, location or sample, those of what lies in it too; of a piece those it is used in,
    its own inspections among them."""
    if isinstance(row, Equipment):
        session = object_session(row)
        return [*row.tests, *users_of(session, row)] if isinstance(session, Session) else []
    if isinstance(row, Sample):
        return list(row.tests)
    if isinstance(row, Location):
        return [*row.tests, *(test for sample in row.samples for test in sample.tests)]
    return [test for place in row.locations for test in tests_of(place)]


def needs_reason(row: Corrected) -> bool:
    """Return whether something that was checked says what this says: then it is not changed without a reason."""
    return any(test.state in FROZEN for test in tests_of(row))


def correct(session: Session, row: Corrected, values: Mapping[str, Any], who: str, reason: str = "") -> None:
    """Put in what is right, keep what stood there before, and commit.

    Raises
    ------
    CorrectionError
        If the name is taken, or something that was checked needs a reason.
    """
    changed = {k: [_plain(getattr(row, k)), _plain(v)] for k, v in values.items() if getattr(row, k) != v}
    if not changed:
        return
    if "name" in changed and (taken := _same_name(session, row, str(values["name"]))):
        raise CorrectionError("name", f"there is “{taken}” already")
    if "name" in changed and isinstance(row, Equipment) and row.kind == "tin" and (named := tests_of(row)):
        raise CorrectionError("name", f"{len(named)} tests name this tin: its number stays")
    note(session, row, changed, who, reason)
    for name, value in values.items():
        setattr(row, name, value)
    session.add(row)
    session.flush()
    if isinstance(row, Equipment):
        renew_users(session, row)
    elif isinstance(row, Sample):
        renew_all(session, row.tests)
    session.commit()


def own_of(session: Session, row: Corrected, values: Mapping[str, Any], seen: int | None) -> dict[str, Any]:
    """Return what of a form its hand changed, where others changed something since it was drawn: what it shows as it
    stood then is nobody's wish.

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile to something else.
    """
    was = {name: _plain(getattr(row, name)) for name in values}
    will = {name: _plain(value) for name, value in values.items()}
    others = left_to_others(corrections_of(session, row), was, will, seen)
    return {name: value for name, value in values.items() if name not in others}


def left_to_others(
    corrections: list[Correction], was: Mapping[str, Any], will: Mapping[str, Any], seen: int | None
) -> set[str]:
    """Return what of a form somebody else changed since it was drawn and its hand did not.

    Arguments
    ---------
    corrections : of the same, the newest first
    was, will : what is on record, and what the form says
    seen : the newest correction that the hand saw, 0 for none; None where it does not say

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile to something else.
    """
    since = [one for one in corrections if seen is not None and (one.id or 0) > seen]
    stood: dict[str, tuple[Any, str]] = {}
    for one in since:
        for name, (before, _) in one.changed.items():
            # The first before it counts, and the last who changed it.
            stood[name] = before, stood[name][1] if name in stood else one.who
    others = {name for name, (before, _) in stood.items() if will.get(name, before) == before}
    both = [
        f"{who} changed this meanwhile: {name.split('_')[0]} {_told(before)} → {_told(was[name])}."
        for name, (before, who) in stood.items()
        if name not in others and will[name] != was[name]
    ]
    if both:
        # All of them: what is saved after looking takes the place of each.
        raise CorrectionError("meanwhile", f"{' '.join(both)} Yours stands here: look, then save again.", others)
    return others


def _told(value: Any) -> Any:
    return "blank" if value in ("", None) else value


def ask_why(row: Corrected, reason: str) -> None:
    """Refuse what takes something back without a reason where something was checked.

    Raises
    ------
    CorrectionError
        If it needs a reason and has none.
    """
    if needs_reason(row) and len(reason.strip()) < _LEAST_REASON:
        raise CorrectionError("reason", "say why: checked tests print this")


def note(session: Session, row: Corrected, changed: Mapping[str, list[Any]], who: str, reason: str) -> None:
    """Keep what is corrected of a row, from what to what; does not commit.

    Raises
    ------
    CorrectionError
        If something that was checked needs a reason.
    """
    # Filling a blank takes nothing back.
    if any(before not in ("", None) for before, _ in changed.values()):
        ask_why(row, reason)
    keep_note(session, row, changed, who, reason)


def keep_note(
    session: Session, row: Corrected | None, changed: Mapping[str, list[Any]], who: str, reason: str = ""
) -> None:
    """Keep what is changed of a row, or of the laboratory, whether or not something was checked; does not commit."""
    of, key = whose(row)
    session.add(Correction(of=of, row_id=key, who=who, reason=reason.strip(), changed=dict(changed)))


def corrections_of(session: Session, row: Corrected | None) -> list[Correction]:
    """Return what was corrected of a row, or chosen otherwise in the laboratory, the newest first."""
    of, key = whose(row)
    asked = select(Correction).where(Correction.of == of, Correction.row_id == key)
    return list(session.exec(asked.order_by(col(Correction.id).desc())).all())


def remove(session: Session, row: Location | Sample | Equipment, who: str) -> None:
    """Take away a location, sample or piece that nothing leans on, note it where it lay, and commit.

    Raises
    ------
    CorrectionError
        If there are tests, samples or layers in it, or tests that used it.
    """
    tests = tests_of(row)
    if tests and isinstance(row, Equipment):
        raise CorrectionError("", f"{row.name} is in {len(tests)} tests: it stays. Let its calibration run out.")
    if tests:
        raise CorrectionError("", f"{row.name} has tests: it stays. Void what is wrong, with the reason.")
    if isinstance(row, Location) and (row.samples or row.strata):
        raise CorrectionError("", f"{row.name} has samples or layers: it stays until they are gone.")
    if isinstance(row, Equipment):
        for one in session.exec(select(Calibration).where(Calibration.equipment_id == row.id)):
            session.delete(one)
        keep_note(session, None, {"register: removed": [f"{row.name}, {row.kind}", ""]}, who)
    elif isinstance(row, Sample):
        keep_note(session, row.location, {"removed": [f"{row.name}, {row.top_m:g}–{row.base_m:g} m", ""]}, who)
    else:
        keep_note(session, row.project, {"removed": [f"{row.name}, {row.depth_m:g} m", ""]}, who)
    for told in corrections_of(session, row):
        # The next row gets this one's key: it would be told of that.
        session.delete(told)
    session.delete(row)
    session.commit()


def hand_over(session: Session, location: Location, into: Location) -> None:
    """Tell of another location what was corrected of this one, which is taken away; does not commit."""
    for told in corrections_of(session, location):
        told.row_id = into.id or 0
        told.changed = {f"{location.name}: {field}": both for field, both in told.changed.items()}
        session.add(told)


def name_taken(session: Session, among: type[Corrected], name: str, inside: int | None = None) -> str:
    """Return the name as it stands where it is taken, in whatever capitals; "" where it is free.

    Arguments
    ---------
    inside : key of the project of a location, of the location of a sample
    """
    asked: Any = select(among)
    if among is Location:
        asked = asked.where(Location.project_id == inside)
    elif among is Sample:
        asked = asked.where(Sample.location_id == inside)
    wanted = name.strip().casefold()
    return next((one.name for one in session.exec(asked) if one.name.casefold() == wanted), "")


def _same_name(session: Session, row: Corrected, name: str) -> str:
    inside = row.project_id if isinstance(row, Location) else row.location_id if isinstance(row, Sample) else None
    taken = name_taken(session, type(row), name, inside)
    return "" if taken.casefold() == row.name.casefold() else taken


def whose(row: Corrected | None) -> tuple[str, int]:
    """Return of what kind of row, and of which, its corrections tell; None is the laboratory."""
    return (type(row).__name__.lower(), row.id or 0) if row is not None else ("laboratory", 0)


def _plain(value: Any) -> Any:
    return value if isinstance(value, str | int | float | None) else str(value)
