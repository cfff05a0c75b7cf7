"""The press in run mode: what its page is told, and what the virtual bench shows while the plunger goes down."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from vadum.soil.bench.plunger.readings import BearingSettings, ForceRead, PenetrationRow

# The usual gauge of penetration, mm per division (ASTM D1883 and D4429 ask for readings to 0.01 mm or finer).
GAUGE_MM_DIV = 0.01
# Why a run may end before its last planned penetration; kept as the reason of the row that was not read.
ENDS = ("end of the run", "reaction lifted", "stone below the plunger", "ring or gauge at its end")


def press_view(settings: BearingSettings, runs: Sequence[tuple[str, str]]) -> dict[str, Any]:
    """Return what run mode at the press needs: the rate, the gauge, what the force is read from, and of each run its
    table and title."""
    shown = [{"table": table, "title": title} for table, title in runs]
    cell = settings.force_read == ForceRead.CELL
    return {
        "press": {
            "rate": settings.rate,
            "gaugeMm": GAUGE_MM_DIV,
            "column": "load_kn" if cell else "ring_div",
            "runs": shown,
            "ends": list(ENDS),
        }
    }


def pressed_at(rows: Sequence[PenetrationRow], column: str, minutes: float, rate_mm_min: float) -> float | None:
    """Return what gauge or ring shows so many minutes into a run of virtual readings, None where they say nothing."""
    read = [(r.penetration_mm, r.read) for r in rows if r.penetration_mm is not None and r.read is not None]
    if not read or minutes < 0:
        return None
    depth, force = np.array(read, dtype=float).T
    at = min(rate_mm_min * minutes, float(depth[-1]))
    if column == "penetration_mm":
        return round(at, 2)
    shows = float(np.interp(at, depth, force))
    return round(shows, 3) if column == "load_kn" else round(2 * shows) / 2
