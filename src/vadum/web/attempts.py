"""Signing in, held back: how many tries are judged, how long the next one waits, how many passwords are hashed at
once."""

import threading
import time
from collections import defaultdict

# Hashing a password takes much memory and time on purpose: more at once would stop the server.
HASHING = threading.BoundedSemaphore(2)


class Attempts:
    """Tries by name and address, and by address alone: after so many a minute's wait, twice as long with every further
    one.

    A try counts from when it begins: five may come at once, the sixth is not judged.
    """

    FREE, FREE_BY_ADDRESS, FIRST_S, FORGET_S = 5, 20, 60.0, 3600.0

    def __init__(self) -> None:
        self._tried: dict[tuple[str, str], list[float]] = defaultdict(list)
        self._lock = threading.Lock()

    def begin(self, name: str, address: str) -> float:
        """Count a try; return how long it has to wait, 0 when it may be judged."""
        at = time.monotonic()
        keys: tuple[tuple[tuple[str, str], int], ...] = (
            ((name, address), self.FREE),
            (("", address), self.FREE_BY_ADDRESS),
        )
        with self._lock:
            self._forget(at)
            wait = max(self._wait(key, free, at) for key, free in keys)
            if wait == 0:
                for key, _ in keys:
                    self._tried[key].append(at)
            return wait

    def succeeded(self, name: str, address: str) -> None:
        """Forget the tries of this name: it was the person. Those of other names from the address stay counted."""
        with self._lock:
            mine = len(self._tried.pop((name, address), []))
            left = self._tried[("", address)][:-mine] if mine else self._tried[("", address)]
            self._tried[("", address)] = left

    def _wait(self, key: tuple[str, str], free: int, at: float) -> float:
        tried = self._tried.get(key, [])
        if len(tried) < free:
            return 0.0
        return max(0.0, tried[-1] + self.FIRST_S * 2.0 ** min(len(tried) - free, 12) - at)

    def _forget(self, at: float) -> None:
        for key, tried in list(self._tried.items()):
            kept = [t for t in tried if at - t < self.FORGET_S]
            if kept:
                self._tried[key] = kept
            else:
                del self._tried[key]
