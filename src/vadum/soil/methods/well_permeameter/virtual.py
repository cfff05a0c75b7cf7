"""What would be read at a hole in ground whose conductivity and class are known."""

from typing import Any

import numpy as np

from vadum.soil.methods.well_permeameter.readings import Scale, WellReadings, WellSettings
from vadum.soil.physics import constant_head as ch
from vadum.soil.physics.water import water_viscosity
from vadum.soil.virtual.augered_ground import AugeredGround

MISTAKES = {
    "diameter-for-radius": "the hole's diameter is typed as its radius",
    "head-misread": "the head is read as 20 mm on the wrong end of the scale",
    "sections-exchanged": "the sections of the two tubes are exchanged",
    "stopped-unsteady": "reading ends before the rate is steady",
    "refill-unsaid": "the reservoir is filled up in between and nobody says so",
    "heads-alike": "the second head is hardly larger than the first",
    "not-brushed": "the smeared wall is not brushed",
    "too-deep": "the hole is deeper than the frame reaches",
    "times-exchanged": "two times are exchanged",
}
_RADIUS, _DEPTH = 30.0, 450.0
_INNER, _COMBINED = 2.15, 35.22
_FULL, _LOW = 900.0, 60.0


def a_well(
    soil: AugeredGround, settings: WellSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> WellReadings:
    """Return levels of a well permeameter at two heads."""
    temperature = round(float(rng.uniform(8, 20)), 1)
    cold = float(water_viscosity(20.0) / water_viscosity(temperature))
    heads = (50.0, 60.0 if "heads-alike" in mistakes else 100.0)
    slow = soil.kfs_mm_h < 20
    section = _INNER if slow else _COMBINED
    levels: list[dict[str, Any]] = []
    for k, head in enumerate(heads, 1):
        flow = ch.flow_cm3_min(soil.kfs_mm_h / 600 * cold, head / 10, _RADIUS / 10, soil.soil)
        steady = 10 * flow / section
        levels += _levels(k, steady, soil, stopped="stopped-unsteady" in mistakes)
    if settings.scale == Scale.RISES:
        for row in levels:
            row["level_mm"] = round(_FULL - row["level_mm"], 1)
    if "refill-unsaid" in mistakes:
        for row in levels[6:16]:
            row["level_mm"] += 300.0
    if "times-exchanged" in mistakes:
        levels[3]["elapsed_min"], levels[4]["elapsed_min"] = levels[4]["elapsed_min"], levels[3]["elapsed_min"]
    sections = (_COMBINED, _INNER) if "sections-exchanged" in mistakes else (_INNER, _COMBINED)
    plain: dict[str, Any] = {
        "inner_cm2": sections[0],
        "combined_cm2": sections[1],
        "reservoir": "inner" if slow else "combined",
        "temperature_c": temperature,
        "levels": levels,
        "utilities": "yes",
        "latitude_deg": 52.1041,
        "longitude_deg": -1.2052,
        **({"hole_radius_mm": 2 * _RADIUS} if "diameter-for-radius" in mistakes else {"hole_diameter_mm": 2 * _RADIUS}),
        "hole_depth_mm": 1400.0 if "too-deep" in mistakes else _DEPTH,
        "brushed": "no" if "not-brushed" in mistakes else "yes",
        "head_1_mm": 20.0 if "head-misread" in mistakes else heads[0],
        "head_2_mm": heads[-1],
        "reach_mm": 900.0,
        "water_table_m": 3.2,
    }
    return WellReadings.model_validate(plain)


def _levels(head: int, steady: float, soil: AugeredGround, *, stopped: bool) -> list[dict[str, Any]]:
    """Return levels of a fall that approaches its steady rate, read so often that each fall is long enough to read."""
    interval = max(1.0, min(240.0, 45.0 / steady))
    interval = float(round(interval)) if interval >= 2 else 1.0
    settles = 2.0 * interval
    rows: list[dict[str, Any]] = []
    full = _FULL
    for k in range(6 if stopped else 16):
        t = k * interval
        fallen = steady * (t + soil.eager * settles * (1 - float(np.exp(-t / settles))))
        row: dict[str, Any] = {"elapsed_min": t}
        if k == 0:
            row["head"] = head
        if full - fallen < _LOW:
            full, row["refilled"] = fallen + _FULL, "yes"
        row["level_mm"] = round(full - fallen, 1 if steady < 1 else 0)
        rows.append(row)
    return rows
