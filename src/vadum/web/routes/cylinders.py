"""Staggered starts for the hydrometer's run mode."""

from datetime import UTC, datetime

from fastapi import APIRouter
from pydantic import BaseModel, Field

from vadum.soil.methods.hydrometer.stagger import MOST_CYLINDERS, next_starts

router = APIRouter(prefix="/api", tags=["preparation"])
Minutes = list[float]


class Bench(BaseModel):
    """Cylinders under way with their starts, and those that wait."""

    running: list[tuple[datetime, Minutes]] = Field(default=[], max_length=MOST_CYLINDERS)
    waiting: list[Minutes] = Field(default=[], max_length=MOST_CYLINDERS)


@router.post("/cylinders/starts")
def starts(bench: Bench) -> list[datetime]:
    """Say when to set down each waiting cylinder so that one pair of hands reaches every reading."""
    now = datetime.now(UTC)
    busy = [(begun - now).total_seconds() / 60 + due for begun, dues in bench.running for due in dues]
    return [datetime.fromtimestamp(now.timestamp() + 60 * at, UTC) for at in next_starts(busy, bench.waiting, 0.0)]
