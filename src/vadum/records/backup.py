"""Copies of the laboratory's database: consistent while it is in use, verified by opening them, rotated day by day."""

import os
import sqlite3
from contextlib import closing, suppress
from datetime import date
from pathlib import Path

KEPT_COPIES = 14
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
    """Put a verified copy in the place of a database; what stood there is kept beside it and returned.

    Raises
    ------
    BackupError
        If the copy is missing, damaged or no laboratory's.
    """
    if not copy.exists():
        raise BackupError(f"{copy}: there is no such copy.")
    verify(copy)
    aside = None
    if database.exists():
        aside = database.with_name(database.name + ".before-restore")
        backup_or_move(database, aside)
    for suffix in ("-wal", "-shm"):
        Path(f"{database}{suffix}").unlink(missing_ok=True)
    backup(copy, database)
    return aside


def backup_or_move(database: Path, aside: Path) -> None:
    """Keep a database aside: as a verified copy, or as the bare file when it is damaged."""
    try:
        backup(database, aside)
    except BackupError:
        os.replace(database, aside)


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
    """Make the day's copy unless it is there, and let the oldest go; return the copy when one was made.

    Raises
    ------
    BackupError
        If it cannot be made; the older copies stay.
    """
    folder = folder or database.parent / "copies"
    target = folder / f"{database.stem}-{today.isoformat()}{database.suffix}"
    if target.exists():
        return None
    backup(database, target)
    for old in sorted(folder.glob(f"{database.stem}-????-??-??{database.suffix}"))[:-KEPT_COPIES]:
        old.unlink()
    return target


def _open(path: Path) -> sqlite3.Connection:
    """Open without making a file where there is none."""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
