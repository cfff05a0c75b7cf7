"""Labels that do not run into each other, into points or off the plot."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

# Mean advance of the figure's typeface, as a share of its size; wide enough that boxes err on the large side.
_ADVANCE = 0.56


Point = tuple[float, float]


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

    def within(self, other: "Box") -> bool:
        return (
            self.left >= other.left
            and self.right <= other.right
            and self.top >= other.top
            and self.bottom <= other.bottom
        )

    def distance_to(self, points: NDArray[np.float64]) -> float:
        """Return how far the nearest of some points, shape (n, 2), lies from the nearest edge, 0 inside."""
        x, y = points.T
        beside = np.maximum(np.maximum(self.left - x, x - self.right), 0.0)
        above = np.maximum(np.maximum(self.top - y, y - self.bottom), 0.0)
        return float(np.hypot(beside, above).min())


@dataclass(frozen=True)
class PlacedLabel:
    """Where a label's baseline starts."""

    x: float
    y: float


def _square(x: float, y: float, reach: float) -> Box:
    return Box(x - reach, y - reach, x + reach, y + reach)


def _edges(boxes: list[Box]) -> NDArray[np.float64]:
    """Return left, top, right and bottom of boxes, shape (n, 4)."""
    return np.array([(box.left, box.top, box.right, box.bottom) for box in boxes]).reshape(-1, 4)


def _meets(box: Box, edges: NDArray[np.float64]) -> bool:
    left, top, right, bottom = edges.T
    return bool(((box.left < right) & (left < box.right) & (box.top < bottom) & (top < box.bottom)).any())


def text_width(text: str, size: float) -> float:
    return len(text) * size * _ADVANCE


class Labels:
    """Places labels one after the other, each clear of all that stands already."""

    def __init__(self, plot: Box) -> None:
        self.plot = plot
        self.taken: list[Box] = []
        self.lines: list[Box] = []
        self.named: dict[str, list[Point]] = {}

    def keep_clear(self, x: float, y: float, reach: float) -> None:
        """Reserve the square around a point."""
        self.taken.append(_square(x, y, reach))

    def keep_segment_clear(self, start: Point, end: Point, name: str = "") -> None:
        """Reserve a thin strip along a line, in steps short enough that no label slips through.

        A line with a ``name`` has a label: no other line's label may then stand nearer to it than to its own.
        """
        steps = max(1, int(max(abs(end[0] - start[0]), abs(end[1] - start[1])) // 8))
        for i in range(steps + 1):
            share = i / steps
            x, y = start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1])
            # A logged line has many points to a pixel: one strip for all of them.
            strip = _square(x, y, 2)
            if self.lines and self.lines[-1].overlaps(strip) and (not name or name in self.named):
                continue
            self.lines.append(strip)
            if name:
                self.named.setdefault(name, []).append((x, y))

    def place(self, text: str, x: float, y: float, *, size: float = 13.0, gap: float = 9.0) -> PlacedLabel | None:
        """Return a free spot beside a point, nearest first; None when the plot is too crowded for this label.

        A label may cross a line when nothing else is free, but never a point or another label.
        """
        clear = self._spot(text, x, y, size, gap, _edges([*self.taken, *self.lines]))
        return clear or self._spot(text, x, y, size, gap, _edges(self.taken))

    def name_line(self, name: str, text: str, spots: list[Point], *, size: float = 13.0) -> PlacedLabel | None:
        """Return a free spot for the label of a line beside one of ``spots`` on it, nearest to this line of all named.

        Where every such spot is taken the first place of :meth:`place` must do.
        """
        occupied = _edges([*self.taken, *self.lines])
        own = np.array(self.named[name])
        others = [np.array(line) for other, line in self.named.items() if other != name]

        def its_own(box: Box) -> bool:
            """Say whether a box is nearer to this line than to any other by a margin that an eye sees."""
            return all(box.distance_to(own) < 0.6 * box.distance_to(other) for other in others)

        for x, y in spots:
            if spot := self._spot(text, x, y, size, 9.0, occupied, its_own):
                return spot
        return self.place(text, *spots[0], size=size)

    def _spot(
        self,
        text: str,
        x: float,
        y: float,
        size: float,
        gap: float,
        occupied: NDArray[np.float64],
        fits: Callable[[Box], bool] = lambda _: True,
    ) -> PlacedLabel | None:
        width, height = text_width(text, size), size
        for reach in (gap, gap * 2, gap * 3.2):
            spots = (
                (x + reach, y - reach * 0.6),
                (x + reach, y + reach * 0.6 + height * 0.8),
                (x - reach - width, y - reach * 0.6),
                (x - reach - width, y + reach * 0.6 + height * 0.8),
                (x - width / 2, y - reach),
                (x - width / 2, y + reach + height * 0.8),
            )
            for left, base in spots:
                box = Box(left - 2, base - height * 0.85, left + width + 2, base + height * 0.25)
                if box.within(self.plot) and not _meets(box, occupied) and fits(box):
                    self.taken.append(box)
                    return PlacedLabel(left, base)
        return None
