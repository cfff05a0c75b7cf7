"""Velocities by time with the steady ones, and the rings in section."""

from dataclasses import replace

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box, end_beyond
from vadum.soil.methods.double_ring.readings import RingReadings, RingSettings
from vadum.soil.methods.double_ring.velocities import Ring

_NAMES = {"inner": "inner ring", "outer": "between the rings"}


def velocity_figure(both: tuple[Ring, Ring], settings: RingSettings) -> Figure:
    """Return the velocity of every interval against time, for the inner ring and between them."""
    reach = end_beyond(max([10.0, *(r.to_min for ring in both for r in ring.rates)]))
    top = end_beyond(1.05 * max([1.0, *(60 * r.mm_min for ring in both for r in ring.rates)]))
    regions, lines, series = [], [], []
    said = "not steady yet"
    window, steady = both[0].window(settings), both[0].steady(settings)
    if window and steady is not None:
        off, mean = settings.within_percent / 100, 60 * steady
        span = (window[0].from_min, window[-1].to_min)
        regions.append(Region(key="window", points=box(span, ((1 - off) * mean, (1 + off) * mean))))
        said = f"inner ring steady at {mean:.3g} mm/h"
        lines.append(Line(key="steady", role="construction", label=said, points=[(span[0], mean), (span[1], mean)]))
    for ring in both:
        if ring.rates:
            marks = [Mark(x=r.to_min, y=60 * r.mm_min, path=f"readings.{r.row}") for r in ring.rates]
            name = _NAMES[ring.name]
            line = Line(key=f"rates-{ring.name}", role="reference", points=[(m.x, m.y) for m in marks])
            lines.append(line if ring.name == "inner" else replace(line, role="company", label=name))
            series.append(Series(key=ring.name, label=name, marks=marks))
    return Figure(
        key="rates",
        title="Velocity",
        description=f"Infiltration velocity of both rings against time. {said}.",
        caption=said,
        x=Axis(label="time", unit="min", low=0.0, high=reach),
        y=Axis(label="velocity", unit="mm/h", low=0.0, high=top),
        regions=regions,
        lines=lines,
        series=series,
    )


def ring_figure(readings: RingReadings) -> Figure | None:
    """Return both rings in section with their water, to scale; None before they are typed."""
    r = readings
    if r.inner_mm is None or r.outer_mm is None or r.inner_driven_mm is None:
        return None
    reach, depth = 0.65 * r.outer_mm, max(r.inner_driven_mm, r.outer_driven_mm or 0.0)
    above = max(200.0, 1.3 * max(r.inner_head_mm or 0.0, r.outer_head_mm or 0.0))
    lines, regions = [Line(key="ground", role="reference", points=[(-reach, 0.0), (reach, 0.0)])], []
    rings = (("inner", r.inner_mm, r.inner_driven_mm), ("outer", r.outer_mm, r.outer_driven_mm or r.inner_driven_mm))
    for name, across, driven in rings:
        for side in (-1, 1):
            x = side * across / 2
            lines.append(Line(key=f"{name}-{side}", role="company", points=[(x, -driven), (x, above)]))
    if r.inner_head_mm is not None:
        half = r.inner_mm / 2
        regions.append(Region(key="water-inner", role="water", points=box((-half, half), (0.0, r.inner_head_mm))))
    if r.outer_head_mm is not None:
        for side in (-1, 1):
            ends = sorted((side * r.inner_mm / 2, side * r.outer_mm / 2))
            points = box((ends[0], ends[1]), (0.0, r.outer_head_mm))
            regions.append(Region(key=f"water-outer-{side}", role="water", points=points))
    return Figure(
        key="section",
        title="Rings",
        description=f"Rings of {r.inner_mm:g} and {r.outer_mm:g} mm in section, with their water.",
        caption=f"rings of {r.inner_mm:g} and {r.outer_mm:g} mm",
        x=Axis(label="from the axis", unit="mm", low=-reach, high=reach),
        y=Axis(label="above ground", unit="mm", low=-1.6 * depth, high=1.1 * above),
        equal=True,
        regions=regions,
        lines=lines,
    )
