"""Water by time for every fill, and the pit in section."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box, end_beyond
from vadum.soil.methods.soakage_pit.emptying import Emptying
from vadum.soil.physics.soaking import Pit


def level_figure(made: list[Emptying], pit: Pit | None) -> Figure:
    """Return the water's depth by time, with three quarters and one quarter of the full depth."""
    reach = max([10.0, *(float(one.fill.minutes.max()) for one in made)])
    top = max([100.0, *(float(one.depth_mm.max()) for one in made), *([pit.full_mm] if pit else [])])
    lines, series, said = [], [], []
    if pit is not None:
        for share, name in ((0.75, "three quarters"), (0.25, "one quarter")):
            level = share * pit.full_mm
            lines.append(
                Line(key=name.replace(" ", "-"), role="reference", label=name, points=[(0.0, level), (reach, level)])
            )
    for one in made:
        points = list(zip(one.fill.minutes.tolist(), one.depth_mm.tolist(), strict=True))
        marks = [Mark(x=x, y=y, path=f"levels.{row}") for (x, y), row in zip(points, one.fill.rows, strict=True)]
        lines.append(Line(key=f"fill-{one.fill.number}", role="company", points=points))
        series.append(Series(key=f"fill-{one.fill.number}", label=f"fill {one.fill.number}", marks=marks))
        if one.at_75_min is not None and one.at_25_min is not None and pit is not None:
            ends = [(one.at_75_min, 0.75 * pit.full_mm), (one.at_25_min, 0.25 * pit.full_mm)]
            lines.append(Line(key=f"drawn-{one.fill.number}", role="construction", points=ends))
            said.append(f"fill {one.fill.number}: {one.minutes:.3g} min")
    words = "; ".join(said) or "no fill has fallen to a quarter yet"
    return Figure(
        key="water",
        title="Water in the pit",
        description=f"Depth of water by time of each fill. From three quarters to one quarter: {words}.",
        caption=words,
        x=Axis(label="time", unit="min", low=0.0, high=end_beyond(reach)),
        y=Axis(label="water", unit="mm", low=0.0, high=1.08 * top),
        lines=lines,
        series=series,
    )


def pit_figure(pit: Pit) -> Figure:
    """Return the pit in section along its length, to scale, with the water that is timed."""
    half = {share: pit.plan(share * pit.full_mm)[0] / 2 for share in (0.0, 0.25, 0.75, 1.0)}
    reach = 1.25 * half[1.0]
    full = pit.full_mm
    timed = [
        (-half[0.25], 0.25 * full),
        (half[0.25], 0.25 * full),
        (half[0.75], 0.75 * full),
        (-half[0.75], 0.75 * full),
    ]
    return Figure(
        key="pit",
        title="Pit",
        description=f"Pit {pit.length_mm:g} by {pit.width_mm:g} mm at its base with {full:g} mm of water, in section.",
        caption=f"{pit.length_mm:g} × {pit.width_mm:g} mm, {full:g} mm of water",
        x=Axis(label="along the pit", unit="mm", low=-reach, high=reach),
        y=Axis(label="above the base", unit="mm", low=-0.12 * full, high=1.3 * full),
        equal=True,
        regions=[
            Region(key="timed", role="water", points=timed),
            Region(key="below", points=box((-half[0.0], half[0.0]), (0.0, 0.0))),
        ],
        lines=[
            Line(
                key="walls",
                role="reference",
                points=[(-half[1.0], full), (-half[0.0], 0.0), (half[0.0], 0.0), (half[1.0], full)],
            ),
            Line(key="full", role="company", label="full", points=[(-half[1.0], full), (half[1.0], full)]),
            Line(key="left", role="reference", points=[(-reach, 1.15 * full), (-half[1.0], 1.15 * full)]),
            Line(key="right", role="reference", points=[(half[1.0], 1.15 * full), (reach, 1.15 * full)]),
        ],
    )
