"""Published relations of the liquid limit."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.numbers.fit import LineFit, line_fit
from vadum.soil.physics.published import published

STANDARD_BLOWS = 25.0
# Slope of log w on log N that stands behind the one-point factors of ASTM D4318, table 1.
ONE_POINT_EXPONENT = 0.121


@published("flow curve", "w = a − IF log10 N, least squares of w on log10 N", "ASTM D4318 clause 15")
def flow_curve(blows: ArrayLike, water_content: ArrayLike) -> LineFit | None:
    """Fit w = a - F log10 N by least squares of w on log10 N.

    Arguments
    ---------
    blows : shape (n,), blows to close the groove, > 0
    water_content : shape (n,), percent

    Returns
    -------
    The line over log10 N (its slope is minus the flow index), or None with fewer than two different counts.

    Source: ASTM D4318 (2017), clause 15 (method A); flow index after Casagrande (1932).

    >>> round(flow_curve([10, 100], [48.0, 36.0]).slope, 6)
    -12.0
    """
    return line_fit(np.log10(np.asarray(blows, dtype=float)), water_content)


@published("liquid limit, multipoint", "LL = a − IF log10 25", "ASTM D4318 clause 15")
def liquid_limit_from_flow_curve(line: LineFit) -> float:
    """Return the water content in percent at 25 blows. Source: ASTM D4318 (2017), clause 15.2.

    >>> round(liquid_limit_from_flow_curve(flow_curve([10, 100], [48.0, 36.0])), 2)  # 60 − 12 log10 25
    43.22
    """
    return line.at(float(np.log10(STANDARD_BLOWS)))


@published("liquid limit, one-point", "LL = w (N / 25)^0.121", "ASTM D4318 clause 18 and table 1")
def one_point_factor(blows: ArrayLike, exponent: float = ONE_POINT_EXPONENT) -> NDArray[np.float64]:
    """Return k = (N/25)^0.121, which turns one water content into the liquid limit.

    Arguments
    ---------
    blows : shape (n,), blows to close the groove
    exponent : slope of log w on log N, plain number

    Returns
    -------
    shape (n,), plain number; 0.973 at 20, 1.000 at 25, 1.022 at 30 blows.

    Source: ASTM D4318 (2017), clause 18 and table 1 (method B).

    >>> round(float(one_point_factor(20)), 3)
    0.973
    """
    return (np.asarray(blows, dtype=float) / STANDARD_BLOWS) ** exponent


@published("liquid limit, fall cone", "w = a + b d, read at d = 20 mm (80 g, 30°) or 10 mm (60 g, 60°)", "ISO 17892-12")
def cone_line(penetration_mm: ArrayLike, water_content: ArrayLike) -> LineFit | None:
    """Fit water content on cone penetration, both on plain scales.

    Arguments
    ---------
    penetration_mm : shape (n,), mm
    water_content : shape (n,), percent

    Source: BS 1377-2 (1990), clause 4.3; ISO 17892-12 (2018).

    >>> round(cone_line([15, 20, 25], [40.0, 45.0, 50.0]).at(20), 6)
    45.0
    """
    return line_fit(penetration_mm, water_content)
