"""Locations with layers and samples from elsewhere, into a new project or one that is here: first told, then taken.

Nothing that is on record is changed: a location or sample of the same name keeps its values, blanks are filled, and
where the two differ it is said.
"""

from dataclasses import dataclass, field
from typing import Any

from sqlmodel import Session, SQLModel, select

from vadum.records.tables import Location, Project, Sample, Stratum

Plain = dict[str, Any]


@dataclass(frozen=True)
class Brought:
    """A location as plain values of :class:`Location`, with those of its layers and samples."""

    location: Plain
    strata: list[Plain] = field(default_factory=list)
    samples: list[Plain] = field(default_factory=list)


@dataclass(frozen=True)
class Change:
    """What happens to one location or sample: new, filled (which blanks), kept (what differs), or the same.

    ``changes`` says whether anything would be written.
    """

    what: str
    kind: str
    details: list[str] = field(default_factory=list)
    changes: bool = True


def changes(session: Session, brought: list[Brought], project: Project | None) -> list[Change]:
    """Return what taking these would change; nothing is changed by asking."""
    with session.no_autoflush:
        found = _merge(brought, project)
    session.rollback()
    return found


def take(session: Session, brought: list[Brought], project: Project) -> list[Change]:
    """Add these to a project, new or known, in one transaction; return what changed."""
    session.add(project)
    found = _merge(brought, project)
    session.commit()
    return found


def same_name(session: Session, name: str) -> Project | None:
    """Return the project of a name, if there is one."""
    return session.exec(select(Project).where(Project.name == name)).first()


def _merge(brought: list[Brought], project: Project | None) -> list[Change]:
    known = {place.name: place for place in project.locations} if project else {}
    found = []
    for one in brought:
        place = known.get(one.location["name"])
        if place is None:
            place = Location(**one.location)
            if project is not None:
                project.locations.append(place)
            found.append(Change(place.name, "new"))
        else:
            found.append(_filled(place.name, place, one.location))
        if not place.strata:
            place.strata = [Stratum(**values) for values in one.strata]
        samples = {sample.name: sample for sample in place.samples}
        for values in one.samples:
            name = f"{place.name} {values['name']}"
            if (sample := samples.get(values["name"])) is not None:
                # What is known of its way here is not the sender's to change.
                found.append(_filled(name, sample, {key: new for key, new in values.items() if key != "custody"}))
            else:
                place.samples.append(Sample(**values))
                found.append(Change(name, "new"))
    return found


def _filled(what: str, row: SQLModel, values: Plain) -> Change:
    filled, kept = [], []
    for name, new in values.items():
        old = getattr(row, name)
        if new in (None, "") or old == new:
            continue
        label = name.rsplit("_", 1)[0]
        if old in (None, ""):
            setattr(row, name, new)
            filled.append(f"{label}: {new}")
        else:
            kept.append(f"{label}: {old} here, {new} in the file")
    if kept:
        return Change(what, "kept", kept + [f"{part} is filled in" for part in filled], bool(filled))
    return Change(what, "filled", filled) if filled else Change(what, "same", changes=False)
