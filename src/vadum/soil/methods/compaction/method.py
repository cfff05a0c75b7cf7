"""Compaction as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import constant_mass, particle, weighing
from vadum.soil.bench.constant_mass import DRIED_IN_OVEN, weighed_once_more
from vadum.soil.bench.drying import tins_dried
from vadum.soil.bench.weighing import tares_alike
from vadum.soil.contract import by_hand
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.compaction import findings as own_findings
from vadum.soil.methods.compaction import results as own_results
from vadum.soil.methods.compaction.equations import oversize_density, oversize_water, parabola_through_best
from vadum.soil.methods.compaction.readings import CompactionContext, CompactionReadings, CompactionSettings, WaterBy
from vadum.soil.methods.compaction.reduction import reduce_compaction
from vadum.soil.physics.moisture import water_to_add_g
from vadum.soil.physics.phases import saturated_dry_density
from vadum.soil.virtual.compaction_soil import CompactionSoil, a_compaction_soil
from vadum.soil.virtual.plastic_soil import tin_names, tin_of_soil, weigh


class Compaction(Method[CompactionReadings, CompactionSettings, CompactionContext]):
    """Water content at which a given effort packs the soil densest."""

    code = "compaction"
    title = "Compaction"
    known_as = ("proctor", "maximum dry density", "optimum moisture content", "mdd", "omc")
    version = "2"
    place = 90
    mark = "ρd max"
    waits_for = (Before("water-content", "oven-in", "mix", "the natural water content before water is added"),)
    made_with = {"mould": {}, "rammer": {}, "oven": DRIED_IN_OVEN}
    basis = ("ASTM D698", "ASTM D1557", "ASTM D4718", "EN 13286-2")
    headline = (
        "maximum_dry_density",
        "optimum_water_content",
        "air_percent",
        "corrected_dry_density",
        "corrected_water_content",
    )
    results = results_in(own_results)
    neighbours = (*tares_alike("points"),)
    findings = doubts_in(own_findings, constant_mass, weighing, particle, by_hand)
    computed = (
        Computed(table="points", key="water_percent", label="w", unit="%"),
        Computed(table="points", key="dry_density", label="ρd", unit="g/cm³", decimals=3),
        Computed(table="points", key="saturation_percent", label="S", unit="%", decimals=0),
    )
    columns = {
        "points": (
            "mass_mould_soil_g",
            "tin",
            "mass_tin_g",
            "mass_tin_wet_g",
            "mass_tin_dry_g",
            "water_content_percent",
        )
    }
    Readings = CompactionReadings
    Settings = CompactionSettings
    Context = CompactionContext
    mistakes = {
        "collar-on": "the third point is weighed with its collar",
        "all-dry": "every point is dry of the optimum",
        "erratic": "the second point is struck off with a hole in it",
        "wrong-volume": "the volume of another mould is written",
        "wet-and-dry-swapped": "tin + wet and tin + dry of the first point are exchanged",
    }
    equations = (
        SourceNote(gives="dry density", equation="ρd = (M − Mmould) / V / (1 + w)", source="ASTM D698 clause 11"),
        SourceNote.of(parabola_through_best),
        SourceNote.of(saturated_dry_density),
        SourceNote.of(oversize_density),
        SourceNote.of(oversize_water),
        SourceNote.of(water_to_add_g),
    )
    steps = (
        ProcedureStep(
            text="Take out what is too coarse for the mould and weigh it.",
            readings=["oversize_percent", "oversize_specific_gravity"],
        ),
        ProcedureStep(
            text="Mix five portions about 2 % of water apart, cover, let clay stand overnight.", readings=["points"]
        ),
        ProcedureStep(
            text="Weigh the mould; compact in layers, scratching each before the next.",
            readings=["mass_mould_g", "volume_mould_cm3"],
        ),
        ProcedureStep(text="Take the collar off, strike off level, weigh.", readings=["points.mass_mould_soil_g"]),
        ProcedureStep(
            text="Dry a tin from the middle.", readings=["points.tin", "points.mass_tin_wet_g", "points.mass_tin_dry_g"]
        ),
    )
    cautions = (
        "A falling rammer breaks fingers: guard on, hands on the guide, ear protection.",
        "Filled 152 mm moulds weigh 15 kg: lift with both arms, bench at hip height, safety shoes.",
        "The straight edge is sharp: strike away from the body.",
        DEFER,
    )

    def work_out(
        self, readings: CompactionReadings, settings: CompactionSettings, context: CompactionContext
    ) -> Reduction:
        return reduce_compaction(readings, settings, context)

    def soil_needed(self, settings: CompactionSettings, largest_particle_mm: float | None) -> SoilNeed:
        small = settings.scheme.small
        return SoilNeed(
            mass_g=12000 if small else 30000, spent=False, note=f"five points of fresh soil, {settings.scheme.mould}"
        )

    def timetable(self, readings: CompactionReadings, settings: CompactionSettings) -> list[Operation]:
        points = [point for point in readings.points if point.used and not point.empty]
        made = sum(point.mass_mould_soil_g is not None for point in points) >= settings.points_needed
        return [
            Operation(
                key="mix",
                what="Mix five portions and cover",
                due_min=0,
                tolerance_min=120,
                hands_on_min=40,
                holds_min=900,
                done=any(point.mass_mould_soil_g is not None for point in points),
            ),
            Operation(
                key="compact",
                what="Compact and weigh five points",
                due_min=960,
                tolerance_min=480,
                hands_on_min=100,
                resource="mould",
                done=made,
                cell="points.0.mass_mould_soil_g",
            ),
            *tins_dried(
                "points",
                points if made else [],
                1070,
                settled=made and settings.water == WaterBy.TYPED,
                weighing_min=10,
            ),
        ]

    def virtual(
        self,
        soil: CompactionSoil,
        settings: CompactionSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> CompactionReadings:
        mistakes = self.plant(mistakes)
        small, by_tin = settings.scheme.small, settings.water == WaterBy.TIN
        mould, volume = (4126.0, 944.0) if small else (6480.0, 2124.0)
        shift = -4.2 if "all-dry" in mistakes else 0.0
        rows: list[dict[str, Any]] = []
        for tin, step in zip(tin_names(rng, 5), (-3.6, -1.8, 0.1, 1.7, 3.3), strict=True):
            w = soil.optimum_percent + step + shift + float(rng.uniform(-0.3, 0.3))
            mass = mould + volume * soil.dry_density_at(w) * (1 + w / 100)
            weighed = tin_of_soil(rng, tin, w, float(rng.uniform(60, 120)))
            typed = {"water_content_percent": round(w, 2)}
            water = typed if settings.water == WaterBy.TYPED else weighed
            rows.append(water | {"mass_mould_soil_g": weigh(mass, 1.0)})
        if "collar-on" in mistakes:
            rows[2]["mass_mould_soil_g"] += 900.0
        if "erratic" in mistakes:
            rows[1]["mass_mould_soil_g"] = weigh(rows[1]["mass_mould_soil_g"] - 0.1 * volume, 1.0)
        first = rows[0]
        if "wet-and-dry-swapped" in mistakes:
            first["mass_tin_wet_g"], first["mass_tin_dry_g"] = first["mass_tin_dry_g"], first["mass_tin_wet_g"]
        return CompactionReadings.model_validate(
            {
                "mass_mould_g": mould,
                "volume_mould_cm3": volume * (0.55 if "wrong-volume" in mistakes else 1.0),
                "points": rows,
                "reweighings": weighed_once_more(rows, settings.tins_dried) if by_tin else [],
                "particle_density": round(soil.particle_density, 3),
            }
        )

    def truth(self, soil: CompactionSoil, settings: CompactionSettings) -> dict[str, float]:
        return {"optimum_water_content": soil.optimum_percent, "maximum_dry_density": soil.maximum_dry_density}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_compaction_soil(rng)
