"""Locations with layers and samples from elsewhere, into a new project or one that is here: first told, then taken.

A location or sample of the same name keeps its values, blanks are filled, and where the two differ it is said: line by
line the file's value is taken only where somebody chose it, with what stood there kept.
"""

from collections.abc import Collection, Iterable
from dataclasses import dataclass, field
from typing import Any, TypeVar

from sqlmodel import Session

from vadum.records.corrections import CorrectionError, note
from vadum.records.layers import words_of
from vadum.records.tables import Location, Project, Sample, Stratum

Plain = dict[str, Any]
Named = TypeVar("Named", Location, Sample)


@dataclass(frozen=True)
class Brought:
    """A location as plain values of :class:`Location`, with those of its layers and samples."""

    location: Plain
    strata: list[Plain] = field(default_factory=list)
    samples: list[Plain] = field(default_factory=list)


@dataclass(frozen=True)
class Differs:
    """A value that is another one in the file: the key by which it is chosen, and both in words."""

    key: str
    words: str


@dataclass(frozen=True)
class Change:
    """What happens to one location or sample: new, filled (which blanks), kept (what differs), or the same.

    ``changes`` says whether anything would be written of itself; ``differs`` is what may be chosen.
    """

    what: str
    kind: str
    details: list[str] = field(default_factory=list)
    differs: list[Differs] = field(default_factory=list)
    changes: bool = True


@dataclass(frozen=True)
class Chosen:
    """What a person takes from a file in the place of what stands here: keys, who, and why."""

    keys: Collection[str] = ()
    who: str = ""
    reason: str = ""


_NOTHING = Chosen()


def changes(session: Session, brought: list[Brought], project: Project | None) -> list[Change]:
    """Return what taking these would change; nothing is changed by asking."""
    with session.no_autoflush:
        found = _merge(session, brought, project, _NOTHING)
    session.rollback()
    return found


def take(session: Session, brought: list[Brought], project: Project, chosen: Chosen = _NOTHING) -> list[Change]:
    """Add these to a project, new or known, in one transaction; return what changed.

    Raises
    ------
    CorrectionError
        If what was chosen changes what checked tests print, without a reason; nothing is taken then.
    """
    session.add(project)
    try:
        found = _merge(session, brought, project, chosen)
    except CorrectionError:
        session.rollback()
        raise
    session.commit()
    return found


def _merge(session: Session, brought: list[Brought], project: Project | None, chosen: Chosen) -> list[Change]:
    known = _meant(project.locations if project else (), [one.location["name"] for one in brought])
    found = []
    for one in brought:
        place = known.get(one.location["name"])
        if place is None:
            place = Location(**one.location)
            place.strata = [Stratum(**values) for values in one.strata]
            if project is not None:
                project.locations.append(place)
            found.append(Change(place.name, "new"))
        else:
            found.append(_filled(session, place.name, place, one.location, chosen, one.strata))
        samples = _meant(place.samples, [values["name"] for values in one.samples])
        for values in one.samples:
            name = f"{place.name} {values['name']}"
            if (sample := samples.get(values["name"])) is not None:
                # What is known of its way here is not the sender's to change.
                own = {key: new for key, new in values.items() if key != "custody"}
                found.append(_filled(session, name, sample, own, chosen))
            else:
                place.samples.append(Sample(**values))
                found.append(Change(name, "new"))
    return found


def _meant(rows: Iterable[Named], names: list[str]) -> dict[str, Named]:
    """Return the rows that names in a file mean: of the very name, else of this name in other capitals, which a page
    would not take beside it either."""
    exact = {row.name: row for row in rows}
    alike = {name.casefold(): row for name, row in exact.items() if name not in names}
    found = {}
    for name in names:
        row = exact.get(name) or alike.pop(name.casefold(), None)
        if row is not None:
            found[name] = row
    return found


def _filled(
    session: Session,
    what: str,
    row: Location | Sample,
    values: Plain,
    chosen: Chosen,
    strata: list[Plain] | None = None,
) -> Change:
    """Fill the blanks of a row, take what was chosen, and say the rest."""
    filled, differs = [], []
    taken: dict[str, list[Any]] = {}
    for name, new in values.items():
        old = getattr(row, name)
        if new in (None, "") or old == new:
            continue
        label, key = name.rsplit("_", 1)[0], f"{what}|{name}"
        if old in (None, ""):
            setattr(row, name, new)
            filled.append(f"{label}: {new}")
        elif key in chosen.keys:
            taken[name] = [old, new]
        else:
            differs.append(Differs(key, f"{label}: {old} here, {new} in the file"))
    if strata and isinstance(row, Location):
        key, (here, there) = f"{what}|layers", (words_of(row.strata), words_of([Stratum(**one) for one in strata]))
        if not row.strata:
            filled.append(f"layers: {there}")
        elif key in chosen.keys and here != there:
            taken["layers"] = [here, there]
        elif here != there:
            differs.append(Differs(key, f"layers: {here} here, {there} in the file"))
        if not row.strata or "layers" in taken:
            for old in list(row.strata):
                session.delete(old)
            row.strata = [Stratum(**one) for one in strata]
    if taken:
        note(session, row, taken, chosen.who, chosen.reason)
        for name, (_, new) in taken.items():
            if name != "layers":
                setattr(row, name, new)
    if differs:
        return Change(what, "kept", [f"{part} is filled in" for part in filled], differs, changes=bool(filled))
    return Change(what, "filled", filled) if filled else Change(what, "same", changes=bool(taken))
