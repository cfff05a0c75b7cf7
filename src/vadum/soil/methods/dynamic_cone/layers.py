"""Rows as a curve of depth over blows, and the straight pieces of it: layers."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from vadum.soil.methods.dynamic_cone.readings import DynamicConeReadings, DynamicConeSettings, Rule
from vadum.soil.numbers.fit import line_fit
from vadum.soil.numbers.odd import off_neighbours, scatter_of
from vadum.soil.numbers.pieces import straight_pieces
from vadum.soil.physics.dynamic_cone import HAMMER_FACTOR

# A rule is read to the millimetre; ground is never as even as that.
_RULE_MM, _UNEVEN = 0.6, 0.04


@dataclass(frozen=True)
class Driven:
    """The used rows in order: their numbers, blows, penetration of each row, depth and blows summed, in mm."""

    rows: list[int]
    blows: list[float]
    went_mm: list[float]

    @property
    def depth_mm(self) -> list[float]:
        return [0.0, *np.cumsum(self.went_mm).tolist()]

    @property
    def summed(self) -> list[float]:
        return [0.0, *np.cumsum(self.blows).tolist()]

    @property
    def per_blow(self) -> list[float]:
        return [mm / n for mm, n in zip(self.went_mm, self.blows, strict=True)]


@dataclass(frozen=True)
class Layer:
    """A stretch of one penetration per blow of the 8 kg hammer; depths in m below ground."""

    top_m: float
    bottom_m: float
    mm_per_blow: float


def driven(readings: DynamicConeReadings, settings: DynamicConeSettings) -> Driven:
    """Return the rows with blows and rule; one left out lends its blows and way to nobody."""
    sign = 1.0 if settings.rule == Rule.UP else -1.0
    made, before = Driven([], [], []), readings.zero_mm or 0.0
    for i, row in enumerate(readings.blows):
        if row.rule_mm is None:
            continue
        went, before = sign * (row.rule_mm - before), row.rule_mm
        if row.used and row.blows:
            made.rows.append(i)
            made.blows.append(float(row.blows))
            made.went_mm.append(went)
    return made


def layers(made: Driven, readings: DynamicConeReadings, settings: DynamicConeSettings) -> list[Layer]:
    """Return the layers: lines of depth over blows that differ, cut where they meet."""
    n, d = np.array(made.summed), np.array(made.depth_mm)
    if len(made.rows) < 2 or (np.diff(d) <= 0).any():
        return []
    # Ground scatters with the way of a row, the rule by itself.
    uneven = _UNEVEN * float(np.median(made.went_mm))
    pieces = straight_pieces(n, d, max(_RULE_MM, uneven, scatter_of(off_neighbours(n, d))))
    pieces = _merged(pieces, n, d, settings)
    lines = [line_fit(n[a:b], d[a:b]) for a, b in pieces]
    slopes = [line.slope if line else 0.0 for line in lines]
    bounds = [0.0]
    for (_, b), after, line, following in zip(pieces, pieces[1:], lines, lines[1:], strict=False):
        meets = None
        if line and following and line.slope != following.slope:
            at = (following.intercept - line.intercept) / (line.slope - following.slope)
            meets = line.at(at)
        inside = meets is not None and d[b - 1] <= meets <= d[after[0]]
        bounds.append(float(meets) if inside and meets is not None else float(d[b - 1] + d[after[0]]) / 2)
    bounds.append(float(d[-1]))
    start, factor = readings.start_m or 0.0, HAMMER_FACTOR[settings.hammer]
    return [
        Layer(start + top / 1000, start + bottom / 1000, factor * slope)
        for top, bottom, slope in zip(bounds, bounds[1:], slopes, strict=False)
    ]


def _merged(
    pieces: list[tuple[int, int]], n: np.ndarray, d: np.ndarray, settings: DynamicConeSettings
) -> list[tuple[int, int]]:
    """Return the pieces with neighbours that hardly differ, or are too thin to be felt, taken together."""
    pieces = list(pieces)
    while len(pieces) > 1:
        slopes = [line.slope if (line := line_fit(n[a:b], d[a:b])) else 0.0 for a, b in pieces]
        ratios = [max(a, b) / max(min(a, b), 1e-9) for a, b in pairwise(slopes)]
        thick = [d[b - 1] - d[a] for a, b in pieces]
        thin = int(np.argmin(thick))
        if thick[thin] < settings.least_mm:
            beside = [k for k in (thin - 1, thin) if 0 <= k < len(ratios)]
            k = min(beside, key=lambda k: ratios[k])
        else:
            k = int(np.argmin(ratios))
            if ratios[k] >= 1 + settings.differs_percent / 100:
                return pieces
        pieces[k : k + 2] = [(pieces[k][0], pieces[k + 1][1])]
    return pieces
