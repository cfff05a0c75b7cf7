"""Tables that carry several things at once, told apart by a number in one of their columns."""

from collections.abc import Sequence
from typing import TypeVar

from vadum.soil.contract.field import Row

R = TypeVar("R", bound=Row)


def numbered(rows: Sequence[R], column: str = "specimen") -> list[tuple[int, int, R]]:
    """Return place in the table, number and row, for every row; a blank number stands for the one above, 1 at first."""
    found, number = [], 1
    for i, row in enumerate(rows):
        own = getattr(row, column)
        number = own if own is not None else number
        found.append((i, number, row))
    return found
