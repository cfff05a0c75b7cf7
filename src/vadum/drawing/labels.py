"""Labels that do not run into each other, into points or off the plot."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import accumulate, compress

import numpy as np
from numpy.typing import NDArray

# Mean advance of the figure's typeface, as a share of its size; wide enough that boxes err on the large side.
_ADVANCE = 0.56
# A line is kept clear by squares of this reach, px, this far apart at most.
_STRIP, _APART = 2.0, 8.0
# Two strips nearer than this are as good as one.
_NEAR = 2 * _STRIP
# What a label takes beside and above its baseline: a margin in px, and shares of its size above and below.
_MARGIN, _ASCENT, _DESCENT = 2.0, 0.85, 0.25


# Where a label is tried beside a point, nearest first: at either side above and below, above, below, each at three
# distances. How far to the right, in distances and in widths, and how far down, in distances and in heights.
_SIDES = ((1, 0, -0.6, 0), (1, 0, 0.6, 0.8), (-1, -1, -0.6, 0), (-1, -1, 0.6, 0.8), (0, -0.5, -1, 0), (0, -0.5, 1, 0.8))
_BESIDE = [(further, *side) for further in (1.0, 2.0, 3.2) for side in _SIDES]

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


def _distances(boxes: list[Edges], points: NDArray[np.float64], starts: list[int]) -> NDArray[np.float64]:
    """Return how far from each box the nearest point of each line lies, 0 inside; the points of all lines, shape
    (n, 2), and where each line starts in them."""
    left, top, right, bottom = (edge[:, None] for edge in np.array(boxes).T)
    x, y = points.T
    beside = np.maximum(np.maximum(left - x, x - right), 0.0)
    above = np.maximum(np.maximum(top - y, y - bottom), 0.0)
    return np.asarray(np.sqrt(np.minimum.reduceat(beside * beside + above * above, starts, axis=1)))


def _in_steps(lines: list[list[Point]]) -> Iterator[tuple[list[Point], bool]]:
    """Yield the points of each line with as many between them as keep each step short, and whether some of them lie as
    near to one another as a strip is wide; worked out of all lines at once."""
    points, whose = np.array([p for line in lines for p in line]).reshape(-1, 2), range(len(lines))
    line = np.repeat(whose, [len(one) for one in lines])
    begins = (line[1:] == line[:-1]).nonzero()[0]
    moves, whose_step = points[begins + 1] - points[begins], line[begins]
    steps = np.maximum(1, np.abs(moves).max(axis=1, initial=0.0) // _APART).astype(np.int64)
    # Each step begins at a point; the last one of a line ends at one besides.
    count = steps + np.append(whose_step[1:] != whose_step[:-1], True)[: len(steps)]
    which = np.repeat(np.arange(len(steps)), count)
    share = (np.arange(len(which)) - (np.cumsum(count) - count)[which]) / steps[which]
    all_found = points[begins[which]] + share[:, None] * moves[which]
    near = (np.abs(all_found[1:] - all_found[:-1]).max(axis=1, initial=0.0) < _NEAR).tolist()
    found, start = list(zip(*all_found.T.tolist(), strict=True)), 0
    for end in np.searchsorted(whose_step[which], whose, side="right").tolist():
        yield found[start:end], any(near[start : end - 1])
        start = end


def _near(one: Point, other: Point) -> bool:
    return abs(one[0] - other[0]) < _NEAR and abs(one[1] - other[1]) < _NEAR


def _thinned(points: Iterable[Point], kept: Sequence[Point]) -> list[Point]:
    """Return the points of a line that are not too near to the last one kept before them."""
    found, last = [], kept[-1] if kept else None
    for point in points:
        if last is None or not _near(last, point):
            found.append(point)
            last = point
    return found


def text_width(text: str, size: float) -> float:
    return len(text) * size * _ADVANCE


class Labels:
    """Places labels one after the other, each clear of all that stands already."""

    def __init__(self, plot: Box) -> None:
        self.plot = plot
        self.taken: list[Edges] = []
        self.named: dict[str, list[Point]] = {}
        self.strips: list[Point] = []
        self._edges: list[list[float]] | None = None
        self._all_named: tuple[NDArray[np.float64], list[int]] | None = None

    def keep_clear(self, x: float, y: float, reach: float) -> None:
        """Reserve the square around a point."""
        self.taken.append((x - reach, y - reach, x + reach, y + reach))

    def keep_lines_clear(self, lines: list[tuple[str, list[Point]]]) -> None:
        """Reserve a thin strip along each line, in steps short enough that no label slips through.

        A line with a name has a label: no other line's label may then stand nearer to it than to its own.
        """
        for (name, _), (points, dense) in zip(lines, _in_steps([line for _, line in lines]), strict=True):
            # A logged line has many points to a pixel: one strip for all of them. A name needs one at least.
            last = () if name else self.strips[-1:]
            own = _thinned(points, last) if dense or (last and points and _near(last[0], points[0])) else points
            self.strips += own
            if name and own:
                self.named[name] = own
        self._edges = self._all_named = None

    def place(self, text: str, x: float, y: float, *, size: float = 13.0, gap: float = 9.0) -> PlacedLabel | None:
        """Return a free spot beside a point, nearest first; None when the plot is too crowded for this label.

        A label may cross a line when nothing else is free, but never a point or another label.
        """
        first = None
        for box in filter(self._is_free, self._within(text, x, y, size, gap)):
            if self._is_off_lines(box):
                return self._take(box, size)
            first = first or box
        return self._take(first, size) if first else None

    def name_line(self, name: str, text: str, spots: Iterator[Point], *, size: float = 13.0) -> PlacedLabel | None:
        """Return a free spot for the label of a line beside one of ``spots`` on it, nearest to this line of all named.

        Where every such spot is taken the first place of :meth:`place` must do.
        """
        # Mostly the first will do; where it does not, all others are looked at together.
        first = next(spots)
        for some in ((first,), spots):
            boxes = self._nearer(name, [box for x, y in some for box in self._within(text, x, y, size, 9.0)])
            if own := next(filter(self._is_off_lines, filter(self._is_free, boxes)), None):
                return self._take(own, size)
        return self.place(text, *first, size=size)

    def _within(self, text: str, x: float, y: float, size: float, gap: float) -> Iterator[Edges]:
        """Yield the boxes of a label beside a point, nearest first, that lie within the plot."""
        plot, width = self.plot, text_width(text, size)
        for further, aside, wide, down, tall in _BESIDE:
            at, base = x + aside * gap * further + wide * width, y + down * gap * further + tall * size
            box = left, top, right, bottom = (
                at - _MARGIN,
                base - size * _ASCENT,
                at + width + _MARGIN,
                base + size * _DESCENT,
            )
            if left >= plot.left and right <= plot.right and top >= plot.top and bottom <= plot.bottom:
                yield box

    def _is_free(self, box: Edges) -> bool:
        """Return whether a box meets no point and no label."""
        left, top, right, bottom = box
        for from_left, from_top, to_right, to_bottom in self.taken:
            if left < to_right and from_left < right and top < to_bottom and from_top < bottom:
                return False
        return True

    def _is_off_lines(self, box: Edges) -> bool:
        """Return whether a box meets no strip along a line."""
        if self._edges is None:
            # From left to right, so that only those below a label are looked at.
            x, y = zip(*sorted(self.strips), strict=True) if self.strips else ((), ())
            self._edges = [[at + by for at in places] for places in (x, y) for by in (-_STRIP, _STRIP)]
        lefts, rights, tops, bottoms = self._edges
        left, top, right, bottom = box
        below = slice(bisect_right(rights, left), bisect_left(lefts, right))
        for from_top, to_bottom in zip(tops[below], bottoms[below], strict=True):
            if top < to_bottom and from_top < bottom:
                return False
        return True

    def _nearer(self, name: str, boxes: list[Edges]) -> Iterable[Edges]:
        """Return those boxes that are nearer to their own line than to any other by a margin that an eye sees."""
        if not boxes or len(self.named) == 1:
            return boxes
        if self._all_named is None:
            lengths = [len(line) for line in self.named.values()]
            points = np.array([point for line in self.named.values() for point in line])
            self._all_named = points, [0, *accumulate(lengths[:-1])]
        of_lines = _distances(boxes, *self._all_named)
        which = list(self.named).index(name)
        own = of_lines[:, which].copy()
        of_lines[:, which] = np.inf
        return compress(boxes, own < 0.6 * of_lines.min(axis=1))

    def _take(self, box: Edges, size: float) -> PlacedLabel:
        """Reserve the box of a label, which then stands there."""
        self.taken.append(box)
        return PlacedLabel(box[0] + _MARGIN, box[3] - size * _DESCENT)
