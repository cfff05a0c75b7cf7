"""What a hydrometer would read in a suspension of a soil whose grains are known: the forward model."""

from typing import Any

import numpy as np

from vadum.soil.methods.hydrometer import equations as eq
from vadum.soil.methods.hydrometer.readings import SCHEDULES, Depth, HydrometerReadings, HydrometerSettings
from vadum.soil.methods.hydrometer.suspension import depth_cm
from vadum.soil.virtual.grain_soil import GrainSoil

# Reading of the dispersant solution at 20 degrees and its change per degree, in the instrument's scale.
_SOLUTION = {"152H": (5.0, -0.24), "151H": (1.0032, -0.00018)}
# A hydrometer and a cylinder of nobody's table.
_GEOMETRY = {
    "bulb_length_cm": 15.2,
    "bulb_volume_cm3": 61.0,
    "stem_at_low_cm": 11.1,
    "stem_at_high_cm": 2.6,
    "cylinder_area_cm2": 30.2,
    "meniscus": 0.0,
}
_RESOLUTION = {"152H": 0.1, "151H": 0.0001}


def solution_reads(temperature_c: float, settings: HydrometerSettings) -> float:
    """Return what the hydrometer reads in the dispersant solution."""
    at_20, slope = _SOLUTION[settings.instrument]
    return at_20 + slope * (temperature_c - 20.0)


def suspension_reads(
    soil: GrainSoil, minutes: float, temperature_c: float, mass_dry_g: float, settings: HydrometerSettings
) -> float:
    """Return the reading at which depth, diameter and concentration agree: D falls with depth, depth with the
    reading."""
    from scipy.optimize import brentq

    whole = soil.finer(settings.specimen_mm)
    solution = solution_reads(temperature_c, settings)
    geometry = HydrometerReadings.model_validate(_GEOMETRY)
    per_unit = float(eq.percent_in_suspension(1.0, 0.0, mass_dry_g, soil.particle_density, settings.instrument))

    def excess(reading: float) -> float:
        depth = float(depth_cm(np.array([reading]), geometry, settings)[0])
        diameter = float(eq.stokes_diameter_mm(depth, minutes, soil.particle_density, temperature_c))
        return solution + 100.0 * soil.finer(diameter) / whole / per_unit - reading

    return float(brentq(excess, solution - 1e-9, solution + 100.0 / per_unit + 1e-9, xtol=1e-9))


def a_cylinder(
    soil: GrainSoil, settings: HydrometerSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> HydrometerReadings:
    """Return the readings of one cylinder, read to the instrument's marks."""
    resolution = _RESOLUTION[settings.instrument]

    def mark(reading: float) -> float:
        return round(round(reading / resolution) * resolution, 6)

    mass = round(float(rng.uniform(48, 55)), 2)
    base = float(rng.uniform(20.5, 22.5))
    temperatures = {19.0: solution_reads(19.0, settings), 25.0: solution_reads(25.0, settings)}
    rows: list[dict[str, Any]] = []
    for minutes in settings.times or SCHEDULES["full"]:
        t = round(base + 0.6 * float(np.sin(minutes / 300)), 1)
        t += 6.0 if "cold-night" in mistakes and minutes > 600 else 0.0
        reading = suspension_reads(soil, minutes, t, mass, settings)
        rows.append(
            {"due_min": minutes, "elapsed_min": minutes, "hydrometer": mark(reading), "temperature_c": round(t, 1)}
        )
    if "late" in mistakes:
        at = rows[1]["due_min"] * 1.5
        rows[1] |= {
            "elapsed_min": at,
            "hydrometer": mark(suspension_reads(soil, at, rows[1]["temperature_c"], mass, settings)),
        }
    if "seconds" in mistakes:
        for row in rows[:6]:
            row["elapsed_min"] *= 60
    if "read-wrongly" in mistakes:
        rows[4]["hydrometer"] = mark(rows[3]["hydrometer"] + (3.0 if settings.instrument == "152H" else 0.002))
    return HydrometerReadings.model_validate(
        (_GEOMETRY if settings.depth == Depth.OWN else {})
        | {
            "mass_dry_g": mass / 2 if "mass-halved" in mistakes else mass,
            "particle_density": round(soil.particle_density, 3),
            "passing_percent": round(soil.finer(settings.specimen_mm), 1),
            "corrections": (
                []
                if "no-correction" in mistakes
                else [{"temperature_c": t, "hydrometer": mark(r)} for t, r in temperatures.items()]
            ),
            "sedimentation": rows,
            "clear_layer": "yes" if "flocculated" in mistakes else "no",
            "soil_on_wall": "no",
        }
    )


def a_log(
    soil: GrainSoil, settings: HydrometerSettings, rng: np.random.Generator, rows: int, noise: float = 0.05
) -> dict[str, list[float]]:
    """Return columns of an automatic hydrometer: ``rows`` readings evenly over a day, with noise in its scale."""
    minutes = np.linspace(1440.0 / rows, 1440.0, rows)
    temperature = np.round(21.5 + 0.5 * np.sin(minutes / 300), 2)
    # The forward model is solved at a hundred times and the smooth reading interpolated between them.
    knots = np.geomspace(minutes[0], minutes[-1], 100)
    solved = [suspension_reads(soil, float(m), 21.5 + 0.5 * float(np.sin(m / 300)), 50.0, settings) for m in knots]
    reading = np.interp(np.log(minutes), np.log(knots), solved) + rng.normal(0, noise, rows)
    return {
        "elapsed_min": np.round(minutes, 4).tolist(),
        "hydrometer": np.round(reading, 3 if settings.instrument == "152H" else 5).tolist(),
        "temperature_c": temperature.tolist(),
    }
