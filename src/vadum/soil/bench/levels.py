"""What run mode needs to read levels in several places or at several heads, each with its own clock."""

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel


class Series(BaseModel):
    """One clock: its number, name, when it was begun and where that is kept, what was read (row, minutes, level), what
    is said of it, the row of its own position where it has one, and which way its readings go while the water moves
    (given, or by the side on which its first reading lies of the level they go towards): one that goes the other way
    is asked about before it is kept."""

    number: int
    name: str
    clock: str
    startedAt: str = ""  # noqa: N815  read by the page under this name
    read: list[tuple[int, float, float]] = []
    says: str = ""
    place: str = ""
    towards: float | None = None
    way: Literal["falls", "rises", ""] = "falls"


def levels_view(
    table: str, by: str, reading: str, label: str, figure: str, series: list[Series], unit: str = "mm"
) -> dict[str, Any]:
    """Return the run's view.

    Arguments
    ---------
    table, by, reading : the table of readings, its column that names the series, and its column of the level
    """
    return {
        "levels": {
            "table": table,
            "by": by,
            "reading": reading,
            "keeps": "elapsed_min",
            "label": label,
            "unit": unit,
            "figure": figure,
            "series": [one.model_dump() for one in series],
        }
    }


def read_of(rows: list[tuple[int, float | None, float | None]]) -> list[tuple[int, float, float]]:
    """Return the rows of one series that have both a time and a level."""
    return [(i, minutes, level) for i, minutes, level in rows if minutes is not None and level is not None]


def iso(at: datetime | None) -> str:
    return at.isoformat() if at else ""
