"""Copies of the laboratory's database: consistent while it is in use, verified by opening them, rotated day by day."""

import os
import re
import sqlite3
from contextlib import closing, suppress
from datetime import date
from pathlib import Path

from vadum.records.lock import held

KEPT_COPIES = 14
_DIGITS = 5
_BESIDE = ("-wal", "-shm")
_PAGES_AT_ONCE = 2000


class BackupError(Exception):
    """A copy that could not be made, or a file that is no laboratory; the message is for the person who asked."""


def backup(database: Path, target: Path) -> None:
    """Write a consistent copy of a database that may be in use; the target appears only once it is whole and verified.

    Raises
    ------
    BackupError
        If the database is missing or damaged, or the copy cannot be written.
    """
    if not database.exists():
        raise BackupError(f"{database}: there is no such database.")
    unfinished = target.with_name(target.name + ".unfinished")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        unfinished.unlink(missing_ok=True)
        unfinished.touch(mode=0o600)
        with closing(_open(database)) as source, closing(sqlite3.connect(unfinished)) as copy:
            source.backup(copy, pages=_PAGES_AT_ONCE)
            copy.execute("PRAGMA journal_mode=DELETE")
        verify(unfinished)
        os.replace(unfinished, target)
    except (sqlite3.Error, OSError) as error:
        raise BackupError(f"{target}: the copy was not made: {error}.") from error
    finally:
        with suppress(OSError):
            unfinished.unlink(missing_ok=True)


def restore(copy: Path, database: Path) -> Path | None:
    """Put a verified copy in the place of a database; what stood there is kept beside it, numbered, and returned.

    Raises
    ------
    BackupError
        If the copy is missing, damaged or no laboratory's.
    HeldError
        If a server holds the database.
    """
    if not copy.exists():
        raise BackupError(f"{copy}: there is no such copy.")
    with held(database):
        verify(copy)
        prepared = database.with_name(f"{database.name}.restoring")
        backup(copy, prepared)
        aside = _set_aside(database) if database.exists() else None
        for suffix in _BESIDE:
            Path(f"{database}{suffix}").unlink(missing_ok=True)
        os.replace(prepared, database)
    return aside


def _set_aside(database: Path) -> Path:
    """Keep a database aside: as a verified copy, or with all that belongs to it as it is when it is damaged."""
    number = 1
    while (aside := database.with_name(f"{database.name}.before-restore-{number}")).exists():
        number += 1
    try:
        backup(database, aside)
    except BackupError:
        os.replace(database, aside)
        for suffix in _BESIDE:
            if Path(f"{database}{suffix}").exists():
                os.replace(f"{database}{suffix}", f"{aside}{suffix}")
    return aside


def verify(path: Path) -> None:
    """Open a copy and look it through.

    Raises
    ------
    BackupError
        If it is damaged, its references do not hold, or it is no laboratory's.
    """
    try:
        with closing(_open(path)) as opened:
            said = [row[0] for row in opened.execute("PRAGMA integrity_check")]
            broken = opened.execute("PRAGMA foreign_key_check").fetchall()
            tables = {row[0] for row in opened.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    except sqlite3.Error as error:
        raise BackupError(f"{path}: it cannot be opened: {error}.") from error
    if said != ["ok"]:
        raise BackupError(f"{path}: it is damaged: {said[0]}.")
    if broken:
        raise BackupError(f"{path}: {len(broken)} references lead nowhere.")
    if not {"test", "revision", "alembic_version"} <= tables:
        raise BackupError(f"{path}: this is no laboratory of Vadum.")


def daily_copy(database: Path, today: date, folder: Path | None = None) -> Path | None:
    """Make the day's copy unless the newest one is of today, and let the oldest go; return the copy when one was made.

    Copies are numbered in the order in which they were made: what a clock said that was wrong for a while changes
    nothing.

    Raises
    ------
    BackupError
        If it cannot be made; the older copies stay.
    """
    folder = folder or database.parent / "copies"
    made = daily_copies(database, folder)
    if made and made[-1].stem.endswith(today.isoformat()):
        return None
    target = folder / f"{database.stem}-{_number(made[-1]) + 1 if made else 1:05d}-{today.isoformat()}{database.suffix}"
    backup(database, target)
    for old in [*made, target][:-KEPT_COPIES]:
        old.unlink(missing_ok=True)
    return target


def daily_copies(database: Path, folder: Path) -> list[Path]:
    """Return the daily copies in the order in which they were made; those of older releases, without a number,
    first."""
    pattern = re.compile(rf"{re.escape(database.stem)}-(\d{{5,}}-)?\d{{4}}-\d\d-\d\d{re.escape(database.suffix)}")
    found = [path for path in folder.glob(f"{database.stem}-*{database.suffix}") if pattern.fullmatch(path.name)]
    return sorted(found, key=lambda path: (_number(path), path.name))


def _number(path: Path) -> int:
    number = path.stem[:-11].rpartition("-")[2]
    return int(number) if number.isdecimal() and len(number) >= _DIGITS else 0


def _open(path: Path) -> sqlite3.Connection:
    """Open without making a file where there is none."""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
