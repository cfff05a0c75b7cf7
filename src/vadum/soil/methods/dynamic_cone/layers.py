"""Rows as a curve of depth over blows, and the straight pieces of it: layers."""

from bisect import bisect_left
from dataclasses import dataclass, field
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
    """The used rows in order: their numbers, blows, and from which depth to which each went, mm below the start; and
    to which depth those went of which nobody knows from where."""

    rows: list[int] = field(default_factory=list)
    blows: list[float] = field(default_factory=list)
    from_mm: list[float] = field(default_factory=list)
    to_mm: list[float] = field(default_factory=list)
    from_nowhere: dict[int, float] = field(default_factory=dict)

    @property
    def went_mm(self) -> list[float]:
        return [bottom - top for top, bottom in zip(self.from_mm, self.to_mm, strict=True)]

    @property
    def way_mm(self) -> list[float]:
        """The way of the used rows summed: what is left out between them is no part of it, as of the blows."""
        return [0.0, *np.cumsum(self.went_mm).tolist()]

    @property
    def summed(self) -> list[float]:
        return [0.0, *np.cumsum(self.blows).tolist()]

    def in_ground(self, way_mm: float) -> float:
        """Return how deep the cone stood after a way, mm below the start."""
        ways = self.way_mm
        row = min(bisect_left(ways, way_mm, lo=1), len(self.rows)) - 1
        return self.from_mm[row] + way_mm - ways[row]

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
    """Return the rows with blows and rule.

    One left out lends its blows and way to nobody; the cone went down in it all the same, and the next row goes on from
    its rule. Where that shows the same, the row was written anew; where it lies off the rules before and after it, it
    was read wrong. Blows after which nobody read the rule are of the next row that has it.
    """
    sign, zero = 1.0 if settings.rule == Rule.UP else -1.0, readings.zero_mm or 0.0
    made, stood, blows = Driven(), 0.0, 0
    # Where the row in hand begins, None where nobody knows, and where the rule stood in a row left out above it.
    begins: float | None = stood
    left_out: float | None = None
    for i, row in enumerate(readings.blows):
        blows += row.blows or 0 if row.used else 0
        if row.rule_mm is None:
            continue
        now = sign * (row.rule_mm - zero)
        if not row.used:
            begins, left_out, blows = now if begins is not None and now >= begins else None, now, 0
            continue
        if now == left_out:
            begins = stood
        if begins is None or (left_out is not None and now <= begins):
            made.from_nowhere[i] = now
        elif row.blows:
            made.rows.append(i)
            made.blows.append(float(blows))
            made.from_mm.append(begins)
            made.to_mm.append(now)
        stood, begins, left_out, blows = now, now, None, 0
    return made


def layers(made: Driven, readings: DynamicConeReadings, settings: DynamicConeSettings) -> list[Layer]:
    """Return the layers: lines of depth over blows that differ, cut where they meet."""
    n, d = np.array(made.summed), np.array(made.way_mm)
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
        Layer(start + made.in_ground(top) / 1000, start + made.in_ground(bottom) / 1000, factor * slope)
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
