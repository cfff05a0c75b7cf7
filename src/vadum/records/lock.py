"""One server at a time on a laboratory: held by the operating system, so that a process that died holds nothing."""

import os
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

try:
    import fcntl
except ImportError:  # pragma: no cover - there is none on Windows: there the note alone tells who serves
    fcntl = None  # type: ignore[assignment]


class HeldError(Exception):
    """A laboratory that another process holds; the message says which."""


@contextmanager
def held(database: Path) -> Iterator[None]:
    """Hold a laboratory while it is served, or replaced.

    Raises
    ------
    HeldError
        If another process holds it.
    """
    path = database.with_name(f"{database.name}.lock")
    path.parent.mkdir(parents=True, exist_ok=True)
    # The file stays when it is let go: removing it would let two processes hold two files of one name.
    note = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        if fcntl is not None:
            try:
                fcntl.flock(note, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError as error:
                by = os.read(note, 200).decode(errors="replace").strip() or "another process"
                raise HeldError(f"{database} is served by {by}. Stop it first.") from error
        os.ftruncate(note, 0)
        os.pwrite(note, f"process {os.getpid()} on {socket.gethostname()}\n".encode(), 0)
        yield
    finally:
        os.close(note)
