"""Staggered starts for the hydrometer's run mode."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from vadum.soil.methods.hydrometer.stagger import MOST_CYLINDERS, next_starts

router = APIRouter(prefix="/api", tags=["preparation"])
# A reading of a sedimentation is due within days; beyond a year it is a slip, and no bench clock could separate it.
Minutes = Annotated[list[Annotated[float, Field(ge=0, le=525_600)]], Field(max_length=100)]


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
