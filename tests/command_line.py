"""The command line in the tests' own process: starting Python anew for each command takes seconds and shows nothing
more.

That it starts at all is tried once in a process, in ``tests/web/test_ground_tests.py``.
"""

from dataclasses import dataclass

from typer.testing import CliRunner

from vadum.cli import app


@dataclass(frozen=True)
class Said:
    """What a command answered."""

    returncode: int
    stdout: str
    stderr: str


def vadum(*words, database=None, stdin=None):
    """Run a command and return what it said; what it fails to catch is raised here as it would be there."""
    at = () if database is None else ("--database", str(database))
    result = CliRunner().invoke(app, [*map(str, words), *at], input=stdin)
    if result.exception is not None and not isinstance(result.exception, SystemExit):
        raise result.exception
    return Said(result.exit_code, result.stdout, result.stderr)
