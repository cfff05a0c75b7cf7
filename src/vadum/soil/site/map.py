"""A plan view drawn from coordinates: places in metres east and north, to one scale."""

from dataclasses import dataclass

from vadum.soil.bench.position import Position
from vadum.soil.contract.figure import Axis, Figure, Mark, Series

_LEAST_M = 2.0


@dataclass(frozen=True)
class Sited:
    """Something at a place: its position, what is written beside it, and the row or page it stands for."""

    position: Position
    words: str
    path: str | None = None


def plan_figure(sited: list[Sited], title: str = "Plan") -> Figure:
    """Return the places in metres from the most southwestern corner, north up.

    Arguments
    ---------
    sited : at least one place
    """
    corner = Position(min(s.position.latitude_deg for s in sited), min(s.position.longitude_deg for s in sited))
    at = [s.position.metres_from(corner) for s in sited]
    wide, tall = max(_LEAST_M, *(x for x, _ in at), 0.0), max(_LEAST_M, *(y for _, y in at), 0.0)
    return Figure(
        key="plan",
        title=title,
        description=f"{len(sited)} places in plan, north up: " + "; ".join(s.words for s in sited),
        caption=f"from {corner.latitude_deg:.6f}°, {corner.longitude_deg:.6f}°",
        x=Axis(label="east", unit="m", low=-0.12 * wide, high=1.25 * wide),
        y=Axis(label="north", unit="m", low=-0.12 * tall, high=1.18 * tall),
        equal=True,
        series=[
            Series(
                key="places",
                label="places",
                marks=[Mark(x=x, y=y, label=s.words) for (x, y), s in zip(at, sited, strict=True)],
            )
        ],
    )
