"""Tins into the register from a list: new ones, and old ones weighed again."""

import re
from dataclasses import dataclass
from datetime import date, timedelta

from sqlmodel import Session, select

from vadum.records.dependents import renew_users
from vadum.records.tables import Calibration, Equipment
from vadum.records.tares import TARE, weighings_of
from vadum.soil.numbers.entry import EntryError, parse_entry

LONGEST_NAME = 40
_LEAST_G, _MOST_G = 0.5, 5000.0
_SAME_G = 0.0005
# A tin that lost or gained more between two weighings is another tin, or a number was misread.
_APART_G, _APART_SHARE = 0.5, 0.02
# The tare that a tin had before anybody said on which day it was weighed.
_ONCE = date(2000, 1, 1)
_DAY = re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})|(\d{1,2})\.(\d{1,2})\.(\d{4})")


@dataclass(frozen=True)
class Pasted:
    """A tin of the list: its number, tare and day, what it had before, and why that is doubted."""

    name: str
    tare_g: float
    on: date
    before: float | None = None
    doubt: str = ""

    @property
    def changed(self) -> bool:
        return self.before is None or abs(self.tare_g - self.before) > _SAME_G


@dataclass(frozen=True)
class Looked:
    """What a pasted list would bring: its tins, or the lines that cannot be read."""

    tins: list[Pasted]
    faults: list[str]


def look(session: Session, text: str, today: date) -> Looked:
    """Read a list of tins, a line each: number, tare, and the day where it is not today; nothing is kept."""
    known = {one.name: one for one in session.exec(select(Equipment)).all()}
    alike = {name.casefold(): name for name in known}
    found: dict[str, Pasted] = {}
    faults = []
    for number, line in enumerate(text.splitlines(), 1):
        parts = _parts(line)
        if not parts or (number == 1 and not re.search(r"\d", line)):
            continue
        try:
            one = _read(parts, today)
            name, here = one.name.casefold(), known.get(one.name)
            if name in found:
                raise ValueError(f"{one.name} stands more than once")
            if here is None and name in alike:
                raise ValueError(f"the register calls {one.name} {alike[name]}: write it so")
            found[name] = _beside(one, here)
        except ValueError as error:
            faults.append(f"Line {number}: {error}.")
    return Looked(list(found.values()), faults)


def keep(session: Session, tins: list[Pasted], due_days: int | None, who: str) -> None:
    """Put tins into the register, or their new tares beside the earlier ones, and commit."""
    for one in tins:
        tin = session.exec(select(Equipment).where(Equipment.name == one.name)).first()
        if tin is None:
            tin = Equipment(name=one.name, kind="tin")
        elif tin.tare_g is not None and not weighings_of(session, tin):
            session.add(_weighing(tin, tin.tare_g, _ONCE, None, who, "as it stood in the register"))
        session.add(tin)
        session.flush()
        due = one.on + timedelta(days=due_days) if due_days else None
        session.add(_weighing(tin, one.tare_g, one.on, due, who, ""))
        session.flush()
        newest = weighings_of(session, tin)[-1]
        tin.tare_g = newest.constants[TARE]
        session.add(tin)
        session.flush()
        renew_users(session, tin)
    session.commit()


def _parts(line: str) -> list[str]:
    line = line.strip()
    for mark in ("\t", ";"):
        if mark in line:
            return [part.strip() for part in line.split(mark) if part.strip()]
    return line.split() if " " in line else [part.strip() for part in line.split(",") if part.strip()]


def _read(parts: list[str], today: date) -> Pasted:
    on, rest = today, parts
    if match := _DAY.fullmatch(parts[-1]):
        on, rest = _day(match), parts[:-1]
    if len(rest) > 2 and rest[-1] in ("g", "kg"):
        rest = [*rest[:-2], f"{rest[-2]} {rest[-1]}"]
    if len(rest) < 2:
        raise ValueError(f"“{' '.join(parts)}” needs a number and a tare")
    name = " ".join(rest[:-1])
    if len(name) > LONGEST_NAME:
        raise ValueError(f"“{name[:20]}…” is too long for a number")
    try:
        tare = parse_entry(rest[-1], "g")
    except EntryError as error:
        raise ValueError(str(error)) from error
    if not _LEAST_G <= tare <= _MOST_G:
        raise ValueError(f"{tare:g} g is no mass of a tin; {_LEAST_G:g} to {_MOST_G:g} g")
    if on > today:
        raise ValueError(f"{on} lies ahead")
    return Pasted(name, tare, on)


def _day(match: re.Match[str]) -> date:
    year, month, day, day_first, month_first, year_last = match.groups()
    try:
        return date(int(year or year_last), int(month or month_first), int(day or day_first))
    except ValueError as error:
        raise ValueError(f"{match[0]} is no day") from error


def _beside(one: Pasted, piece: Equipment | None) -> Pasted:
    if piece is None:
        return one
    if piece.kind != "tin":
        raise ValueError(f"{one.name} is a {piece.kind} of the register")
    before = piece.tare_g
    apart = before is not None and abs(one.tare_g - before) > max(_APART_G, _APART_SHARE * before)
    doubt = "far from what it was: another tin, or a number misread?" if apart else ""
    return Pasted(one.name, one.tare_g, one.on, before, doubt)


def _weighing(tin: Equipment, tare: float, on: date, due: date | None, who: str, note: str) -> Calibration:
    return Calibration(equipment_id=tin.id or 0, on=on, due=due, constants={TARE: tare}, who=who, note=note)
