"""Findings: what is wrong with readings, how bad it is, and what to do at the bench now; declared once, with slots."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from numbers import Real
from types import ModuleType
from typing import Any, Literal

from pydantic import BaseModel, Field

from vadum.soil.numbers.written import fill

Severity = Literal["stop", "warn", "note"]
RANK: dict[Severity, int] = {"stop": 0, "warn": 1, "note": 2}


class Finding(BaseModel):
    """A doubt about readings.

    ``stop`` makes the result not reportable, ``warn`` prints on the sheet, ``note`` is shown to the technician.
    ``cells`` are the paths of the readings concerned (``trials.1.blows``); empty when it is about the whole test.
    ``says`` and ``do`` are the sentences as declared and ``values`` what stands in their slots, numbers in the units of
    the laboratory: with them a reader gets the finding in other units. ``awaited`` is what the next readings will mend
    by themselves, such as too few trials: they are asked for first.
    """

    severity: Severity
    code: str
    message: str
    action: str
    cells: list[str] = []
    says: str = ""
    do: str = ""
    values: dict[str, float | str] = {}
    awaited: bool = Field(default=False, exclude=True)

    @property
    def sentence(self) -> str:
        return f"{self.message} {self.action}"

    def answered_by(self, remarks: str) -> bool:
        """Return whether it asks for a remark, and one quotes it."""
        return "remarks" in self.action and self.message in remarks


@dataclass(frozen=True)
class Doubt:
    """A finding that a method can come to, declared once with named slots: ``{tin} weighs {mass:g g}``."""

    severity: Severity
    code: str
    says: str
    do: str
    awaited: bool = False
    goes_on: bool = False
    """What the run in hand will mend if it goes on, and is said first of all: no doubt about the reading just taken."""

    def at(self, /, *cells: str, **values: Any) -> Finding:
        """Return the finding at the readings concerned, its slots filled."""
        return Finding(
            severity=self.severity,
            code=self.code,
            message=fill(self.says, values),
            action=fill(self.do, values),
            cells=list(cells),
            says=self.says,
            do=self.do,
            values={name: float(v) if isinstance(v, Real) else str(v) for name, v in values.items()},
            awaited=self.awaited,
        )

    def grave(self) -> "Doubt":
        """Return the same doubt as one that stops: the sentence for a little and for far too much."""
        return replace(self, severity="stop")


def stop(code: str, says: str, do: str, *, awaited: bool = False, goes_on: bool = False) -> Doubt:
    """Declare what makes a result not reportable."""
    return Doubt("stop", code, says, do, awaited, goes_on)


def warn(code: str, says: str, do: str, *, awaited: bool = False, goes_on: bool = False) -> Doubt:
    """Declare what prints on the sheet."""
    return Doubt("warn", code, says, do, awaited, goes_on)


def note(code: str, says: str, do: str, *, awaited: bool = False) -> Doubt:
    """Declare what only the technician is told."""
    return Doubt("note", code, says, do, awaited)


def doubts_in(*places: ModuleType | Iterable[Doubt]) -> tuple[Doubt, ...]:
    """Return the findings declared in modules, or given, each once, in their order."""
    found: dict[Doubt, None] = {}
    for place in places:
        within: Iterable[Any] = vars(place).values() if isinstance(place, ModuleType) else place
        found |= dict.fromkeys(one for one in within if isinstance(one, Doubt))
    return tuple(found)


_SINGLY = 3


def grouped(findings: Iterable[Finding]) -> list[Finding]:
    """Return findings with those of one kind told once where there are more than three of them, in their order."""
    by_kind: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        by_kind.setdefault((finding.code, finding.severity), []).append(finding)
    told = []
    for alike in by_kind.values():
        told += alike if len(alike) <= _SINGLY else [_together(alike)]
    return told


def _together(alike: list[Finding]) -> Finding:
    first, more = alike[0], len(alike) - 1
    cells = list(dict.fromkeys(cell for finding in alike for cell in finding.cells))
    again = f" And {more} more like it."
    return first.model_copy(
        update={
            "message": first.message + again,
            "says": first.says + again,
            "cells": cells,
            "awaited": all(finding.awaited for finding in alike),
        }
    )
