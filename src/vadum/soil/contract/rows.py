"""Tables that carry several things at once, told apart by a number in one of their columns."""

from collections.abc import Sequence
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.field import Row

R = TypeVar("R", bound=Row)


def numbered(rows: Sequence[R], column: str = "specimen") -> list[tuple[int, int, R]]:
    """Return place in the table, number and row, for every row; a blank number stands for the one above, 1 at first."""
    found, number = [], 1
    for i, row in enumerate(rows):
        if (own := row.__dict__[column]) is not None:
            number = own
        found.append((i, number, row))
    return found


def by_row(table: str, key: str, rows: NDArray[np.int64], values: NDArray[np.float64]) -> dict[str, float]:
    """Return worked-out cells by path; what comes from a logger file has row -1, and no cell."""
    typed = rows >= 0
    return {f"{table}.{i}.{key}": value for i, value in zip(rows[typed].tolist(), values[typed].tolist(), strict=True)}
