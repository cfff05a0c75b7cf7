"""A reading knows its neighbours: relations that a method declares, and the one rule that names the reading which
breaks them.

The rule asks and never corrects. It says which slip of the hand would make the reading fit, when one would.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from math import log1p
from operator import itemgetter
from statistics import median_low
from typing import Any, NamedTuple, Protocol

import numpy as np
from pydantic import BaseModel

from vadum.soil.contract.field import Context, Leant, Readings
from vadum.soil.contract.finding import Doubt, Finding, stop, warn
from vadum.soil.contract.places import Column, Taken, column, declaring, path, place
from vadum.soil.contract.slip import slip_words
from vadum.soil.numbers.odd import NEAR_END, off_curve

# A value typed for one that a test of the sample gives may be rounded, not another.
_OTHER = 0.05

UNUSUAL_READING = warn(
    "unusual-reading",
    "{place}{label} {value:g ‹unit›} is unusual, {low:g [‹unit›]} to {high:g ‹unit›} as a rule{slip}",
    "Read it again, look at its unit and column; leave it if it is so.",
)
ODD_READING = warn(
    "odd-reading",
    "{place}{label} {value:g ‹unit›} does not fit the readings beside it, {near:.4g ‹unit›}{slip}",
    "Read it again and put it right; leave the row out with the reason if it cannot be mended.",
)
OUT_OF_ORDER = warn(
    "out-of-order",
    "{place}{label} {value:g ‹unit›} comes after {before:g ‹unit›} and should be {more}{slip}",
    "Look whether rows are exchanged or one stands twice; put it right, or leave the row out with the reason.",
)

OTHER_PIECE = warn(
    "other-piece",
    "{label}: typed {value:g ‹unit›}, {by} has {own:g ‹unit›} in the register.",
    "Look which piece is in use; clear the field to take the register's.",
)

STANDS_TWICE = warn(
    "out-of-order",
    "{place}{label} {value:g ‹unit›} stands in the row before too{slip}",
    "Leave one of the two rows out with the reason, or put it right.",
)
NAMED_TWICE = warn(
    "named-twice",
    "Rows {first} and {second} both say {name}.",
    "Leave one of the two out with the reason, or name the place that it was.",
)
LOG_NUMBER = stop(
    "log-number",
    "The logger file names {what} {number:g} in {rows:g} rows; there are 1 to {most:g}.",
    "Look which column of the file was taken for it; match the columns again.",
)

OTHER_TEST = warn(
    "other-test",
    "{label}: typed {value:g ‹unit›}, {source} gives {own:g ‹unit›}.",
    "Clear the field to take the sample's own test; keep it with the reason in the remarks if it is of another soil.",
)


class Member(NamedTuple):
    """A filled cell of a column: number of its row, the row, the reading."""

    row_number: int
    row: BaseModel
    value: float


class Relation(Protocol):
    """What holds between readings of a test."""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        """Yield a doubt about each reading that breaks it."""


@dataclass(frozen=True)
class Alike:
    """Readings of columns are of one size: within a ratio of half of the others at least, or so far apart at most.

    ``known`` is a column whose value looks a reading up in the register (the number of a tin): what stands there is not
    asked about.
    """

    columns: tuple[str, ...]
    ratio: float = 0.0
    apart: float = 0.0
    group: str = ""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        for name in self.columns:
            one = column(type(taken.readings), name)
            if not one.shown_in(settings):
                continue
            for members in taken.filled(one, self.group):
                yield from self._odd(one, [Member(*m) for m in members if not _registered(one, m[1], context)])

    def _odd(self, one: Column, members: list[Member]) -> Iterator[Finding]:
        for k, member in enumerate(members):
            value, others = member.value, [other.value for j, other in enumerate(members) if j != k]
            if not others:
                return
            near = median_low(others)
            alike = sum(self._fits(value, other) for other in others)
            # Of two that differ nobody knows which is wrong: the later one is asked about.
            if 2 * alike < len(others) and (len(members) > 2 or k == 1):
                slip = slip_words(value, partial(self._fits, near=near))
                yield asked(ODD_READING, one, member, near=near, slip=slip)

    def _fits(self, value: float, near: float) -> bool:
        if self.apart:
            return abs(value - near) <= self.apart
        return (value > 0 and near > 0 and near / self.ratio <= value <= near * self.ratio) or value == near


@dataclass(frozen=True)
class Smooth:
    """Readings lie on a curve over another column of their table, or over the logarithm of a time."""

    y: str
    x: str
    group: str = ""
    x_else: str = ""
    """The column that counts where ``x`` is blank: a time as it was planned."""
    log_x: bool = False
    near_end: float = NEAR_END
    unless: str = ""
    """The setting under which it does not hold."""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        one = column(type(taken.readings), self.y)
        if not one.shown_in(settings) or (self.unless and getattr(settings, self.unless)):
            return
        step = float(one.extra.get("resolution") or 0.0)
        for members in taken.filled(one, self.group):
            across = self._across if self.x_else else itemgetter(self.x)
            curve = [(x, m) for m in members if (x := across(m[1].__dict__)) is not None and x > -1]
            xs = [log1p(x) for x, _ in curve] if self.log_x else [x for x, _ in curve]
            for k, near in off_curve(xs, [m[2] for _, m in curve], step, self.near_end):
                member = Member(*curve[k][1])
                slip = slip_words(member.value, partial(_close, near=near, within=abs(member.value - near) / 4))
                yield asked(ODD_READING, one, member, near=near, slip=slip)

    def _across(self, held: dict[str, Any]) -> float | None:
        x: float | None = held[self.x]
        return held[self.x_else] if x is None else x


@dataclass(frozen=True)
class Rising:
    """Readings of a column rise from row to row, or fall."""

    of: str
    group: str = ""
    falls: bool = False
    level: bool = False
    """Whether two in a row may be alike."""
    slack: float = 0.0
    """By how much one may go back: what it is read to, and what the room does to it."""
    unless: str = ""
    """The setting under which it does not hold."""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        one = column(type(taken.readings), self.of)
        if not one.shown_in(settings) or (self.unless and getattr(settings, self.unless)):
            return
        sign = -1 if self.falls else 1
        for members in taken.filled(one, self.group):
            for (_, _, before), (i, row, value) in pairwise(members):
                rise = sign * (value - before)
                if rise > 0 or (self.level and rise >= -self.slack):
                    continue
                more = "less" if self.falls else "more"
                member = Member(i, row, value)
                slip = slip_words(value, partial(_follows, before=before, sign=sign))
                doubt = OUT_OF_ORDER if rise else STANDS_TWICE
                yield asked(doubt, one, member, before=before, more=more, slip=slip)


@dataclass(frozen=True)
class Once:
    """A name stands in one row of a table."""

    of: str

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        table, _, name = self.of.partition(".")
        seen: dict[str, int] = {}
        for i, row in taken.rows(table).get(1, []):
            said = (getattr(row, name) or "").strip().casefold()
            if said and said in seen:
                yield NAMED_TWICE.at(f"{table}.{i}.{name}", first=seen[said] + 1, second=i + 1, name=getattr(row, name))
            seen.setdefault(said, i)


@dataclass(frozen=True)
class Counted:
    """A logger file numbers what it records from 1 to the most there can be."""

    of: str
    most: int

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        name = self.of.rpartition(".")[2]
        log = taken.readings.log  # type: ignore[attr-defined]
        if log is None:
            return
        numbers = np.asarray(getattr(log, name))
        wild = numbers[~((numbers >= 1) & (numbers <= self.most) & (numbers == np.floor(numbers)))]
        if len(wild):
            yield LOG_NUMBER.at("log", what=name, number=float(wild[0]), rows=len(wild), most=self.most)


def unusual(taken: Taken, settings: BaseModel, context: Context) -> Iterator[Finding]:
    """Yield the readings outside the range that their column declares as usual; what the register knows is not asked
    about."""
    known = {name for piece in context.pieces() for name in piece.values}
    for one in declaring(type(taken.readings), "usual"):
        bounds = one.extra["usual"]
        if not one.shown_in(settings) or one.name in known:
            continue
        for i, holder in taken.cells(one):
            value = holder.__dict__[one.name]
            if value is not None and not _between(value, bounds):
                slip = slip_words(value, partial(_between, bounds=bounds))
                low, high = bounds
                yield asked(UNUSUAL_READING, one, Member(i, holder, value), low=low, high=high, slip=slip)


def differing(readings: Readings, context: Context) -> Iterator[Finding]:
    """Yield what is typed and is not the constant of the piece in use, or the result of the sample's own test."""
    for name in type(readings).model_fields:
        typed, own = getattr(readings, name), getattr(context, name, None)
        if typed is not None and isinstance(own, Leant) and abs(typed - own.value) > _OTHER * abs(own.value):
            one = column(type(readings), name)
            yield asked(OTHER_TEST, one, Member(0, readings, typed), source=own.source, own=own.value)
    for piece in context.pieces():
        for name, own in piece.differing(readings).items():
            member = Member(0, readings, getattr(readings, name))
            yield asked(OTHER_PIECE, column(type(readings), name), member, by=piece.by, own=own)


def asked(doubt: Doubt, one: Column, member: Member, *, slip: str = "", **values: Any) -> Finding:
    """Return a doubt about a reading, in the unit of its column; what a slip asks ends its sentence."""
    says = (
        doubt.says.replace("‹unit›", one.unit)
        if one.unit
        else doubt.says.replace(" [‹unit›]", "").replace(" ‹unit›", "")
    )
    where = place(one, member.row_number, member.row)
    label = one.label if where else one.label[:1].upper() + one.label[1:]
    filled = {"label": label, "place": where, "value": member.value, "slip": slip or "."} | values
    return replace(doubt, says=says).at(path(one, member.row_number), **filled)


def _registered(one: Column, row: BaseModel, context: Context) -> bool:
    """Return whether the register of tins knows the tin a mass was typed for: it is judged by that."""
    return one.name == "mass_tin_g" and getattr(row, "tin", None) in getattr(context, "tins", {})


def _between(value: float, bounds: tuple[float, float]) -> bool:
    return bounds[0] <= value <= bounds[1]


def _close(value: float, near: float, within: float) -> bool:
    return abs(value - near) < within


def _follows(value: float, before: float, sign: int) -> bool:
    return 0 < sign * (value - before) < abs(before)
