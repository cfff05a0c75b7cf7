"""The particle density as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.copies import OwnRows
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Alike
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.particle_density import findings as own_findings
from vadum.soil.methods.particle_density import results as own_results
from vadum.soil.methods.particle_density.equations import specific_gravity
from vadum.soil.methods.particle_density.readings import (
    ParticleDensityContext,
    ParticleDensityReadings,
    ParticleDensitySettings,
)
from vadum.soil.methods.particle_density.reduction import BASIS, reduce_particle_density
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.water import water_density
from vadum.soil.virtual.grain_soil import GrainSoil, a_grain_soil
from vadum.soil.virtual.plastic_soil import weigh


class ParticleDensity(Method[ParticleDensityReadings, ParticleDensitySettings, ParticleDensityContext]):
    """Density of the grains themselves, against water at 20 degrees."""

    code = "particle-density"
    title = "Particle density"
    known_as = ("specific gravity", "pycnometer", "grain density", "gs")
    place = 60
    mark = "Gs"
    made_with = {"oven": {}}
    basis = (BASIS, "ISO 17892-3")
    headline = ("particle_density", "grain_density_g_cm3", "spread")
    results = results_in(own_results)
    neighbours = (
        Alike(("determinations.temperature_water_c", "determinations.temperature_c"), apart=7.0),
        OwnRows("determinations"),
    )
    findings = doubts_in(own_findings)
    computed = (Computed(table="determinations", key="particle_density", label="Gs", decimals=3),)
    Readings = ParticleDensityReadings
    Settings = ParticleDensitySettings
    Context = ParticleDensityContext
    mistakes = {
        "air-left": "air stays between the grains of the second flask",
        "swapped": "flask with water and flask with soil are exchanged",
        "wet-mass": "the moist instead of the dry mass is written",
    }
    equations = (
        SourceNote(gives="volume of the flask", equation="V = (Mw − Me) / ρw(Tw)", source=f"{BASIS} clause 10"),
        SourceNote.of(specific_gravity),
        SourceNote(gives="grain density", equation="ρs = Gs ρw(20)", source="ISO 17892-3"),
    )
    steps = (
        ProcedureStep(
            text="Weigh the dry flask, fill it with de-aired water, weigh, read the temperature.",
            readings=[
                "determinations.mass_empty_g",
                "determinations.mass_water_g",
                "determinations.temperature_water_c",
            ],
        ),
        ProcedureStep(
            text="Fill in the soil, half fill with water, remove the air (boil or vacuum, 2 h, swirling).",
            readings=["determinations.pycnometer"],
        ),
        ProcedureStep(
            text="Fill up with de-aired water, let it come to the room's temperature, weigh.",
            readings=["determinations.mass_soil_water_g", "determinations.temperature_c"],
        ),
        ProcedureStep(text="Wash the soil into a dish, dry at 110 °C, weigh.", readings=["determinations.mass_dry_g"]),
    )
    cautions = (
        "A flask under vacuum can implode: look for scratches, use the guard, wear eye protection.",
        "Boiling flasks bump and scald: low heat, swirl, heat gloves.",
        DEFER,
    )

    def work_out(
        self, readings: ParticleDensityReadings, settings: ParticleDensitySettings, context: ParticleDensityContext
    ) -> Reduction:
        return reduce_particle_density(readings, settings, context)

    def soil_needed(self, settings: ParticleDensitySettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=120, spent=True, note="two flasks of about 50 g, passing 4.75 mm")

    def timetable(self, readings: ParticleDensityReadings, settings: ParticleDensitySettings) -> list[Operation]:
        rows = [row for row in readings.determinations if row.used and not row.empty]
        weighed = bool(rows) and all(row.mass_soil_water_g is not None for row in rows)
        dry = bool(rows) and all(row.mass_dry_g is not None for row in rows)
        return [
            Operation(
                key="fill",
                what="Soil into the flasks, remove air",
                due_min=0,
                tolerance_min=60,
                hands_on_min=20,
                resource="vacuum",
                holds_min=120,
                done=weighed,
            ),
            Operation(
                key="weigh",
                what="Fill up, level the temperature, weigh",
                due_min=240,
                tolerance_min=240,
                hands_on_min=20,
                done=weighed,
                cell="determinations.0.mass_soil_water_g",
            ),
            Operation(
                key="oven-in",
                what="Soil into the oven",
                due_min=270,
                tolerance_min=60,
                hands_on_min=5,
                resource="oven",
                holds_min=960,
                done=dry,
            ),
            Operation(
                key="dry",
                what="Dry soil out of the oven, weigh",
                due_min=1240,
                tolerance_min=480,
                hands_on_min=10,
                done=dry,
                cell="determinations.0.mass_dry_g",
            ),
        ]

    def virtual(
        self,
        soil: GrainSoil,
        settings: ParticleDensitySettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> ParticleDensityReadings:
        mistakes = self.plant(mistakes)
        rows: list[dict[str, Any]] = []
        for i in range(2):
            empty, volume, dry = float(rng.uniform(160, 190)), float(rng.uniform(495, 505)), float(rng.uniform(48, 60))
            water_c, soil_c = round(float(rng.uniform(19, 22)), 1), round(float(rng.uniform(21, 25)), 1)
            air = 1.2 if i == 1 and "air-left" in mistakes else 0.0
            displaced = dry / (soil.particle_density * WATER) + air
            both = empty + dry + (volume - displaced) * float(water_density(soil_c))
            rows.append(
                {
                    "pycnometer": f"P{i + 1}",
                    "mass_empty_g": weigh(empty),
                    "mass_water_g": weigh(empty + volume * float(water_density(water_c))),
                    "temperature_water_c": water_c,
                    "mass_soil_water_g": weigh(both),
                    "temperature_c": soil_c,
                    "mass_dry_g": weigh(dry * (1.12 if i == 0 and "wet-mass" in mistakes else 1.0)),
                }
            )
        if "swapped" in mistakes:
            rows[0]["mass_water_g"], rows[0]["mass_soil_water_g"] = (
                rows[0]["mass_soil_water_g"],
                rows[0]["mass_water_g"],
            )
        return ParticleDensityReadings.model_validate({"determinations": rows})

    def truth(self, soil: GrainSoil, settings: ParticleDensitySettings) -> dict[str, float]:
        return {"particle_density": soil.particle_density}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_grain_soil(rng)
