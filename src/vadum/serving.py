"""Serving a laboratory: held by one process, copied every day, and opened or refused in words."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import TypeVar

import typer

from vadum.diagnosis import keep_log
from vadum.heap import keep_for_good, share_memory

T = TypeVar("T")

# A connection is kept longer than the pause between two readings: one closed in the moment it is used again loses what
# was being sent on it.
IDLE_S = 75


def serve_laboratory(
    database: Path,
    host: str,
    port: int,
    bench_ports: Sequence[int],
    *,
    demo: bool,
    names: Iterable[str] = (),
    requests: bool = False,
) -> None:
    """Serve a laboratory until the process is told to end.

    Arguments
    ---------
    bench_ports : ports of the benches of instruments
    names : names it answers to beside its machine's own and ``host``
    requests : log every request, a JSON object each
    """
    share_memory()
    keep_log(database, structured=requests, requests=requests)
    with alone_on(database):
        # Heavy, and for nothing where another server has the laboratory.
        import uvicorn

        from vadum.web.app import create_app

        app = _or_say_why(lambda: create_app(database, bench_ports, demo=demo, names=[host, *names]), database)
        if not demo:
            _copied_daily(database)
            if app.state.first_code:
                typer.echo(f"Nobody is registered. The first manager's one-time code: {app.state.first_code}", err=True)
        keep_for_good()
        uvicorn.run(app, host=host, port=port, log_level="warning", timeout_keep_alive=IDLE_S)


@contextmanager
def alone_on(database: Path) -> Iterator[None]:
    """Hold a database, or say who does and stop."""
    from vadum.records.lock import HeldError, held

    with ExitStack() as stack:
        try:
            stack.enter_context(held(database))
        except HeldError as error:
            typer.echo(str(error), err=True)
            raise typer.Exit(2) from error
        yield


def _or_say_why(make: Callable[[], T], database: Path) -> T:
    """Return what opening a database makes; say in words why it cannot be opened."""
    import sqlite3

    from sqlalchemy.exc import DatabaseError

    from vadum.records.backup import BackupError

    try:
        return make()
    except (DatabaseError, sqlite3.Error, BackupError, OSError) as error:
        cause = getattr(error, "orig", None) or error
        typer.echo(f"{database} cannot be opened: {cause}.", err=True)
        typer.echo(
            "Put a copy in its place: vadum restore COPY (daily ones stand in the folder copies beside it).", err=True
        )
        raise typer.Exit(2) from error


def _copied_daily(database: Path) -> None:
    """Keep the day's copy of a database that is served, looked after every hour beside the server."""
    import threading
    import time
    from datetime import UTC, datetime

    from vadum.records.backup import BackupError, daily_copy

    def look() -> None:
        while True:
            try:
                daily_copy(database, datetime.now(UTC).date())
            except BackupError as error:
                typer.echo(f"No daily copy: {error}", err=True)
            time.sleep(3600)

    threading.Thread(target=look, daemon=True).start()
