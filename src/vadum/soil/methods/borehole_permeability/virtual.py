"""What would be dipped in a borehole in ground whose permeability is known."""

from math import pi
from typing import Any

import numpy as np

from vadum.soil.methods.borehole_permeability.readings import BoreholeReadings, BoreholeSettings
from vadum.soil.physics.borehole import Intake, intake_factor_m
from vadum.soil.virtual.drilled_ground import DrilledGround

MISTAKES = {
    "rest-wrong": "the rest is dipped before the water stands, 0.25 m off",
    "stopped-early": "the second run is left with two thirds of its head",
    "times-exchanged": "two times of the first run are exchanged",
    "level-misread": "a level of the first run is misread by 0.2 m",
    "casing-outside": "the casing is measured outside",
    "not-cleaned": "the section is not cleaned",
    "top-misread": "the section's beginning is taped 0.4 m too low",
    "depths-exchanged": "the section's beginning and end are exchanged",
}
_CASING, _SECTION, _LONG = 52.0, 120.0, 1.2
_SHARES = np.array([0.0, 0.05, 0.12, 0.2, 0.3, 0.42, 0.55, 0.7, 0.85, 1.0])


def a_borehole(
    soil: DrilledGround, settings: BoreholeSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> BoreholeReadings:
    """Return two runs, one falling and one rising, dipped to 5 mm."""
    flush = settings.intake in (Intake.FLUSH, Intake.FLUSH_BOUNDARY)
    across = _CASING if flush else _SECTION
    area = pi / 4 * (_CASING / 1000) ** 2
    lag = area / (intake_factor_m(settings.intake, across / 1000, _LONG) * soil.k_m_s) / 60
    levels: list[dict[str, Any]] = []
    slug = 0.0
    for run in (1, 2):
        first = float(rng.uniform(1.5, 2.5))
        slug = slug or 1000 * area * first
        until = 1.7 if not ("stopped-early" in mistakes and run == 2) else 0.4
        minutes = np.array([_clock(t) for t in until * lag * _SHARES])
        head = first * np.exp(-minutes / lag)
        for i, (t, h) in enumerate(zip(minutes.tolist(), head.tolist(), strict=True)):
            level = soil.rest_m - h if run == 1 else soil.rest_m + h
            row: dict[str, Any] = {"elapsed_min": t, "level_m": round(200 * level) / 200}
            levels.append({"fill": run, **row} if i == 0 else row)
    if "times-exchanged" in mistakes:
        levels[4]["elapsed_min"], levels[5]["elapsed_min"] = levels[5]["elapsed_min"], levels[4]["elapsed_min"]
    if "level-misread" in mistakes:
        levels[4]["level_m"] = round(levels[4]["level_m"] - 0.2, 3)
    top = round(soil.rest_m + 3.0, 2)
    depths = (top, round(top + _LONG, 2))
    if "top-misread" in mistakes:
        depths = (round(top + 0.4, 2), depths[1])
    if "depths-exchanged" in mistakes:
        depths = depths[::-1]
    return BoreholeReadings.model_validate(
        {
            "casing_mm": 60.0 if "casing-outside" in mistakes else _CASING,
            "section_mm": across,
            **({} if flush else {"top_m": depths[0], "length_m": _LONG}),
            "base_m": depths[1],
            "rest_m": round(soil.rest_m + (0.25 if "rest-wrong" in mistakes else 0.0), 3),
            "slug_l": round(slug, 1),
            "cleaned": "no" if "not-cleaned" in mistakes else "yes",
            "services_located": "yes",
            "fills": [{"temperature_c": 10.5}, {"temperature_c": 10.5}],
            "levels": levels,
            "latitude_deg": 52.1052,
            "longitude_deg": -1.2041,
        }
    )


def _clock(minutes: float) -> float:
    """Return a time as a watch shows it: to the second, the quarter of a minute, the minute."""
    step = 1 / 60 if minutes < 2 else 0.25 if minutes < 20 else 1.0
    return round(round(minutes / step) * step, 4)
