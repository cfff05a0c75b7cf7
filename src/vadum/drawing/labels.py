"""Labels that do not run into each other, into points or off the plot."""

from dataclasses import dataclass

# Mean advance of the figure's typeface, as a share of its size; wide enough that boxes err on the large side.
_ADVANCE = 0.56


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


@dataclass(frozen=True)
class Placed:
    """Where a label's baseline starts."""

    x: float
    y: float


def _square(x: float, y: float, reach: float) -> Box:
    return Box(x - reach, y - reach, x + reach, y + reach)


def text_width(text: str, size: float) -> float:
    return len(text) * size * _ADVANCE


class Labels:
    """Places labels one after the other, each clear of all that stands already."""

    def __init__(self, plot: Box) -> None:
        self.plot = plot
        self.taken: list[Box] = []
        self.lines: list[Box] = []

    def keep_clear(self, x: float, y: float, reach: float) -> None:
        """Reserve the square around a point."""
        self.taken.append(_square(x, y, reach))

    def keep_segment_clear(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Reserve a thin strip along a line, in steps short enough that no label slips through."""
        steps = max(1, int(max(abs(end[0] - start[0]), abs(end[1] - start[1])) // 8))
        for i in range(steps + 1):
            share = i / steps
            self.lines.append(
                _square(start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1]), 2)
            )

    def place(self, text: str, x: float, y: float, *, size: float = 13.0, gap: float = 9.0) -> Placed | None:
        """Return a free spot beside a point, nearest first; None when the plot is too crowded for this label.

        A label may cross a line when nothing else is free, but never a point or another label.
        """
        clear = self._spot(text, x, y, size, gap, [*self.taken, *self.lines])
        return clear or self._spot(text, x, y, size, gap, self.taken)

    def _spot(self, text: str, x: float, y: float, size: float, gap: float, occupied: list[Box]) -> Placed | None:
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
                if box.within(self.plot) and not any(box.overlaps(other) for other in occupied):
                    self.taken.append(box)
                    return Placed(left, base)
        return None
