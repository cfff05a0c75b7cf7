"""What would be read at two rings on ground that takes water at a known rate."""

from typing import Any

import numpy as np

from vadum.soil.bench.infiltrating import to_temperature
from vadum.soil.methods.double_ring.readings import Kept, RingReadings, RingSettings
from vadum.soil.virtual.soaked_ground import SoakedGround

MISTAKES = {
    "heads-apart": "the outer ring is kept 30 mm lower",
    "tubes-exchanged": "the sections of the two tubes are exchanged",
    "stopped-unsteady": "reading ends before it is steady",
    "refill-unsaid": "the tubes are filled up in between and nobody says so",
    "times-exchanged": "two times are exchanged",
    "rim-leaks": "water goes below the rim of the inner ring",
    "diameter-for-radius": "the radius of the inner ring is typed for its diameter",
}
_INNER, _OUTER, _FULL = 300.0, 600.0, 950.0
_AREA = np.pi / 400 * _INNER**2
_ANNULAR = np.pi / 400 * _OUTER**2 - _AREA
_SLOW, _QUICK, _FAST_MM_MIN = (36.0, 108.0), (120.0, 360.0), 0.5
_SIDEWAYS = 1.15
"""Between the rings water spreads sideways below the outer rim and goes faster."""


def a_double_ring(
    soil: SoakedGround, settings: RingSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> RingReadings:
    """Return readings until well after the ground is soaked; tubes as wide as the rate asks."""
    temperature = round(float(rng.uniform(9, 21)), 1)
    rate = soil.rate_mm_h / 60 * to_temperature(20.0, temperature)
    tubes = _SLOW if rate < _FAST_MM_MIN else _QUICK
    fall = 10 * rate * _AREA / 10 / tubes[0]  # of the inner tube, mm/min
    every = float(np.clip(5 * round(60.0 / fall / 5), 15, 60))
    settles = 2.5 * every
    minutes = every * np.arange(7 if "stopped-unsteady" in mistakes else 17)
    gone_mm = rate * (minutes + 4 * soil.eager * settles * (1 - np.exp(-minutes / settles)))
    inner, outer = gone_mm / 10 * _AREA, gone_mm / 10 * _SIDEWAYS * _ANNULAR
    if "rim-leaks" in mistakes:
        inner = 2.2 * inner
    rows = _poured(minutes, inner, outer) if settings.kept == Kept.VOLUMES else _levels(minutes, inner, outer, tubes)
    if "refill-unsaid" in mistakes and settings.kept == Kept.LEVELS:
        for row in rows[6:]:
            row["inner_mm"], row["outer_mm"] = row["inner_mm"] + 400, row["outer_mm"] + 400
    if "times-exchanged" in mistakes:
        rows[4]["elapsed_min"], rows[5]["elapsed_min"] = rows[5]["elapsed_min"], rows[4]["elapsed_min"]
    sections = tubes[::-1] if "tubes-exchanged" in mistakes else tubes
    plain: dict[str, Any] = {
        "inner_mm": _INNER / 2 if "diameter-for-radius" in mistakes else _INNER,
        "outer_mm": _OUTER,
        "inner_driven_mm": 60.0,
        "outer_driven_mm": 150.0,
        "inner_head_mm": 100.0,
        "outer_head_mm": 70.0 if "heads-apart" in mistakes else 100.0,
        "temperature_c": temperature,
        "sealed": "yes",
        "services_located": "yes",
        "readings": rows,
        "water_table_m": 3.1,
        "latitude_deg": round(52.1044 + float(rng.normal(0, 1e-4)), 6),
        "longitude_deg": round(-1.2046 + float(rng.normal(0, 1e-4)), 6),
    }
    if settings.kept == Kept.LEVELS:
        plain |= {"inner_tube_cm2": round(sections[0], 1), "outer_tube_cm2": round(sections[1], 1)}
    return RingReadings.model_validate(plain)


def _poured(minutes: np.ndarray, inner: np.ndarray, outer: np.ndarray) -> list[dict[str, Any]]:
    """Return what was poured into both rings over each interval, to 5 cm3."""
    rows: list[dict[str, Any]] = [{"elapsed_min": 0.0}]
    for t, a, b in zip(minutes[1:].tolist(), np.diff(inner), np.diff(outer), strict=True):
        rows.append({"elapsed_min": t, "inner_cm3": 5.0 * round(a / 5), "outer_cm3": 5.0 * round(b / 5)})
    return rows


def _levels(
    minutes: np.ndarray, inner: np.ndarray, outer: np.ndarray, tubes: tuple[float, float]
) -> list[dict[str, Any]]:
    """Return the levels of both tubes, filled up when one of them is nearly empty."""
    rows: list[dict[str, Any]] = []
    full = [_FULL, _FULL]
    for t, a, b in zip(minutes.tolist(), inner, outer, strict=True):
        fallen = (10 * a / tubes[0], 10 * b / tubes[1])
        row: dict[str, Any] = {"elapsed_min": t}
        if min(full[0] - fallen[0], full[1] - fallen[1]) < 60:
            full, row["refilled"] = [f + _FULL for f in fallen], "yes"
        rows.append(row | {"inner_mm": round(full[0] - fallen[0]), "outer_mm": round(full[1] - fallen[1])})
    return rows
