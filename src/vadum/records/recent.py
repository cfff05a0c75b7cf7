"""What was worked out from the same record a moment ago: a save, its answer, lists and doors ask one after another."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

T = TypeVar("T")


class Recent(Generic[T]):
    """What was asked for last, by what it was worked out from. It is shared by all who ask: nobody changes it."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._found: OrderedDict[Hashable, T] = OrderedDict()
        self._looking = threading.Lock()

    def of(self, key: Hashable, work_out: Callable[[], T]) -> T:
        """Return what is known under a key, worked out where nothing is."""
        with self._looking:
            if (known := self._found.get(key)) is not None:
                self._found.move_to_end(key)
                return known
        found = work_out()
        with self._looking:
            self._found[key] = found
            while len(self._found) > self._most:
                self._found.popitem(last=False)
        return found
