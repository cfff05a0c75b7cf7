"""Shear stress and vertical movement of all specimens, and their envelope."""

import numpy as np

from vadum.soil.bench.envelope_band import envelope_band
from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Series
from vadum.soil.methods.direct_shear.settings import PEAKS
from vadum.soil.methods.direct_shear.specimens import Sheared
from vadum.soil.numbers.thinning import faithful
from vadum.soil.physics.envelope import Envelope

# Two-sided 95 % band for few points, by degrees of freedom.


def shear_figure(made: list[Sheared]) -> Figure:
    """Return shear stress against travel, every specimen with its peak and its handle."""
    reach = 1.04 * max([5.0, *(float(s.horizontal_mm[-1]) for s in made)])
    top = 1.15 * max([20.0, *(float(s.shear_kpa.max()) for s in made)])
    lines, handles, peaks = [], [], []
    for s in made:
        kept = faithful(s.horizontal_mm, s.shear_kpa)
        lines.append(
            Line(
                key=f"specimen-{s.number}",
                points=list(zip(s.horizontal_mm[kept].tolist(), s.shear_kpa[kept].tolist(), strict=True)),
            )
        )
        lines += [
            Line(
                key=f"specimen-{s.number}-pass-{n}",
                role="company",
                points=list(zip(one.horizontal_mm.tolist(), one.shear_kpa.tolist(), strict=True)),
            )
            for n, one in enumerate(s.again, 2)
        ]
        peaks.append(Mark(x=s.peak_mm, y=s.peak_kpa, label=f"{s.number}: {s.normal_kpa:.0f} kPa"))
        handles.append(
            Handle(
                setting=PEAKS[s.number - 1],
                label=f"Peak of specimen {s.number}",
                x=s.peak_mm,
                y=s.peak_kpa,
                along="x",
                low=0.0,
                high=reach,
                step=0.05,
                overridden=s.by_hand,
            )
        )
    return Figure(
        key="shear",
        title="Shear stress",
        description="Shear stress against travel. "
        + ("; ".join(f"specimen {s.number} peaks at {s.peak_kpa:.1f} kPa" for s in made) or "No record yet."),
        caption="specimen: normal stress",
        x=Axis(label="travel", unit="mm", low=0.0, high=reach),
        y=Axis(label="shear stress", unit="kPa", low=0.0, high=top),
        lines=lines,
        series=[Series(key="peaks", label="peaks", role="company", marks=peaks)],
        handles=handles,
    )


def vertical_figure(made: list[Sheared]) -> Figure:
    """Return vertical movement against travel: up is dilation."""
    read = [s for s in made if not np.isnan(s.vertical_mm).any()]
    values = [float(v) for s in read for v in (s.vertical_mm.min(), s.vertical_mm.max())]
    low, high = min([-0.1, *values]), max([0.1, *values])
    reach = 1.04 * max([5.0, *(float(s.horizontal_mm[-1]) for s in made)])
    lines = []
    for s in read:
        kept = faithful(s.horizontal_mm, s.vertical_mm)
        lines.append(
            Line(
                key=f"specimen-{s.number}",
                label=f"{s.number}: {s.normal_kpa:.0f} kPa",
                points=list(zip(s.horizontal_mm[kept].tolist(), s.vertical_mm[kept].tolist(), strict=True)),
            )
        )
    lines.append(Line(key="level", role="reference", points=[(0.0, 0.0), (reach, 0.0)]))
    return Figure(
        key="vertical",
        title="Vertical movement",
        description="Vertical movement against travel, dilation upward. "
        + "; ".join(
            f"specimen {s.number}: {s.dilation_deg:.1f} degrees at the peak" for s in read if s.dilation_deg is not None
        ),
        x=Axis(label="travel", unit="mm", low=0.0, high=reach),
        y=Axis(label="vertical, up dilates", unit="mm", low=1.1 * low, high=1.1 * high),
        lines=lines,
    )


def envelope_figure(
    made: list[Sheared], peak: Envelope | None, end: Envelope | None, residual: Envelope | None
) -> Figure:
    """Return shear against normal stress with the envelopes and the band of the peak's; both axes to one scale."""
    reach = 1.15 * max([100.0, *(s.peak_normal_kpa for s in made), *(s.peak_kpa for s in made)])
    lines, result = [], None
    if peak is not None:
        lines.append(Line(key="peak", label="peak", points=[(0.0, peak.at(0.0)), (reach, peak.at(reach))]))
        middle = sum(s.peak_normal_kpa for s in made) / len(made)
        result = Mark(x=middle, y=peak.at(middle), label=f"c′ {peak.cohesion_kpa:.1f} kPa, φ′ {peak.friction_deg:.1f}°")
    for key, label, line in (("end", "end of test", end), ("residual", "residual", residual)):
        if line is not None:
            lines.append(
                Line(key=key, label=label, role="company", points=[(0.0, line.at(0.0)), (reach, line.at(reach))])
            )
    return Figure(
        key="envelope",
        title="Envelope",
        description=(
            f"Shear strength against normal stress, {len(made)} specimens. {result.label if result else 'No line yet.'}"
        ),
        x=Axis(label="normal stress", unit="kPa", low=0.0, high=reach),
        y=Axis(label="shear stress", unit="kPa", low=0.0, high=0.75 * reach),
        lines=lines,
        regions=envelope_band(peak, reach),
        series=[
            Series(
                key="peaks",
                label="peak",
                marks=[
                    Mark(x=s.peak_normal_kpa, y=s.peak_kpa, label=str(s.number), path=f"specimens.{s.number - 1}")
                    for s in made
                ],
            ),
            Series(
                key="ends",
                label="end of test",
                role="company",
                marks=[Mark(x=s.end_normal_kpa, y=s.end_kpa) for s in made],
            ),
            Series(
                key="residual",
                label="residual",
                role="company",
                marks=[Mark(x=s.again[-1].end_normal_kpa, y=s.again[-1].end_kpa) for s in made if s.again],
            ),
        ],
        result=result,
    )
