"""The press in run mode: what its page is told, and what the virtual bench shows while the plunger goes down."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from vadum.soil.bench.plunger.readings import PenetrationRow

# The usual gauge of penetration, mm per division (ASTM D1883 and D4429 ask for readings to 0.01 mm or finer).
GAUGE_MM_DIV = 0.01
# Why a run may end before its last planned penetration; kept as the reason of the row that was not read.
ENDS = ("end of the run", "reaction lifted", "stone below the plunger", "ring or gauge at its end")


def press_view(rate_mm_min: float, runs: Sequence[tuple[str, str]]) -> dict[str, Any]:
    """Return what run mode at the press needs: the rate, the gauge, and of each run its table and title."""
    shown = [{"table": table, "title": title} for table, title in runs]
    return {"press": {"rate": rate_mm_min, "gaugeMm": GAUGE_MM_DIV, "runs": shown, "ends": list(ENDS)}}


def pressed_at(rows: Sequence[PenetrationRow], column: str, minutes: float, rate_mm_min: float) -> float | None:
    """Return what gauge or ring shows so many minutes into a run of virtual readings, None where they say nothing."""
    read = [(r.penetration_mm, r.ring_div) for r in rows if r.penetration_mm is not None and r.ring_div is not None]
    if not read or minutes < 0:
        return None
    depth, ring = np.array(read, dtype=float).T
    at = min(rate_mm_min * minutes, float(depth[-1]))
    if column == "penetration_mm":
        return round(at, 2)
    return round(2 * float(np.interp(at, depth, ring))) / 2
