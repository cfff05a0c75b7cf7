"""Every test on record reduced again by the methods as they are now: which numbers would be others, and why.

It looks at a copy: what it reads may be of an older release, and is not brought up to this one by being looked at.
"""

import json
import os
import sqlite3
import tempfile
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import closing
from dataclasses import dataclass
from itertools import repeat
from pathlib import Path
from typing import Any

from sqlalchemy import create_engine
from sqlmodel import Session, col, func, select

from vadum.records.backup import backup
from vadum.records.database import open_database, session_on
from vadum.records.standing import FROZEN, live, summarise
from vadum.records.tables import Check, Test
from vadum.soil.registry import METHODS

# So many tests go to a process at a time: enough that the going costs little, few enough that none waits long.
_AT_ONCE = 200
_LOOKED_AT = ("running", "reduced", *FROZEN)


@dataclass(frozen=True)
class Changed:
    """A test of which something would be another: what was, what is now, and by which versions of its method."""

    test: int
    what: str
    state: str
    was_version: str
    version: str
    results: tuple[tuple[str, str, str], ...]

    @property
    def words(self) -> str:
        each = "; ".join(f"{symbol} {was or 'nothing'} -> {now or 'nothing'}" for symbol, was, now in self.results)
        versions = f"version {self.was_version or '1'} -> {self.version}"
        why = versions if self.was_version != self.version else f"version {self.version}, computed otherwise"
        return f"test {self.test}, {self.what} ({self.state}): {each}. {why}"


@dataclass(frozen=True)
class Recomputed:
    """How many tests were reduced again, and those of which something would be another."""

    count: int
    changed: list[Changed]


def recompute(database: Path) -> Recomputed:
    """Reduce every begun test of a laboratory again; the file is only read.

    Raises
    ------
    BackupError
        If it cannot be read.
    """
    with tempfile.TemporaryDirectory(prefix="vadum-") as folder:
        before, now = Path(folder) / "before.sqlite", Path(folder) / "now.sqlite"
        backup(database, before)
        backup(database, now)
        open_database(now).dispose()
        with session_on(create_engine(f"sqlite:///{now}")) as session:
            query = select(Test.id).where(col(Test.state).in_(_LOOKED_AT), Test.practice == {}).order_by(col(Test.id))
            numbers = [number for number in session.exec(query) if number is not None]
        slices = [numbers[i : i + _AT_ONCE] for i in range(0, len(numbers), _AT_ONCE)]
        with ProcessPoolExecutor(max_workers=os.cpu_count()) as processes:
            found = processes.map(_changed_in, repeat(before), repeat(now), slices)
            return Recomputed(len(numbers), [one for some in found for one in some])


def _changed_in(before: Path, now: Path, numbers: list[int]) -> list[Changed]:
    """Return which of some tests would change; run in a process of its own."""
    with closing(sqlite3.connect(before)) as connection:
        marks = ", ".join("?" * len(numbers))
        kept = {
            number: json.loads(summary)
            for number, summary in connection.execute(f"SELECT id, summary FROM test WHERE id IN ({marks})", numbers)
        }
    with session_on(create_engine(f"sqlite:///{now}")) as session:
        return list(_changes(session, numbers, kept))


def _changes(session: Session, numbers: list[int], kept: dict[int, dict[str, Any]]) -> Iterator[Changed]:
    newest = select(func.max(Check.id)).where(col(Check.test_id).in_(numbers)).group_by(col(Check.test_id))
    checks = {check.test_id: check for check in session.exec(select(Check).where(col(Check.id).in_(newest)))}
    for test in session.exec(select(Test).where(col(Test.id).in_(numbers)).order_by(col(Test.id))):
        method, check = METHODS.get(test.method), checks.get(test.id or 0)
        if method is None:
            continue
        if test.state in FROZEN and check is not None:
            # On the ground on which it was checked: whether that moved since is another question.
            reduction, version = method.reduce_raw(check.readings, check.settings, check.context), check.version
        else:
            reduction, version = live(session, test).reduction, test.version
        results = tuple(_differences(kept.get(test.id or 0, {}), summarise(reduction)))
        if results:
            what = f"{method.title} of {test.place or (test.equipment.name if test.equipment else 'nothing')}"
            yield Changed(test.id or 0, what, test.state, version, method.version, results)


def _differences(was: dict[str, Any], now: dict[str, Any]) -> Iterator[tuple[str, str, str]]:
    """Yield symbol, text before and text now of each result that would be another, and whether it may be reported."""
    before, after = was.get("parameters", {}), now["parameters"]
    for key in dict.fromkeys([*before, *after]):
        then, text = before.get(key, {}).get("text", ""), after.get(key, {}).get("text", "")
        if then != text:
            yield (before.get(key) or after[key])["symbol"], then, text
    for name, words in (("complete", "complete"), ("reportable", "may be reported")):
        if name in was and was[name] != now[name]:
            yield words, _yes(was[name]), _yes(now[name])


def _yes(said: bool) -> str:
    return "yes" if said else "no"
