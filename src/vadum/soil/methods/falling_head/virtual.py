"""What would be read of ground whose conductivity is known, in three cylinders."""

from typing import Any

import numpy as np

from vadum.soil.methods.falling_head.readings import FallingHeadReadings, FallingHeadSettings, Moisture
from vadum.soil.physics.falling_head import saturation_of_dial
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.water import water_viscosity
from vadum.soil.virtual.thirsty_ground import ThirstyGround

MISTAKES = {
    "moistures-exchanged": "the moistures before and after of the second cylinder are exchanged",
    "dial-in-percent": "the first moisture is typed in percent, not as the dial shows",
    "water-added": "water is added to the first cylinder in between",
    "leaking-rim": "water leaks at the rim of the third cylinder in the first minute",
    "stopped-early": "the second cylinder is stopped with half of the water in it",
    "start-low": "the first cylinder is filled to 200 mm only",
    "minutes-in-clay": "clay is judged from twenty minutes",
    "time-exchanged": "two times of the first cylinder are exchanged",
}
_RADIUS, _EMBEDDED, _READINGS = 50.0, 50.0, 26
_CORNER = (52.104300, -1.204800)
_LEFT = 0.025
# Of a ground of 42 % pores.
_DRY = 1.56


def a_falling_head(
    soil: ThirstyGround, settings: FallingHeadSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> FallingHeadReadings:
    """Return the readings of three cylinders by hand."""
    dial = settings.moisture == Moisture.DIAL
    porosity = 0.42
    before = np.clip(round(soil.before * 10), 0, 6)
    # All are filled from the same cans: their water is alike.
    can_c, middle_c = 0.0, 15.5
    cylinders: list[dict[str, Any]] = []
    heads: list[dict[str, Any]] = []
    starts: set[float] = set()
    for k in (1, 2, 3):
        wet = min(10.0, before + max(3.0, round(soil.deficit / porosity * 10)))
        deficit = (saturation_of_dial(wet) - saturation_of_dial(float(before))) / 100 * porosity
        start = 200.0 if "start-low" in mistakes and k == 1 else float(rng.integers(320, 420))
        # No hand fills two cylinders to the same millimetre.
        while start in starts:
            start += 1.0
        starts.add(start)
        drawn_c = float(rng.uniform(9, 22))
        can_c = can_c if k > 1 else drawn_c
        temperature = round(drawn_c if k == 1 else can_c + (drawn_c - middle_c) / 8, 1)
        ks = soil.ks_mm_h / 60 * float(water_viscosity(20.0) / water_viscosity(temperature))
        if "minutes-in-clay" in mistakes:
            ks = 0.03
        at, head = soil.fall(_RADIUS, _EMBEDDED, start, deficit, ks, left=_LEFT)
        minutes = at[-1] * np.linspace(0, 1, _READINGS) ** 2
        if "minutes-in-clay" in mistakes:
            minutes = 20.0 * np.linspace(0, 1, _READINGS) ** 2
        minutes = np.array([_clock(t) for t in minutes])
        read = np.interp(minutes, at, head)
        if "leaking-rim" in mistakes and k == 3:
            read = np.maximum(read - 70.0 * (1 - np.exp(-minutes / (0.01 * minutes[-1]))), 0.0)
        if "stopped-early" in mistakes and k == 2:
            minutes, read = minutes[read > start / 2], read[read > start / 2]
        rows = [
            {
                "cylinder": k,
                "elapsed_min": float(t),
                "head_mm": float(settings.resolution_mm * round(h / settings.resolution_mm)),
            }
            for t, h in zip(minutes, read, strict=True)
        ]
        if k == 1 and "water-added" in mistakes:
            for row in rows[12:]:
                row["head_mm"] += 120.0
        if k == 1 and "time-exchanged" in mistakes:
            rows[6]["elapsed_min"], rows[7]["elapsed_min"] = rows[7]["elapsed_min"], rows[6]["elapsed_min"]
        heads += rows
        dials = (float(before), float(wet))
        if "moistures-exchanged" in mistakes and k == 2:
            dials = dials[::-1]
        # By mass the porosity over the dry density in place of the porosity.
        by = porosity * WATER / _DRY if settings.moisture == Moisture.MASS else porosity
        moistures = dials if dial else tuple(round(10 * d * by, 2) for d in dials)
        if "dial-in-percent" in mistakes and k == 1:
            moistures = (moistures[0], 10 * moistures[1])
        cylinders.append(
            {
                "moisture_before": moistures[0],
                "moisture_after": moistures[1],
                "temperature_c": temperature,
                "latitude_deg": round(_CORNER[0] + float(rng.uniform(0, 2e-4)), 6),
                "longitude_deg": round(_CORNER[1] + float(rng.uniform(0, 3e-4)), 6),
            }
        )
    return FallingHeadReadings.model_validate(
        {
            "radius_mm": _RADIUS,
            "embedded_mm": _EMBEDDED,
            "porosity": porosity if dial else None,
            "dry_density_g_cm3": _DRY if settings.moisture == Moisture.MASS else None,
            "cylinders": cylinders,
            "heads": heads,
            "sealed": "yes",
            "scour_plate": "yes",
            "soil": "clay" if soil.ks_mm_h < 3 else "silt" if soil.ks_mm_h < 40 else "sand",
        }
    )


def _clock(minutes: float) -> float:
    """Return a time as a person writes it: to a second early on, to a minute in hours."""
    return round(round(minutes * 60) / 60, 2) if minutes < 30 else float(round(minutes))
