"""Water content against suction with both curves; what lies beyond the last step is marked as such."""

import numpy as np

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box
from vadum.soil.methods.retention.readings import RetentionSettings
from vadum.soil.methods.retention.steps import Step
from vadum.soil.physics.retention import WILTING_KPA, Retention

_FIRST_KPA = 0.1


def retention_figure(
    made: list[Step], theta: list[float], fits: list[Retention], settings: RetentionSettings
) -> Figure:
    """Return the curve on a logarithmic suction; the saturated state stands at the left edge."""
    last = max([10.0, *(s.kpa for s in made)])
    psi = np.geomspace(_FIRST_KPA, 2000.0, 160)
    lines = [
        Line(
            key=fit.name,
            label=fit.name.label,
            role="fit" if fit.name == settings.model else "company",
            points=list(zip(psi.tolist(), (100 * fit.at(psi)).tolist(), strict=True)),
        )
        for fit in fits
    ]
    marks = [
        Mark(x=max(s.kpa, _FIRST_KPA), y=100 * t, path=f"weighings.{s.rows[-1]}")
        for s, t in zip(made, theta, strict=False)
    ]
    top = 1.12 * max([20.0, *(100 * t for t in theta)])
    named = [(settings.field_capacity_kpa, "field capacity"), (WILTING_KPA, "wilting")]
    return Figure(
        key="retention",
        title="Retention",
        description=(
            f"Water by volume against suction, {len(marks)} steps. Beyond {last:g} kPa the curves are extrapolated."
        ),
        caption=f"beyond {last:g} kPa extrapolated" if fits else "",
        x=Axis(label="suction", unit="kPa", scale="log", low=_FIRST_KPA, high=2000.0, named=named),
        y=Axis(label="water by volume", unit="%", low=0.0, high=top),
        regions=[Region(key="beyond", role="accepted", points=box((last, 2000.0), (0.0, top)))] if fits else [],
        lines=lines,
        series=[Series(key="steps", label="steps", marks=marks)],
    )


def drainage_figure(made: list[Step]) -> Figure:
    """Return every weighing against its day."""
    first = min([0.0, *(d for s in made for d in s.days)])
    masses = [m for s in made for m in s.mass_g]
    low, high = (min(masses), max(masses)) if masses else (0.0, 100.0)
    pad = max(1.0, 0.08 * (high - low))
    return Figure(
        key="drainage",
        title="Weighings",
        description=f"Mass of the apparatus by day, {len(made)} steps of suction.",
        x=Axis(label="day", low=first, high=1.05 * max([7.0, *(d for s in made for d in s.days)])),
        y=Axis(label="mass", unit="g", low=low - pad, high=high + pad),
        lines=[
            Line(key=f"step-{i}", label=f"{s.kpa:.3g} kPa", points=list(zip(s.days, s.mass_g, strict=True)))
            for i, s in enumerate(made)
            if len(s.days) > 1
        ],
        series=[
            Series(
                key="weighings",
                label="weighings",
                marks=[
                    Mark(x=d, y=m, path=f"weighings.{r}")
                    for s in made
                    for d, m, r in zip(s.days, s.mass_g, s.rows, strict=True)
                ],
            )
        ],
    )
