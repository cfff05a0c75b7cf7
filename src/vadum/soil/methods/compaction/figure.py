"""The compaction figure: points, curve, air lines, the optimum's handle."""

import numpy as np

from vadum.soil.contract.field import Leant
from vadum.soil.contract.figure import Axis, Figure, Handle, Line, Mark, Series
from vadum.soil.methods.compaction.equations import Peak
from vadum.soil.methods.compaction.points import Compacted
from vadum.soil.methods.compaction.readings import CompactionSettings
from vadum.soil.physics.phases import WATER, saturated_dry_density


def compaction_figure(
    every: list[Compacted], used: list[Compacted], peak: Peak | None, settings: CompactionSettings, gs: Leant
) -> Figure:
    """Return dry density against water content."""
    low, high, bottom, top = _frame(every, gs)
    lines = [_air_line(share, (low, high, bottom, top), gs.value) for share in (0.0, 5.0, 10.0)]
    handles, result = [], None
    said = "No optimum yet."
    if peak is not None and used:
        wet = np.linspace(min(p.water_content for p in used), max(p.water_content for p in used), 60)
        lines.insert(
            0,
            Line(key="curve", points=list(zip(wet.tolist(), np.polyval(peak.coefficients, wet).tolist(), strict=True))),
        )
        w, rho = peak.optimum_percent, peak.maximum
        lines.append(Line(key="optimum", role="construction", points=[(low, rho), (w, rho), (w, bottom)]))
        handles = [
            Handle(
                setting="optimum_percent",
                label="Optimum water content",
                x=w,
                y=rho,
                along="x",
                low=low,
                high=high,
                step=0.1,
                overridden=settings.optimum_percent is not None,
            )
        ]
        result = Mark(x=w, y=rho, label=f"{rho:.2f} g/cm³ at {w:.1f} %")
        said = f"Maximum {rho:.2f} g/cm³ at {w:.1f} %."
    drawn = {p.row for p in used}
    return Figure(
        key="compaction",
        title="Compaction curve",
        description=(
            f"Dry density against water content, {len(used)} points, with the lines of 0, 5 and 10 % air. {said}"
        ),
        x=Axis(label="water content", unit="%", low=low, high=high),
        y=Axis(label="dry density", unit="g/cm³", low=bottom, high=top),
        lines=lines,
        series=[
            Series(
                key="points",
                label="points",
                marks=[
                    Mark(
                        x=p.water_content,
                        y=p.dry_density,
                        label=str(p.row + 1),
                        path=f"points.{p.row}",
                        left_out=p.row not in drawn,
                    )
                    for p in every
                ],
            )
        ],
        handles=handles,
        result=result,
    )


def _frame(every: list[Compacted], gs: Leant) -> tuple[float, float, float, float]:
    if not every:
        return 0.0, 30.0, 1.4, 2.2
    w, rho = [p.water_content for p in every], [p.dry_density for p in every]
    low, high = max(0.0, float(np.floor(min(w) - 2))), float(np.ceil(max(w) + 2))
    # A wrong reading may give a density near nothing, or below it: the lines of air end above.
    bottom = max(0.1, float(np.floor((min(rho) - 0.06) * 10) / 10))
    zero_air = saturated_dry_density(min(w), gs.value)
    top = max(bottom + 0.1, float(np.ceil((max(rho) + min(0.25, max(0.08, zero_air - max(rho)))) * 20) / 20))
    return low, high, bottom, top


def _air_line(share: float, frame: tuple[float, float, float, float], gs: float) -> Line:
    """Return the part of a line of constant air that lies within the frame."""
    low, high, bottom, top = frame
    # Where the line crosses a dry density: the same balance of volumes solved for the water content.
    from_w, to_w = (100 * (WATER * (1 - share / 100) / rho - 1 / gs) for rho in (top, bottom))
    wet = np.linspace(max(low, from_w), max(low, min(high, to_w)), 40)
    rho = WATER * (1 - share / 100) / (1 / gs + wet / 100)
    return Line(
        key=f"air-{share:g}",
        role="reference",
        label=f"{share:g} % air",
        points=list(zip(wet.tolist(), rho.tolist(), strict=True)),
    )
