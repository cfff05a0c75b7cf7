"""The excavated hole as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import constant_mass, one_soil, particle, phases, weighing
from vadum.soil.bench.constant_mass import DRIED_IN_OVEN, weighed_once_more
from vadum.soil.bench.one_soil import tins_agree
from vadum.soil.bench.phases import DensityContext
from vadum.soil.bench.weighing import all_dry
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.excavation_density import findings as own_findings
from vadum.soil.methods.excavation_density import results as own_results
from vadum.soil.methods.excavation_density.readings import ExcavationReadings, ExcavationSettings, Hole
from vadum.soil.methods.excavation_density.reduction import reduce_excavation
from vadum.soil.physics.water import water_density
from vadum.soil.virtual.packed_soil import PackedSoil, a_packed_soil
from vadum.soil.virtual.plastic_soil import tin_names, tin_of_soil, weigh


class ExcavationDensity(Method[ExcavationReadings, ExcavationSettings, DensityContext]):
    """Density in place of soil too stony for a ring: dug out, its hole measured."""

    code = "excavation-density"
    title = "Density, excavated hole"
    known_as = ("sand replacement", "sand cone", "water replacement", "field density", "bulk density")
    version = "2"
    place = 80
    mark = "hole"
    made_with = {"oven": DRIED_IN_OVEN}
    basis = ("ASTM D5030", "ASTM D1556", "ISO 11272")
    headline = ("dry_density", "fine_earth_density", "water_content", "stones_mass_percent", "saturation_percent")
    results = results_in(own_results, phases)
    neighbours = (*tins_agree("tins"),)
    findings = doubts_in(own_findings, constant_mass, weighing, one_soil, particle, phases)
    computed = (Computed(table="tins", key="water_content_percent", label="w", unit="%"),)
    columns = {"tins": ("tin", "mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g")}
    Readings = ExcavationReadings
    Settings = ExcavationSettings
    Context = DensityContext
    mistakes = {
        "dust-lost": "8 % of the soil is lost between drying and splitting",
        "fines-on-sieve": "fines cling to the stones in lumps",
        "water-in-litres": "the hole is filled with a tenth of its water",
        "wet-and-dry-swapped": "tin + wet and tin + dry are exchanged",
    }
    equations = (
        SourceNote(gives="hole, liner and water", equation="V = Mw / ρw(T) + liner", source="ASTM D5030 clause 11"),
        SourceNote(
            gives="hole, sand cone", equation="V = (before − after − cone) / ρ sand", source="ASTM D1556 clause 8"
        ),
        SourceNote(gives="total dry density", equation="(dry fines + stones) / V", source="ASTM D5030 clause 11"),
        SourceNote(
            gives="fine-earth density",
            equation="dry fines / (V − stones / ρ stones)",
            source="ISO 11272, stones taken out",
        ),
        SourceNote(gives="water content as dug", equation="w = (moist − dry) / dry", source="ASTM D2216 clause 12"),
    )
    steps = (
        ProcedureStep(
            text="Level the place, dig the hole without squeezing its walls, keep every grain; weigh.",
            readings=["mass_moist_g"],
        ),
        ProcedureStep(
            text="Measure the hole: liner and water, sand, or rule.",
            readings=["mass_water_g", "temperature_c", "mass_sand_before_g", "mass_sand_after_g", "length_mm"],
        ),
        ProcedureStep(text="Dry all soil in air, break clods, weigh.", readings=["mass_air_dry_g"]),
        ProcedureStep(
            text="Split at 2 mm; weigh stones, wash, dry and weigh them again.",
            readings=["mass_coarse_unwashed_g", "mass_coarse_g"],
        ),
        ProcedureStep(text="Weigh the fine earth and dry a tin of it.", readings=["mass_fine_air_dry_g", "tins"]),
    )
    cautions = (
        "Locate buried services before digging.",
        "Stay out of unsupported pits deeper than the local rules allow.",
        "Lift full bags with bent knees or two people; knife and trowel away from the hand that holds.",
        DEFER,
    )

    def work_out(
        self, readings: ExcavationReadings, settings: ExcavationSettings, context: DensityContext
    ) -> Reduction:
        return reduce_excavation(readings, settings, context)

    def timetable(self, readings: ExcavationReadings, settings: ExcavationSettings) -> list[Operation]:
        stones = readings.mass_coarse_g is not None
        return [
            Operation(
                key="dig",
                what="Dig, weigh, measure the hole",
                due_min=0,
                tolerance_min=60,
                hands_on_min=45,
                done=readings.mass_moist_g is not None,
                cell="mass_moist_g",
            ),
            Operation(
                key="split",
                what="Air-dry soil weighed and split at 2 mm",
                due_min=2880,
                tolerance_min=1440,
                hands_on_min=40,
                done=readings.mass_fine_air_dry_g is not None,
                cell="mass_fine_air_dry_g",
            ),
            Operation(
                key="wash",
                what="Stones washed, into the oven with the tin",
                due_min=2930,
                tolerance_min=1440,
                hands_on_min=20,
                resource="oven",
                holds_min=960,
                done=stones,
            ),
            Operation(
                key="weigh-dry",
                what="Weigh dry stones and tin",
                due_min=3900,
                tolerance_min=960,
                hands_on_min=10,
                done=stones and all_dry(readings.tins),
                cell="mass_coarse_g",
            ),
        ]

    def virtual(
        self,
        soil: PackedSoil,
        settings: ExcavationSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> ExcavationReadings:
        mistakes = self.plant(mistakes)
        length, width, depth = (round(float(rng.uniform(180, 220))) for _ in range(3))
        volume = length * width * depth / 1000.0
        dry = volume * soil.dry_density
        stones = dry * soil.stones_percent / 100
        fine, left = dry - stones, float(rng.uniform(1.5, 3.5))
        clung = 0.3 * stones if "fines-on-sieve" in mistakes else 0.01 * stones
        fine_air_dry = fine * (1 + left / 100) - clung
        hole: dict[str, Any]
        if settings.hole == Hole.LINER:
            t = round(float(rng.uniform(12, 20)), 1)
            share = 0.1 if "water-in-litres" in mistakes else 1.0
            hole = {"mass_water_g": weigh(share * volume * float(water_density(t)), 1.0), "temperature_c": t}
        elif settings.hole == Hole.SAND_CONE:
            hole = {"mass_sand_before_g": 20000.0, "mass_sand_cone_g": 1650.0, "sand_density_g_cm3": 1.452}
            hole["mass_sand_after_g"] = weigh(20000.0 - 1650.0 - 1.452 * volume, 1.0)
        else:
            hole = {"length_mm": length, "width_mm": width, "depth_mm": depth}
        tin = tin_of_soil(rng, tin_names(rng, 1)[0], left, float(rng.uniform(40, 60)))
        if "wet-and-dry-swapped" in mistakes:
            tin["mass_tin_wet_g"], tin["mass_tin_dry_g"] = tin["mass_tin_dry_g"], tin["mass_tin_wet_g"]
        return ExcavationReadings.model_validate(
            hole
            | {
                "mass_moist_g": weigh(dry * (1 + soil.water_content / 100), 1.0),
                "mass_air_dry_g": weigh(stones + clung + fine_air_dry, 1.0),
                "mass_coarse_unwashed_g": weigh(stones + clung, 0.1),
                "mass_coarse_g": weigh(stones, 0.1),
                "mass_fine_air_dry_g": weigh(fine_air_dry * (0.92 if "dust-lost" in mistakes else 1.0), 0.1),
                "tins": [tin],
                "reweighings": weighed_once_more([tin], settings.tins_dried),
                "particle_density": round(soil.particle_density, 3),
            }
        )

    def truth(self, soil: PackedSoil, settings: ExcavationSettings) -> dict[str, float]:
        return {"dry_density": soil.dry_density, "fine_earth_density": soil.fine_earth_density}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_packed_soil(rng)
