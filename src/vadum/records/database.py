"""Opening the database: SQLite in WAL mode, foreign keys on, every commit on disk before it is acknowledged."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event
from sqlmodel import Session

_BUSY_MS = 5000


def open_database(path: Path) -> Engine:
    """Return an engine on a database brought up to the newest migration; the file is made when missing."""
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"check_same_thread": False})
    event.listen(engine, "connect", _configure)
    migrate(engine)
    return engine


def _configure(connection: Any, _record: Any) -> None:
    cursor = connection.cursor()
    cursor.execute(f"PRAGMA busy_timeout={_BUSY_MS}")
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA foreign_keys=ON")
    cursor.execute("PRAGMA synchronous=FULL")
    cursor.close()


def migrate(engine: Engine) -> None:
    """Bring the database to the newest migration."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


@contextmanager
def session_on(engine: Engine) -> Iterator[Session]:
    """Yield a session that is closed afterwards; the caller commits."""
    with Session(engine, expire_on_commit=False) as session:
        yield session
