"""Labels that do not run into each other, into points or off the plot."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

# Mean advance of the figure's typeface, as a share of its size; wide enough that boxes err on the large side.
_ADVANCE = 0.56
# A line is kept clear by squares of this reach, px, this far apart at most.
_STRIP, _APART = 2.0, 8.0


# Where a label is tried beside a point, nearest first: at either side above and below, above, below, each at three
# distances. Shares of the distance and the width to the right, of the distance and the height down.
_BESIDE = np.array(
    [(1, 0, -0.6, 0), (1, 0, 0.6, 0.8), (-1, -1, -0.6, 0), (-1, -1, 0.6, 0.8), (0, -0.5, -1, 0), (0, -0.5, 1, 0.8)] * 3
).T
_FURTHER = np.repeat((1.0, 2.0, 3.2), 6)

Point = tuple[float, float]
Edges = tuple[float, float, float, float]


@dataclass(frozen=True)
class Box:
    left: float
    top: float
    right: float
    bottom: float

    def overlaps(self, other: "Box") -> bool:
        return (
            self.left < other.right and other.left < self.right and self.top < other.bottom and other.top < self.bottom
        )


@dataclass(frozen=True)
class PlacedLabel:
    """Where a label's baseline starts."""

    x: float
    y: float


def _clear(boxes: NDArray[np.float64], occupied: NDArray[np.float64], plot: Box) -> NDArray[np.bool_]:
    """Return which of some boxes lie within the plot and meet nothing, both by their edges, shape (n, 4)."""
    left, top, right, bottom = boxes.T
    within = (left >= plot.left) & (right <= plot.right) & (top >= plot.top) & (bottom <= plot.bottom)
    left, top, right, bottom = (edge[:, None] for edge in boxes.T)
    meets = (left < occupied[:, 2]) & (occupied[:, 0] < right) & (top < occupied[:, 3]) & (occupied[:, 1] < bottom)
    return np.asarray(within & ~meets.any(axis=1))


