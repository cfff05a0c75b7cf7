"""What was worked out from the same numbers a moment ago: of what a typed reading asks for, most was asked before."""

from collections.abc import Callable
from functools import lru_cache, wraps
from typing import Any, TypeVar

import numpy as np

Work = TypeVar("Work", bound=Callable[..., Any])
_CALLS = 48


class _Call:
    """The arguments of one call, equal to another's when their numbers are."""

    def __init__(self, given: tuple[Any, ...], named: dict[str, Any]) -> None:
        self.given, self.named = given, named
        self.key = (*map(_told, given), *((name, _told(value)) for name, value in named.items()))

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Call) and self.key == other.key


def remembered(work: Work) -> Work:
    """Return a pure computation that keeps what it found for its last few calls, arrays and lists taken by value.

    What it returns is shared by all who ask: nobody changes it.

    >>> @remembered
    ... def doubled(numbers):
    ...     print("worked out")
    ...     return [2 * number for number in numbers]
    >>> doubled([1, 2]), doubled([1, 2])
    worked out
    ([2, 4], [2, 4])
    """

    @lru_cache(_CALLS)
    def found(call: _Call) -> Any:
        return work(*call.given, **call.named)

    @wraps(work)
    def asked(*given: Any, **named: Any) -> Any:
        return found(_Call(given, named))

    return asked  # type: ignore[return-value]


def _told(value: Any) -> Any:
    if isinstance(value, np.ndarray):
        return value.tobytes(), value.shape, value.dtype.str
    return tuple(value) if isinstance(value, list) else value
