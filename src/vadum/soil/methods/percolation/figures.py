"""Rates by interval with the steady ones, and the hole to scale with its water."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box, end_beyond
from vadum.soil.methods.percolation.intervals import Interval
from vadum.soil.methods.percolation.readings import PercolationReadings, PercolationSettings


def rate_figure(made: list[Interval], window: list[Interval], settings: PercolationSettings) -> Figure:
    """Return the rate of every interval in their order; the steady ones are shaded."""
    rates = [60 * one.steadied.mm_min for one in made]
    marks = [Mark(x=k + 1, y=y, path=f"levels.{one.row}") for k, (y, one) in enumerate(zip(rates, made, strict=True))]
    falls = [(k + 1.0, 60 * one.fall_mm_min) for k, one in enumerate(made) if one.rate_mm_min is not None]
    regions, lines = [], []
    said = "not steady yet"
    if window:
        mean = sum(60 * one.steadied.mm_min for one in window) / len(window)
        off = settings.within_percent / 100
        span = (len(made) - len(window) + 0.6, len(made) + 0.4)
        regions.append(Region(key="window", points=box(span, ((1 - off) * mean, (1 + off) * mean))))
        said = f"steady at {mean:.3g} mm/h"
        lines.append(Line(key="steady", role="construction", label=said, points=[(span[0], mean), (span[1], mean)]))
    lines.append(Line(key="rates", role="reference", points=[(m.x, m.y) for m in marks]))
    if falls:
        lines.append(Line(key="falls", role="company", label="fall in the hole", points=falls))
    top = max([1.0, *rates, *(y for _, y in falls)])
    return Figure(
        key="rates",
        title="Rate",
        description=f"Rate of every interval in the order in which they were read. {said}.",
        caption=said,
        x=Axis(label="interval", low=0.0, high=float(max(4, len(made) + 1))),
        y=Axis(label="through wall and base", unit="mm/h", low=0.0, high=end_beyond(1.05 * top)),
        regions=regions,
        lines=lines,
        series=[Series(key="intervals", label="intervals", marks=marks)] if marks else [],
    )


def hole_figure(readings: PercolationReadings) -> Figure | None:
    """Return the hole and the water of its first level, to scale; None before they are typed."""
    if readings.hole_diameter_mm is None or readings.hole_depth_mm is None:
        return None
    a, depth = readings.hole_diameter_mm / 2, readings.hole_depth_mm
    reach = max(3 * a, 0.45 * depth)
    lines = [
        Line(key="ground-left", role="reference", points=[(-reach, 0.0), (-a, 0.0)]),
        Line(key="ground-right", role="reference", points=[(a, 0.0), (reach, 0.0)]),
        Line(key="hole", role="reference", points=[(-a, 0.0), (-a, -depth), (a, -depth), (a, 0.0)]),
    ]
    regions = []
    first = next((row.level_mm for row in readings.levels if row.used and row.level_mm is not None), None)
    if first is not None and readings.base_mm is not None and 0 < (water := abs(first - readings.base_mm)) <= depth:
        regions.append(Region(key="water", role="water", points=box((-a, a), (-depth, water - depth))))
        label = f"{water:g} mm of water"
        lines.append(
            Line(key="water", role="company", label=label, points=[(-a, water - depth), (0.9 * reach, water - depth)])
        )
    return Figure(
        key="hole",
        title="Hole",
        description=f"Hole of {2 * a:g} mm, {depth:g} mm deep, drawn to scale with the water of its first level.",
        caption=f"diameter {2 * a:g} mm, depth {depth:g} mm",
        x=Axis(label="from the axis", unit="mm", low=-reach, high=reach),
        y=Axis(label="below ground", unit="mm", low=-1.12 * depth, high=0.1 * depth),
        equal=True,
        regions=regions,
        lines=lines,
    )
