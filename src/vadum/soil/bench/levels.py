"""What run mode needs to read levels in several places or at several heads, each with its own clock."""

from datetime import datetime
from typing import Any

from pydantic import BaseModel


class Series(BaseModel):
    """One clock: its number, name, when it was begun and where that is kept, the last level, and what is said of it."""

    number: int
    name: str
    clock: str
    startedAt: str = ""  # noqa: N815  read by the page under this name
    last: float | None = None
    says: str = ""


def levels_view(
    table: str, by: str, reading: str, label: str, row: int, figure: str, series: list[Series]
) -> dict[str, Any]:
    """Return the run's view.

    Arguments
    ---------
    table, by, reading : the table of readings, its column that names the series, and its column of the level
    row : place of the next row
    """
    return {
        "levels": {
            "table": table,
            "by": by,
            "reading": reading,
            "keeps": "elapsed_min",
            "label": label,
            "unit": "mm",
            "row": row,
            "figure": figure,
            "series": [one.model_dump() for one in series],
        }
    }


def iso(at: datetime | None) -> str:
    return at.isoformat() if at else ""
