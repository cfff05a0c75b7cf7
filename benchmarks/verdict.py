"""What a benchmark found against what is wanted: a table with a verdict, and an exit status that says whether it
holds."""

import statistics
import time
from collections.abc import Callable
from typing import Any

_ALLOWED = 1.2
"""How much more than its target a figure may be before the run fails: this machine's neighbours are loud."""


class Verdicts:
    """The figures of one benchmark; ``status`` is 1 when one of them misses its target by more than a fifth."""

    def __init__(self, title: str) -> None:
        self.status = 0
        print(title)

    def told(self, what: str, found: float, most: float, unit: str = "x", more: str = "") -> None:
        """Print what was found and the most it should be."""
        word = "met" if found <= most else "near" if found <= most * _ALLOWED else "MISSED"
        self.status |= word == "MISSED"
        print(f"  {what:34} {found:8.2f} {unit:3} wanted {most:6g} {unit:3} {word:7}{more}", flush=True)


def spans(work: Callable[[], Any], rounds: int, warm: int = 8) -> list[float]:
    """Return what each round of some work took, in ms."""
    for _ in range(warm):
        work()
    found = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        found.append((time.perf_counter() - start) * 1e3)
    return found


def ratio(work: Callable[[], Any], yardstick: Callable[[], Any], rounds: int = 60) -> tuple[float, float]:
    """Return how many times as long as a yardstick some work takes, and what it takes in ms; both by turns, by their
    medians: what slows the machine down slows both."""
    pairs = [(*spans(yardstick, 1, 0), *spans(work, 1, 0)) for _ in range(rounds + 8)][8:]
    found = statistics.median(own for _, own in pairs)
    return found / statistics.median(by for by, _ in pairs), found
