"""Opening the database: SQLite in WAL mode, foreign keys on, every commit on disk before it is acknowledged."""

import json
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from functools import cache
from pathlib import Path
from typing import Any
from weakref import WeakKeyDictionary

from pydantic_core import from_json
from sqlalchemy import Engine, create_engine, event
from sqlmodel import Session

from vadum.records.once import forget
from vadum.records.plainly import teach

_BUSY_MS = 5000
_CONNECTIONS = 48
_SCRIPTS = Path(__file__).parent / "migrations"


def open_database(path: Path) -> Engine:
    """Return an engine on a laboratory brought up to this program; the file is made when missing.

    Raises
    ------
    BackupError
        If it has to be migrated and the copy before that cannot be made.
    """
    from vadum.records.catching_up import catch_up

    path.parent.mkdir(parents=True, exist_ok=True)
    _make_private(path)
    migrate(path)
    # A connection for every thread that may answer at once: one that waits for its turn to write holds one.
    engine = create_engine(
        f"sqlite:///{path}",
        connect_args={"check_same_thread": False},
        pool_size=_CONNECTIONS,
        json_deserializer=_read_json,
    )
    event.listen(engine, "connect", _configure)
    with session_on(engine) as session:
        catch_up(session)
    return engine


def _read_json(text: str) -> Any:
    """Return what a cell of JSON holds; a page reads hundreds of them, and most hold next to nothing."""
    try:
        return from_json(text)
    except ValueError:  # half a pair of surrogates, which the quicker reader does not take
        return json.loads(text)


def _make_private(path: Path) -> None:
    """Let nobody but the owner read a laboratory: it holds the key that signs its cookies."""
    if not path.exists():
        path.touch(mode=0o600)
    elif path.stat().st_mode & 0o077:
        with suppress(PermissionError):  # somebody else's file, who answers for it
            path.chmod(0o600)


def _configure(connection: Any, _record: Any) -> None:
    cursor = connection.cursor()
    cursor.execute(f"PRAGMA busy_timeout={_BUSY_MS}")
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.execute("PRAGMA synchronous=FULL")
    cursor.close()
    teach(connection)


def migrate(path: Path) -> None:
    """Bring a database to the newest migration, all steps in one transaction: it is the old one or the new one.

    A copy is made before one that holds anything is touched.
    """
    has = _version_of(path)
    if has == _newest():
        return
    if has:
        _copy_before(path, has)
    engine = create_engine(f"sqlite:///{path}", isolation_level="AUTOCOMMIT")
    try:
        with engine.connect() as connection:
            # The driver would commit before every CREATE and ALTER; told to keep its hands off, SQLite takes them all
            # back.
            connection.exec_driver_sql(f"PRAGMA busy_timeout={_BUSY_MS}")
            connection.exec_driver_sql("PRAGMA synchronous=FULL")
            connection.exec_driver_sql("BEGIN IMMEDIATE")
            try:
                _upgrade(connection)
            except BaseException:
                connection.exec_driver_sql("ROLLBACK")
                raise
            connection.exec_driver_sql("COMMIT")
    finally:
        engine.dispose()


@cache
def _newest() -> str | None:
    from alembic.script import ScriptDirectory

    return ScriptDirectory(str(_SCRIPTS)).get_current_head()


def _upgrade(connection: Any) -> None:
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(_SCRIPTS))
    config.attributes["connection"] = connection
    command.upgrade(config, "head")


def _version_of(path: Path) -> str:
    """Return the migration a database stands at; "" for a new one."""
    with closing(sqlite3.connect(path, timeout=_BUSY_MS / 1000)) as opened:
        if not opened.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone():
            return ""
        found = opened.execute("SELECT version_num FROM alembic_version").fetchone()
    return str(found[0]) if found else ""


def _copy_before(path: Path, version: str) -> None:
    from vadum.records.backup import backup

    target = path.parent / "copies" / f"{path.stem}-before-migration-from-{version}{path.suffix}"
    if not target.exists():
        backup(path, target)


_writers: WeakKeyDictionary[Engine, threading.RLock] = WeakKeyDictionary()
_finding = threading.Lock()


@contextmanager
def writing(session: Session) -> Iterator[None]:
    """Let one writer of this process after the other: SQLite takes one at a time, and who asks it again and again in
    between only takes time from the one who writes."""
    engine = session.get_bind()
    assert isinstance(engine, Engine)
    with _finding:
        lock = _writers.setdefault(engine, threading.RLock())
    with lock:
        forget(session)
        yield


@contextmanager
def session_on(engine: Engine) -> Iterator[Session]:
    """Yield a session that is closed afterwards; the caller commits."""
    with Session(engine, expire_on_commit=False) as session:
        yield session
