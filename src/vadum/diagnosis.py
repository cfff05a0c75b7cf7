"""What went wrong, kept whole: one log beside the laboratory, every line with the request it belongs to."""

import json
import logging
import os
import platform
import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from importlib.metadata import version
from logging.handlers import RotatingFileHandler
from pathlib import Path

LARGEST_BYTES, KEPT = 1_000_000, 3
_STANDS_ON = ("fastapi", "pydantic", "sqlmodel", "numpy", "scipy", "typst", "uvicorn")
_request: ContextVar[str] = ContextVar("request", default="-")


def request_id() -> str:
    """Return the number of the request in hand, as a page that failed shows it; "-" outside of one."""
    return _request.get()


@contextmanager
def request_numbered() -> Iterator[str]:
    """Give what is logged within a number of its own."""
    number = secrets.token_hex(4)
    token = _request.set(number)
    try:
        yield number
    finally:
        _request.reset(token)


class _Numbered(logging.Filter):
    def filter(self, record: logging.LogRecord) -> bool:
        record.request = request_id()
        return True


class Structured(logging.Formatter):
    """A log line as one JSON object."""

    def format(self, record: logging.LogRecord) -> str:
        told = {"at": self.formatTime(record), "level": record.levelname, "from": record.name}
        told |= {"request": getattr(record, "request", "-"), "message": record.getMessage()}
        if record.exc_info:
            told["error"] = self.formatException(record.exc_info)
        return json.dumps(told, ensure_ascii=False)


def log_of(database: Path) -> Path:
    """Return where the log of a laboratory lies."""
    return database.with_suffix(".log")


def keep_log(database: Path, *, structured: bool = False, requests: bool = False) -> None:
    """Log beside a laboratory from here on: warnings and worse, every request too when asked for."""
    path = log_of(database)
    path.parent.mkdir(parents=True, exist_ok=True)
    handler = RotatingFileHandler(path, maxBytes=LARGEST_BYTES, backupCount=KEPT, encoding="utf-8", delay=True)
    handler.addFilter(_Numbered())
    plain = logging.Formatter("%(asctime)s %(levelname)s %(request)s %(name)s: %(message)s")
    handler.setFormatter(Structured() if structured else plain)
    mine = logging.getLogger("vadum")
    for old in [one for one in mine.handlers if isinstance(one, RotatingFileHandler)]:
        mine.removeHandler(old)
        old.close()
    mine.addHandler(handler)
    mine.setLevel(logging.INFO if requests else logging.WARNING)
    # What is said there may name people and samples.
    if not path.exists():
        os.close(os.open(path, os.O_CREAT | os.O_WRONLY, 0o600))


def about(database: Path) -> Iterator[str]:
    """Yield what somebody who helps from afar asks first: versions, machine, file, and the last lines of the log."""
    yield f"vadum {version('vadum')}, Python {platform.python_version()}, {platform.platform()}"
    yield ", ".join(f"{name} {version(name)}" for name in _STANDS_ON)
    if database.exists():
        yield f"{database}: {database.stat().st_size / 1e6:.1f} MB, mode {database.stat().st_mode & 0o777:o}"
    log = log_of(database)
    yield f"log: {log}" if log.exists() else f"log: {log}, nothing yet"
    if log.exists():
        yield from (f"  {line}" for line in log.read_text(encoding="utf-8", errors="replace").splitlines()[-20:])
