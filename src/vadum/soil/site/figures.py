"""The characteristic figures of a site: limits, gradings, results against depth, results where they stand."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vadum.soil.bench.grading.figure import grading_figure
from vadum.soil.bench.grading.fractions import Convention
from vadum.soil.bench.position import Position
from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Point, Region, Series, end_beyond
from vadum.soil.physics.grading import Curve
from vadum.soil.site.map import Sited, plan_figure
from vadum.soil.site.plasticity_chart import plasticity_chart
from vadum.soil.site.values import Value

_NAMED = 16  # more marks than this have no room for names
_OVERLAID = 8  # more curves than this become an envelope
_GRID = 60

Named = tuple[str, list[Point]]


def _by_place(values: Sequence[Value], key: str) -> dict[tuple[str, str], Value]:
    """Return the newest value of a quantity by location and sample."""
    return {(v.location, v.sample): v for v in values if v.quantity.key == key}


def limits_figure(values: Sequence[Value]) -> Figure | None:
    """Return the plasticity chart with every sample that has both limits; None without one."""
    liquid, index = _by_place(values, "liquid_limit"), _by_place(values, "plasticity_index")
    both = sorted(liquid.keys() & index.keys())
    if not both:
        return None
    few = len(both) <= _NAMED
    marks = [
        Mark(x=liquid[p].reported, y=index[p].reported, label=f"{p[0]} {p[1]}".strip() if few else "") for p in both
    ]
    chart = plasticity_chart(max(m.x for m in marks), max(m.y for m in marks), [])
    said = "; ".join(f"{p[0]} {p[1]}: LL {liquid[p].text}, PI {index[p].text}" for p in both)
    return replace(
        chart,
        key="site-limits",
        description=f"Plasticity index against liquid limit of {len(both)} samples. {said}",
        series=[Series(key="samples", label="samples", marks=marks)],
    )


def gradings_figure(curves: Sequence[Named]) -> Figure | None:
    """Return the grain-size curves over one another; of many the envelope, each curve quiet in it. None without one."""
    curves = [(name, points) for name, points in curves if len(points) > 1]
    if not curves:
        return None
    few = len(curves) <= _OVERLAID
    company = [(name if few else "", points) for name, points in curves]
    drawn = grading_figure([], Curve.through([], []), Convention.UNIFIED, company)
    named = ", ".join(name for name, _ in curves)
    drawn = replace(
        drawn,
        key="site-gradings",
        title="Grain-size curves",
        description=f"Percent finer against diameter of {len(curves)} samples: {named}",
    )
    if few:
        return drawn
    return replace(drawn, regions=[_envelope(curves)], caption=f"envelope of {len(curves)} samples")


def _envelope(curves: Sequence[Named]) -> Region:
    """Return the area between the finest and the coarsest soil at every diameter."""
    laid = [Curve.through(*zip(*points, strict=True)) for _, points in curves]
    low, high = min(c.diameter_mm[0] for c in laid), max(c.diameter_mm[-1] for c in laid)
    diameters = np.geomspace(low, high, _GRID)
    # Beyond its ends a curve is unknown below, and all finer above.
    share = np.array(
        [np.interp(np.log(diameters), np.log(c.diameter_mm), c.finer_percent, left=np.nan, right=100.0) for c in laid]
    )
    top, bottom = np.nanmax(share, axis=0), np.nanmin(share, axis=0)
    points = [*zip(diameters, top, strict=True), *zip(diameters[::-1], bottom[::-1], strict=True)]
    return Region(key="envelope", points=[(float(d), float(p)) for d, p in points], role="accepted")


def depth_figure(
    values: Sequence[Value],
    keys: Sequence[str],
    *,
    key: str,
    title: str,
    label: str,
    unit: str,
    profiles: Sequence[Named] = (),
) -> Figure | None:
    """Return quantities of one unit against depth, depth downward; None without a value that has a depth.

    Arguments
    ---------
    keys : quantities, told apart by their names
    profiles : (value, depth in m) series by name, drawn as lines with marks
    """
    series = []
    for name in keys:
        found = [v for v in values if v.quantity.key == name and v.depth_m is not None]
        if found:
            marks = [Mark(x=v.reported, y=v.depth_m or 0.0, label=f"{v.location} {v.sample}".strip()) for v in found]
            series.append(Series(key=name, label=found[0].quantity.symbol, marks=marks))
    series += [
        Series(
            key=f"profile-{i}",
            label=name,
            role="company",
            marks=[Mark(x=x, y=y, label=name if not j else "") for j, (x, y) in enumerate(points)],
        )
        for i, (name, points) in enumerate(profiles)
    ]
    every = [m for s in series for m in s.marks]
    if not every:
        return None
    if len(profiles) > _OVERLAID:  # their lines say enough
        series = [s for s in series if s.role == "subject"]
    if sum(bool(m.label) for m in every) > _NAMED:
        series = [replace(s, marks=[replace(m, label="") for m in s.marks]) for s in series]
    lines = [
        Line(key=f"line-{i}", label="", role="company", points=list(points))
        for i, (_, points) in enumerate(profiles)
        if len(points) > 1
    ]
    return Figure(
        key=key,
        title=title,
        description=f"{label} against depth: " + "; ".join(f"{m.x:g} {unit} at {m.y:.2f} m" for m in every[:40]),
        caption=", ".join(s.label for s in series if s.role == "subject"),
        x=Axis(label=label, unit=unit, low=0, high=end_beyond(max(m.x for m in every))),
        y=Axis(label="depth", unit="m", low=0, high=end_beyond(max(m.y for m in every)), down=True),
        series=series,
        lines=lines,
    )


def consistency_figure(values: Sequence[Value]) -> Figure | None:
    """Return water content against depth between the limits of the same sample; None without a water content at a
    depth."""
    drawn = depth_figure(
        values,
        ["water_content"],
        key="site-water",
        title="Water content and limits with depth",
        label="water content",
        unit="%",
    )
    if drawn is None:
        return None
    plastic, liquid = _by_place(values, "plastic_limit"), _by_place(values, "liquid_limit")
    bars = [
        Line(key=f"limits-{i}", points=[(plastic[p].reported, at), (liquid[p].reported, at)], role="reference")
        for i, p in enumerate(sorted(plastic.keys() & liquid.keys()))
        if (at := plastic[p].depth_m) is not None
    ]
    most = max([drawn.x.high, *(line.points[1][0] for line in bars)])
    return replace(
        drawn,
        lines=bars,
        caption="w; bar from PL to LL" if bars else "w",
        x=replace(drawn.x, high=end_beyond(most)) if most > drawn.x.high else drawn.x,
    )


def place_figure(sited: Sequence[Sited], *, key: str, title: str) -> Figure | None:
    """Return results where they stand, several of one place in one label; None without a place."""
    if not sited:
        return None
    words: dict[Position, list[str]] = {}
    for one in sited:
        words.setdefault(one.position, []).append(one.words)
    return replace(plan_figure([Sited(at, ", ".join(some)) for at, some in words.items()], title), key=key)