def _distances(boxes: NDArray[np.float64], points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how far from each box, shape (k, 4), the nearest of some points lies, shape (n, 2); 0 inside."""
    left, top, right, bottom = (edge[:, None] for edge in boxes.T)
    x, y = points.T
    beside = np.maximum(np.maximum(left - x, x - right), 0.0)
    above = np.maximum(np.maximum(top - y, y - bottom), 0.0)
    return np.asarray(np.sqrt((beside * beside + above * above).min(axis=1)))


def _in_steps(lines: list[list[Point]]) -> list[list[list[float]]]:
    """Return the points of each line with as many between them as keep each step short; of all lines at once."""
    points, whose = np.array([p for line in lines for p in line]).reshape(-1, 2), range(len(lines))
    line = np.repeat(whose, [len(one) for one in lines])
    begins = (line[1:] == line[:-1]).nonzero()[0]
    moves = points[begins + 1] - points[begins]
    steps = np.maximum(1, np.abs(moves).max(axis=1, initial=0.0) // _APART).astype(np.int64)
    which = np.repeat(np.arange(len(steps)), steps + 1)
    first = np.cumsum(steps + 1) - steps - 1
    share = (np.arange(len(which)) - first[which]) / steps[which]
    found: list[list[float]] = (points[begins[which]] + share[:, None] * moves[which]).tolist()
    ends = np.searchsorted(line[begins[which]], whose, side="right").tolist()
    return [found[start:end] for start, end in zip([0, *ends], ends, strict=False)]


def text_width(text: str, size: float) -> float:
    return len(text) * size * _ADVANCE


class Labels:
    """Places labels one after the other, each clear of all that stands already."""

    def __init__(self, plot: Box) -> None:
        self.plot = plot
        self.taken: list[Edges] = []
        self.named: dict[str, NDArray[np.float64]] = {}
        self.strips: list[Point] = []
        self._strip_edges: NDArray[np.float64] | None = None

    def keep_clear(self, x: float, y: float, reach: float) -> None:
        """Reserve the square around a point."""
        self.taken.append((x - reach, y - reach, x + reach, y + reach))

    def keep_lines_clear(self, lines: list[tuple[str, list[Point]]]) -> None:
        """Reserve a thin strip along each line, in steps short enough that no label slips through.

        A line with a name has a label: no other line's label may then stand nearer to it than to its own.
        """
        at_x, at_y = self.strips[-1] if self.strips else (-np.inf, -np.inf)
        near = 2 * _STRIP
        for (name, _), points in zip(lines, _in_steps([line for _, line in lines]), strict=True):
            own: list[Point] = []
            for x, y in points:
                # A logged line has many points to a pixel: one strip for all of them.
                if -near < x - at_x < near and -near < y - at_y < near and (own or not name):
                    continue
                at_x, at_y = x, y
                own.append((x, y))
            self.strips += own
            if name and own:
                self.named[name] = np.array(own)
        self._strip_edges = None

    def place(self, text: str, x: float, y: float, *, size: float = 13.0, gap: float = 9.0) -> PlacedLabel | None:
        """Return a free spot beside a point, nearest first; None when the plot is too crowded for this label.

        A label may cross a line when nothing else is free, but never a point or another label.
        """
        taken = np.array(self.taken).reshape(-1, 4)
        clear = self._spot(text, [(x, y)], size, gap, np.concatenate((taken, self._line_edges())))
        return clear or self._spot(text, [(x, y)], size, gap, taken)

    def name_line(self, name: str, text: str, spots: list[Point], *, size: float = 13.0) -> PlacedLabel | None:
        """Return a free spot for the label of a line beside one of ``spots`` on it, nearest to this line of all named.

        Where every such spot is taken the first place of :meth:`place` must do.
        """
        occupied = np.concatenate((np.array(self.taken).reshape(-1, 4), self._line_edges()))
        own, others = self.named[name], [line for other, line in self.named.items() if other != name]

        def its_own(boxes: NDArray[np.float64]) -> NDArray[np.bool_]:
            """Return which boxes are nearer to this line than to any other by a margin that an eye sees."""
            near, fits = _distances(boxes, own), np.full(len(boxes), True)
            for other in others:
                fits &= near < 0.6 * _distances(boxes, other)
            return fits

        # Mostly the first will do; where it does not, all others are looked at together.
        for some in (spots[:1], spots[1:]):
            if some and (spot := self._spot(text, some, size, 9.0, occupied, its_own)):
                return spot
        return self.place(text, *spots[0], size=size)

    def _line_edges(self) -> NDArray[np.float64]:
        """Return the edges of all strips along lines, made once for all labels."""
        if self._strip_edges is None:
            points = np.array(self.strips).reshape(-1, 2)
            self._strip_edges = np.hstack((points - _STRIP, points + _STRIP))
        return self._strip_edges

    def _spot(
        self,
        text: str,
        points: list[Point],
        size: float,
        gap: float,
        occupied: NDArray[np.float64],
        fits: Callable[[NDArray[np.float64]], NDArray[np.bool_]] | None = None,
    ) -> PlacedLabel | None:
        """Return the first spot that is free and ``fits``, beside the first point that has one, and take it."""
        x, y = (at[:, None] for at in np.array(points, dtype=float).T)
        width, height, reach = text_width(text, size), size, gap * _FURTHER
        aside, wide, down, tall = _BESIDE
        left, base = (x + aside * reach + wide * width).ravel(), (y + down * reach + tall * height).ravel()
        edges = np.stack((left - 2, base - height * 0.85, left + width + 2, base + height * 0.25), axis=1)
        free = _clear(edges, occupied, self.plot).nonzero()[0]
        if fits and len(free):
            free = free[fits(edges[free])]
        if not len(free):
            return None
        first = free[0]
        self.taken.append(tuple(edges[first].tolist()))
        return PlacedLabel(float(left[first]), float(base[first]))
