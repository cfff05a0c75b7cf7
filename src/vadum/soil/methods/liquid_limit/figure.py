"""The flow curve and the cone line as figures."""

import math
from collections.abc import Sequence

from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Point, Region, Series, box
from vadum.soil.methods.liquid_limit.equations import STANDARD_BLOWS
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, School

DRY_END_BLOWS, WET_END_BLOWS = 35.0, 15.0


def limit_figure(
    marks: list[Mark],
    ends: tuple[Point, Point] | None,
    limit: float | None,
    settings: LiquidLimitSettings,
    caption: str,
) -> Figure:
    """Return the construction: trials, the line between ``ends``, and the reading at 25 blows or the cone's own
    penetration."""
    cone = settings.cone
    standard = cone.at_limit_mm if cone else STANDARD_BLOWS
    low, high = settings.accepted
    y_low, y_high = _y_range(marks, limit)
    x = (
        Axis(label="cone penetration", unit="mm", low=low - 5, high=high + 5)
        if cone
        else Axis(
            label="blows to close the groove", scale="log", low=10, high=50, ticks=[10, 15, 20, 25, 30, 35, 40, 50]
        )
    )
    lines = []
    if ends:
        lines.append(Line(key="fit", points=list(ends), role="construction" if _by_hand(settings) else "fit"))
    if limit is not None:
        lines.append(
            Line(key="read-off", points=[(x.low, limit), (standard, limit), (standard, y_low)], role="construction")
        )
    what = f"{cone.at_limit_mm:g} mm" if cone else "25 blows"
    return Figure(
        key="flow-curve",
        title="Cone line" if cone else "Flow curve",
        description=_words(marks, limit, what, settings.school.label),
        x=x,
        y=Axis(label="water content", unit="%", low=y_low, high=y_high),
        caption=caption,
        regions=[Region(key="window", label=f"{low:g}–{high:g}", points=box((low, high), (y_low, y_high)))],
        lines=lines,
        series=[Series(key="trials", label="trials", marks=marks)],
        handles=_handles(ends, settings, y_low, y_high) if ends and settings.school == School.MULTIPOINT else [],
        result=Mark(x=standard, y=limit, label=f"{limit:.1f} % at {what}") if limit is not None else None,
    )


def _by_hand(settings: LiquidLimitSettings) -> bool:
    return settings.hand_line_dry_percent is not None or settings.hand_line_wet_percent is not None


def _handles(ends: tuple[Point, Point], settings: LiquidLimitSettings, low: float, high: float) -> list[Handle]:
    (x0, y0), (x1, y1) = ends

    def at(blows: float) -> float:
        share = math.log(blows / x0) / math.log(x1 / x0)
        return y0 + share * (y1 - y0)

    return [
        Handle(
            setting=name,
            label=f"line at {blows:g} blows",
            x=blows,
            y=at(blows),
            along="y",
            low=low,
            high=high,
            step=0.1,
            overridden=getattr(settings, name) is not None,
        )
        for name, blows in (("hand_line_wet_percent", WET_END_BLOWS), ("hand_line_dry_percent", DRY_END_BLOWS))
    ]


def _y_range(marks: Sequence[Mark], limit: float | None) -> tuple[float, float]:
    values = [mark.y for mark in marks] + ([limit] if limit is not None else [])
    if not values:
        return 20.0, 60.0
    low, high = min(values), max(values)
    margin = max(2.0, 0.35 * (high - low))
    return max(0.0, math.floor((low - margin) / 2) * 2.0), math.ceil((high + margin) / 2) * 2.0


def _words(marks: Sequence[Mark], limit: float | None, what: str, school: str) -> str:
    used = [mark for mark in marks if mark.in_hand and not mark.left_out]
    said = ", ".join(f"{mark.y:.1f} % at {mark.x:g}" for mark in used) or "none yet"
    end = f" Liquid limit read at {what}: {limit:.1f} %." if limit is not None else ""
    return f"Water content against {'penetration' if 'mm' in what else 'blows'}, {school}. Trials: {said}.{end}"
