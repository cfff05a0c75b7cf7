"""Speed of flow against the gradient, and permeability in the order of time."""

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box, end_beyond
from vadum.soil.methods.permeability_laboratory.flow import Measured
from vadum.soil.methods.permeability_laboratory.readings import PermeabilitySettings

_MICRO = 1e6


def flow_figure(made: list[Measured]) -> Figure:
    """Return the speed of flow against the gradient; laminar flow is a straight line through zero."""
    marks = [Mark(x=one.gradient, y=_MICRO * one.flow_m_s, path=f"{one.table}.{one.row}") for one in made]
    reach = end_beyond(max([0.1, *(m.x for m in marks)]))
    top = end_beyond(max([0.001, *(m.y for m in marks)]))
    lines = []
    said = "nothing measured yet"
    if made:
        k = sum(one.k_ref_m_s for one in made) / len(made)
        said = f"k {k:.2g} m/s"
        end = min(reach, top / (_MICRO * k))
        lines.append(Line(key="law", role="construction", label=said, points=[(0.0, 0.0), (end, _MICRO * k * end)]))
    return Figure(
        key="flow",
        title="Flow",
        description=f"Speed of flow against the hydraulic gradient, a line through zero where it is laminar. {said}.",
        caption=said,
        x=Axis(label="gradient", low=0.0, high=reach),
        y=Axis(label="flow", unit="µm/s", low=0.0, high=top),
        lines=lines,
        series=[Series(key="measured", label="measured", marks=marks)] if marks else [],
    )


def time_figure(made: list[Measured], settings: PermeabilitySettings) -> Figure:
    """Return the permeability of every measurement in the order of time, with the band in which they must agree."""
    values = [_MICRO * one.k_ref_m_s for one in made]
    marks = [
        Mark(x=k + 1.0, y=v, path=f"{one.table}.{one.row}") for k, (v, one) in enumerate(zip(values, made, strict=True))
    ]
    mean = sum(values) / len(values) if values else 0.0
    off = settings.within_percent / 100
    span = (0.5, max(1, len(made)) + 0.5)
    return Figure(
        key="time",
        title="Steadiness",
        description="Permeability of every measurement in the order of time.",
        caption=f"band of {settings.within_percent:g} % about the mean" if values else "nothing measured yet",
        x=Axis(label="measurement", low=0.0, high=float(max(4, len(made) + 1))),
        y=Axis(label="k", unit="µm/s", low=0.0, high=end_beyond(1.2 * max([0.001, *values]))),
        regions=[Region(key="band", points=box(span, ((1 - off) * mean, (1 + off) * mean)))] if values else [],
        lines=[Line(key="in-time", role="company", points=[(m.x, m.y) for m in marks])] if marks else [],
        series=[Series(key="in-time", label="measured", marks=marks)] if marks else [],
    )
