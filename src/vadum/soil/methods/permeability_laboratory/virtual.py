"""What would be read at a cell with a specimen whose permeability is known."""

from math import exp, pi
from typing import Any

import numpy as np

from vadum.soil.bench.infiltrating import to_temperature
from vadum.soil.methods.permeability_laboratory.readings import Head, PermeabilityReadings, PermeabilitySettings
from vadum.soil.virtual.washed_soil import WashedSoil

MISTAKES = {
    "air": "air is left in the specimen and closes its pores with time",
    "piping": "fines are washed out with time",
    "turbulent": "the head is raised until the flow is no longer laminar",
    "volume-misread": "one volume is read off the wrong line",
    "marks-exchanged": "head and volume of a row are exchanged",
    "taps-exchanged": "the distance of the tubes and the length are exchanged",
    "cold-unsaid": "one temperature is forgotten",
}
_DIAMETER, _LENGTH, _TAPS, _TUBE = 100.0, 180.0, 100.0, 12.0


def a_permeability(
    soil: WashedSoil, settings: PermeabilitySettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> PermeabilityReadings:
    """Return flows under three heads, or falls of the tube between two marks."""
    area = pi / 4 * _DIAMETER**2
    count = max(6, settings.needed)
    base = float(rng.uniform(18, 23))
    rows: list[dict[str, Any]] = []
    constant = settings.head == Head.CONSTANT
    for k in range(count):
        water = round(base + float(rng.uniform(-0.4, 0.4)), 1)
        drift = 1.0
        if "air" in mistakes:
            drift = 1 - 0.08 * k
        elif "piping" in mistakes:
            drift = 1 + 0.1 * k
        scale = drift * float(to_temperature(20.0, water))
        if constant:
            head = (20.0, 40.0, 60.0)[k % 3] * (8.0 if "turbulent" in mistakes and k % 3 == 2 else 1.0)
            gradient = head / _TAPS
            speed = soil.sand_m_s * scale * 1000 * gradient  # mm/s
            if "turbulent" in mistakes and k % 3 == 2:
                speed *= 0.6
            seconds = float(round(max(30.0, min(1800.0, 250_000 / (speed * area)))))
            rows.append(
                {
                    "head_mm": head,
                    "volume_cm3": float(round(speed * area * seconds / 1000)),
                    "seconds": seconds,
                    "temperature_c": water,
                }
            )
        else:
            before, after = (1000.0, 600.0) if k % 2 == 0 else (900.0, 500.0)
            rate = soil.silt_m_s * scale * 1000 * area / (pi / 4 * _TUBE**2 * _LENGTH)
            seconds = float(np.log(before / after)) / rate
            if seconds > 40000:  # nobody waits a day: the mark is read when the time is over
                seconds = 36000.0
                after = float(round(before * exp(-rate * seconds)))
            rows.append({"from_mm": before, "to_mm": after, "seconds": round(seconds, 1), "temperature_c": water})
    first, second = ("head_mm", "volume_cm3") if constant else ("from_mm", "to_mm")
    if "volume-misread" in mistakes:
        rows[2][second] = round(rows[2][second] * 0.7, 1)
    if "marks-exchanged" in mistakes:
        rows[1][first], rows[1][second] = rows[1][second], rows[1][first]
    if "cold-unsaid" in mistakes:
        del rows[1]["temperature_c"]
    sizes = (_TAPS, _LENGTH) if "taps-exchanged" in mistakes else (_LENGTH, _TAPS)
    return PermeabilityReadings.model_validate(
        {
            "diameter_mm": _DIAMETER,
            "length_mm": sizes[0],
            **({"taps_mm": sizes[1]} if constant else {"tube_mm": _TUBE}),
            "mass_dry_g": round(soil.dry_density_g_cm3 * area * _LENGTH / 1000, 1),
            "largest_mm": 2.0,
            "saturated": "no" if "air" in mistakes else "yes",
            "deaired": "yes",
            "flows" if constant else "falls": rows,
        }
    )
