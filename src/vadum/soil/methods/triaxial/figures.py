"""Mohr circles with their tangent, deviator, pore pressure or volume, stress paths."""

import numpy as np

from vadum.soil.bench.envelope_band import envelope_band
from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Point, Series
from vadum.soil.methods.triaxial.settings import TriaxialSettings
from vadum.soil.methods.triaxial.specimens import Sheared
from vadum.soil.numbers.thinning import faithful
from vadum.soil.physics.envelope import Envelope
from vadum.soil.physics.triaxial import touching_point

_ARC = np.linspace(0, np.pi, 61)
_COS, _SIN = np.cos(_ARC), np.sin(_ARC)


def _half_circle(centre: float, radius: float) -> list[Point]:
    return list(zip((centre + radius * _COS).tolist(), (radius * _SIN).tolist(), strict=True))


def mohr_figure(
    made: list[Sheared], settings: TriaxialSettings, total: Envelope | None, effective: Envelope | None
) -> Figure:
    """Return the circles at failure with the tangent, both axes to one scale: effective full, total quiet."""
    consolidated = settings.kind != "UU"
    shown = [(s, *s.circle(effective=consolidated)) for s in made]
    totals = [s.circle(effective=False) for s in made] if consolidated else []
    reach = 1.08 * max([100.0, *(c + r for _, c, r in shown), *(c + r for c, r in totals)])
    top = 1.15 * max([40.0, *(r for _, _, r in shown)])
    lines, marks, result = [], [], None
    for s, centre, radius in shown:
        lines.append(Line(key=f"circle-{s.number}", points=_half_circle(centre, radius)))
    for s, (centre, radius) in zip(made, totals, strict=False):
        if radius > 0:
            lines.append(Line(key=f"total-{s.number}", role="company", points=_half_circle(centre, radius)))
    line = effective if consolidated else total
    if line is not None:
        lines.append(Line(key="tangent", role="construction", points=[(0.0, line.at(0.0)), (reach, line.at(reach))]))
        for s, centre, radius in shown:
            x, y = touching_point(centre, radius, line.friction_deg)
            marks.append(Mark(x=x, y=y, label=str(s.number)))
        mark, prime = shown[-1], "′" if consolidated else "u"
        result = Mark(
            x=mark[1],
            y=line.at(mark[1]),
            label=f"c{prime} {line.cohesion_kpa:.1f} kPa, φ{prime} {line.friction_deg:.1f}°",
        )
    return Figure(
        key="mohr",
        title="Mohr circles",
        description=f"{len(made)} circles at failure. {result.label if result else 'No tangent yet.'}",
        caption="full: effective, dashed: total" if consolidated and made else "",
        x=Axis(label="normal stress", unit="kPa", low=0.0, high=reach),
        y=Axis(label="shear stress", unit="kPa", low=0.0, high=top),
        equal=True,
        lines=lines,
        regions=envelope_band(effective if consolidated else None, reach),
        series=[Series(key="touch", label="where the tangent touches", role="company", marks=marks)],
        result=result,
    )


def deviator_figure(made: list[Sheared]) -> Figure:
    """Return the deviator against strain, failure marked."""
    reach = 1.04 * max([16.0, *(float(s.strain_percent[-1]) for s in made)])
    top = 1.15 * max([50.0, *(float(s.deviator_kpa.max()) for s in made)])
    return Figure(
        key="deviator",
        title="Deviator",
        description="Deviator stress against axial strain. "
        + "; ".join(
            f"specimen {s.number}: {s.deviator_kpa[s.failure]:.0f} kPa at {s.strain_percent[s.failure]:.1f} %"
            for s in made
        ),
        x=Axis(label="axial strain", unit="%", low=0.0, high=reach),
        y=Axis(label="deviator stress", unit="kPa", low=0.0, high=top),
        lines=[_curve(s, s.strain_percent, s.deviator_kpa) for s in made],
        series=[
            Series(
                key="failure",
                label="failure",
                marks=[
                    Mark(
                        x=float(s.strain_percent[s.failure]),
                        y=float(s.deviator_kpa[s.failure]),
                        label=f"{s.number}: {s.cell_kpa:.0f} kPa",
                    )
                    for s in made
                ],
            )
        ],
    )


def second_figure(made: list[Sheared], settings: TriaxialSettings) -> Figure:
    """Return excess pore pressure (CU) or volume strain (CD) against strain."""
    undrained = settings.kind == "CU"
    values = [(s, s.pore_kpa - s.start_pore_kpa if undrained else s.volume_percent) for s in made]
    low, high = min([0.0, *(float(v.min()) for _, v in values)]), max([1.0, *(float(v.max()) for _, v in values)])
    reach = 1.04 * max([16.0, *(float(s.strain_percent[-1]) for s in made)])
    return Figure(
        key="second",
        title="Pore pressure" if undrained else "Volume",
        description="Excess pore pressure against strain."
        if undrained
        else "Volume strain against axial strain, out positive.",
        x=Axis(label="axial strain", unit="%", low=0.0, high=reach),
        y=Axis(
            label="excess pore pressure" if undrained else "volume strain",
            unit="kPa" if undrained else "%",
            low=1.1 * low,
            high=1.15 * high,
        ),
        lines=[_curve(s, s.strain_percent, v, label=f"{s.number}") for s, v in values],
    )


def path_figure(made: list[Sheared], settings: TriaxialSettings, effective: Envelope | None) -> Figure:
    """Return the paths of s' and t, with the line t = a + s sin phi."""
    paths = [(s, s.cell_kpa + s.deviator_kpa / 2 - s.pore_kpa, s.deviator_kpa / 2) for s in made]
    reach = 1.1 * max([100.0, *(float(x.max()) for _, x, _ in paths)])
    top = 1.15 * max([40.0, *(float(t.max()) for _, _, t in paths)])
    lines = [_curve(s, x, t) for s, x, t in paths]
    if effective is not None:
        phi = np.radians(effective.friction_deg)
        a, slope = effective.cohesion_kpa * float(np.cos(phi)), float(np.sin(phi))
        lines.append(
            Line(
                key="kf", role="construction", label="t = a + s′ sin φ′", points=[(0.0, a), (reach, a + slope * reach)]
            )
        )
    return Figure(
        key="path",
        title="Stress path",
        description="Half the deviator against the mean of the effective principal stresses.",
        x=Axis(label="s′", unit="kPa", low=0.0, high=reach),
        y=Axis(label="t", unit="kPa", low=0.0, high=top),
        equal=True,
        lines=lines,
        series=[
            Series(
                key="failure",
                label="failure",
                marks=[Mark(x=float(x[s.failure]), y=float(t[s.failure]), label=str(s.number)) for s, x, t in paths],
            )
        ],
    )


def _curve(s: Sheared, x: np.ndarray, y: np.ndarray, label: str = "") -> Line:
    kept = faithful(x, y)
    return Line(
        key=f"specimen-{s.number}", label=label, points=list(zip(x[kept].tolist(), y[kept].tolist(), strict=True))
    )
