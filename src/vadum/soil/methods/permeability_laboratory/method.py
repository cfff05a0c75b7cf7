"""Permeability in the laboratory as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Alike
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.permeability_laboratory import findings as own_findings
from vadum.soil.methods.permeability_laboratory import results as own_results
from vadum.soil.methods.permeability_laboratory.readings import (
    Head,
    PermeabilityContext,
    PermeabilityReadings,
    PermeabilitySettings,
)
from vadum.soil.methods.permeability_laboratory.reduction import reduce_permeability
from vadum.soil.methods.permeability_laboratory.virtual import MISTAKES, a_permeability
from vadum.soil.physics.permeameter import constant_head_m_s, falling_head_m_s
from vadum.soil.physics.phases import void_ratio
from vadum.soil.virtual.washed_soil import WashedSoil, a_washed_soil


class PermeabilityLaboratory(Method[PermeabilityReadings, PermeabilitySettings, PermeabilityContext]):
    """Permeability of a specimen by the water that goes through it."""

    code = "permeability-laboratory"
    title = "Permeability, laboratory"
    known_as = ("hydraulic conductivity", "constant head", "falling head")
    place = 175
    mark = "k"
    made_with = {"permeameter": {}}
    basis = ("ISO 17892-11", "ASTM D2434")
    headline = ("k_ref", "dry_density", "compaction_degree")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    neighbours = (Alike(("flows.temperature_c", "falls.temperature_c"), apart=3.0),)
    computed = (
        Computed(table="flows", key="gradient", label="i", decimals=2),
        Computed(table="flows", key="k_um_s", label="k", unit="µm/s", decimals=1),
        Computed(table="falls", key="gradient", label="i", decimals=2),
        Computed(table="falls", key="k_um_s", label="k", unit="µm/s", decimals=4),
    )
    Readings = PermeabilityReadings
    Settings = PermeabilitySettings
    Context = PermeabilityContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(constant_head_m_s),
        SourceNote.of(falling_head_m_s),
        SourceNote.of(void_ratio),
        SourceNote(gives="temperature", equation="k20 = k η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
    )
    steps = (
        ProcedureStep(
            text="Place the soil in layers at the density that is asked, or cut the cell from the ground; measure it.",
            readings=["diameter_mm", "length_mm", "taps_mm", "tube_mm", "largest_mm"],
        ),
        ProcedureStep(
            text="Drive the air out: vacuum or carbon dioxide, then water without air slowly from below.",
            readings=["saturated", "deaired"],
        ),
        ProcedureStep(
            text="Constant head: once the outflow is steady catch the water, read both tubes; three heads, twice.",
            readings=["flows"],
        ),
        ProcedureStep(
            text="Falling head: fill the tube, stop the time from one mark to the other; repeat until it agrees.",
            readings=["falls"],
        ),
        ProcedureStep(text="Dry the specimen and weigh it.", readings=["mass_dry_g"]),
    )
    cautions = (
        "Vacuum and back pressure: look at the cell for cracks, stand behind the shield, eye protection.",
        "Water on the floor beside electric pumps: wipe it up at once.",
        DEFER,
    )
    limits = (
        "The value of a small specimen, across or along its layers as it was placed, without the ground's cracks.",
        "It holds at the density of the specimen: loose sand lets through several times as much as dense.",
    )

    def work_out(
        self, readings: PermeabilityReadings, settings: PermeabilitySettings, context: PermeabilityContext
    ) -> Reduction:
        return reduce_permeability(readings, settings, context)

    def timetable(self, readings: PermeabilityReadings, settings: PermeabilitySettings) -> list[Operation]:
        constant = settings.head == Head.CONSTANT
        table = "flows" if constant else "falls"
        return [
            Operation(
                key="place",
                what="Place the specimen, saturate it from below",
                due_min=0,
                tolerance_min=240,
                hands_on_min=45,
                holds_min=120,
                done=readings.diameter_mm is not None and readings.saturated is not None,
                cell="diameter_mm",
            ),
            Operation(
                key="flow",
                what="Measure the flow" if constant else "Time the falls of the tube",
                due_min=180,
                tolerance_min=480,
                hands_on_min=60,
                done=bool(readings.flows or readings.falls),
                cell=f"{table}.0.seconds",
            ),
            Operation(
                key="dry",
                what="Dry the specimen",
                due_min=260,
                tolerance_min=480,
                hands_on_min=10,
                resource="oven",
                holds_min=1080,
                done=readings.mass_dry_g is not None,
                cell="mass_dry_g",
            ),
        ]

    def soil_needed(self, settings: PermeabilitySettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=3000.0, spent=False, note="for a cell of 100 mm; comes back dry")

    def virtual(
        self,
        soil: WashedSoil,
        settings: PermeabilitySettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> PermeabilityReadings:
        return a_permeability(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: WashedSoil, settings: PermeabilitySettings) -> dict[str, float]:
        return {"k_ref": soil.sand_m_s if settings.head == Head.CONSTANT else soil.silt_m_s}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_washed_soil(rng)
