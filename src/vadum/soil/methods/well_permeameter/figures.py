"""Rates by time with the steady window, and the hole to scale as typed."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box
from vadum.soil.methods.well_permeameter.rates import Head
from vadum.soil.methods.well_permeameter.readings import WellReadings, WellSettings


def rate_figure(made: list[Head], settings: WellSettings) -> Figure:
    """Return the rate of every interval against time; the steady window is shaded with its mean drawn."""
    reach = 1.06 * max([10.0, *(r.to_min for h in made for r in h.rates)])
    top = 1.15 * max([1.0, *(r.mm_min for h in made for r in h.rates)])
    regions, lines, series = [], [], []
    for head in made:
        window, steady = head.window(settings), head.steady_mm_min(settings)
        if window and steady is not None:
            span = (window[0].from_min, window[-1].to_min)
            off = settings.within_percent / 100
            regions.append(
                Region(key=f"window-{head.number}", points=box(span, ((1 - off) * steady, (1 + off) * steady)))
            )
            lines.append(
                Line(
                    key=f"steady-{head.number}",
                    role="construction",
                    label=f"head {head.number}: {steady:.3g} mm/min",
                    points=[(span[0], steady), (span[1], steady)],
                )
            )
        if head.rates:
            marks = [Mark(x=r.to_min, y=r.mm_min, path=f"levels.{r.row}") for r in head.rates]
            lines.append(Line(key=f"rates-{head.number}", role="company", points=[(m.x, m.y) for m in marks]))
            series.append(Series(key=f"head-{head.number}", label=f"head {head.number}", marks=marks))
    said = "; ".join(line.label for line in lines if line.label) or "not steady yet"
    return Figure(
        key="rates",
        title="Rate",
        description=f"Fall of the reservoir's level against time. {said}.",
        caption=said,
        x=Axis(label="time", unit="min", low=0.0, high=reach),
        y=Axis(label="rate", unit="mm/min", low=0.0, high=top),
        regions=regions,
        lines=lines,
        series=series,
    )


def hole_figure(readings: WellReadings) -> Figure | None:
    """Return the hole, its water and the section of the reservoir, to scale as typed; None before they are."""
    a, depth = readings.radius_mm, readings.hole_depth_mm
    if a is None or depth is None:
        return None
    reach = max(3 * a, 0.45 * depth)
    lines = [
        Line(key="ground-left", role="reference", points=[(-reach, 0.0), (-a, 0.0)]),
        Line(key="ground-right", role="reference", points=[(a, 0.0), (reach, 0.0)]),
        Line(key="hole", role="reference", points=[(-a, 0.0), (-a, -depth), (a, -depth), (a, 0.0)]),
    ]
    regions = []
    for number, head in ((2, readings.head_2_mm), (1, readings.head_1_mm)):
        if head is not None:
            regions.append(Region(key=f"water-{number}", role="water", points=box((-a, a), (-depth, -depth + head))))
            lines.append(
                Line(
                    key=f"head-{number}",
                    role="company",
                    label=f"head {number}: {head:g} mm",
                    points=[(-a, -depth + head), (0.9 * reach, -depth + head)],
                )
            )
    table = readings.water_table_m
    if table is not None and table * 1000 < 1.6 * depth:
        lines.append(
            Line(
                key="table",
                role="construction",
                label="water table",
                points=[(-reach, -1000 * table), (reach, -1000 * table)],
            )
        )
    return Figure(
        key="hole",
        title="Hole",
        description=f"Hole of radius {a:g} mm, {depth:g} mm deep, drawn to scale with its heads.",
        caption=f"radius {a:g} mm, depth {depth:g} mm",
        x=Axis(label="from the axis", unit="mm", low=-reach, high=reach),
        y=Axis(label="below ground", unit="mm", low=-1.12 * depth, high=0.1 * depth),
        equal=True,
        regions=regions,
        lines=lines,
    )
