"""Findings: what is wrong with readings, how bad it is, and what to do at the bench now."""

from typing import Literal

from pydantic import BaseModel

Severity = Literal["stop", "warn", "note"]
RANK: dict[Severity, int] = {"stop": 0, "warn": 1, "note": 2}


class Finding(BaseModel):
    """A doubt about readings.

    ``stop`` makes the result not reportable, ``warn`` prints on the sheet, ``note`` is shown to the technician.
    ``cells`` are the paths of the readings concerned (``trials.1.blows``); empty when it is about the whole test.
    """

    severity: Severity
    code: str
    message: str
    action: str
    cells: list[str] = []


def stop(code: str, message: str, action: str, *cells: str) -> Finding:
    return Finding(severity="stop", code=code, message=message, action=action, cells=list(cells))


def warn(code: str, message: str, action: str, *cells: str) -> Finding:
    return Finding(severity="warn", code=code, message=message, action=action, cells=list(cells))


def note(code: str, message: str, action: str, *cells: str) -> Finding:
    return Finding(severity="note", code=code, message=message, action=action, cells=list(cells))
