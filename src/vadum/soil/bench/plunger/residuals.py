"""How far a load ring's calibration is from one straight factor."""

import numpy as np

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Series
from vadum.soil.numbers.fit import line_fit


def residual_figure(table: list[tuple[float, float]]) -> Figure:
    """Return force less the straight line through the table, in percent of its largest force, against divisions.

    Arguments
    ---------
    table : at least three pairs of divisions and kN, both rising
    """
    divisions, force = np.array(table, dtype=float).T
    fit = line_fit(divisions, force)
    assert fit is not None
    off = 100 * fit.residuals / force.max()
    most = 1.3 * max(0.2, float(np.abs(off).max()))
    reach = 1.05 * float(divisions.max())
    return Figure(
        key="ring",
        title="Residuals of the calibration",
        description=(
            f"Largest distance from the straight factor of {fit.slope * 1000:.3f} N a division: {np.abs(off).max():.2f}"
            " % of full scale."
        ),
        caption=f"{fit.slope * 1000:.3f} N/div, largest {np.abs(off).max():.2f} %",
        x=Axis(label="divisions", low=0.0, high=reach),
        y=Axis(label="off the line", unit="% of full scale", low=-most, high=most),
        lines=[Line(key="zero", role="reference", points=[(0.0, 0.0), (reach, 0.0)])],
        series=[
            Series(
                key="table",
                label="calibration",
                marks=[Mark(x=float(d), y=float(o)) for d, o in zip(divisions, off, strict=True)],
            )
        ],
    )
