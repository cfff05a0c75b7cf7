"""Classification as a method."""

from typing import Any

import numpy as np

from vadum.soil.classify.highway import group_index
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.classification import findings as own_findings
from vadum.soil.methods.classification import results as own_results
from vadum.soil.methods.classification.readings import (
    ClassificationContext,
    ClassificationReadings,
    ClassificationSettings,
)
from vadum.soil.methods.classification.reduction import reduce_classification
from vadum.soil.physics.plasticity import a_line
from vadum.soil.virtual.grain_soil import GrainSoil, a_grain_soil
from vadum.soil.virtual.plastic_soil import PlasticSoil, a_plastic_soil


class Classification(Method[ClassificationReadings, ClassificationSettings, ClassificationContext]):
    """Group of the soil in the unified and highway systems, and its texture."""

    code = "classification"
    title = "Classification"
    known_as = ("soil class", "unified", "aashto", "texture", "uscs")
    version = "3"
    place = 220
    mark = "class"
    waits_for = (
        Before("liquid-limit", "weigh-dry", "classify", "the class needs the limits"),
        Before("plastic-limit", "weigh-dry", "classify", "the class needs the limits"),
        Before("sieve", "shake", "classify", "the class needs the grading"),
    )
    basis = ("ASTM D2487", "AASHTO M 145", "Soil Survey Manual ch. 3")
    headline = ("group_symbol", "group_name", "highway_group", "texture")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    Readings = ClassificationReadings
    Settings = ClassificationSettings
    Context = ClassificationContext
    mistakes = {
        "pl-for-pi": "the plastic limit is typed for a plasticity index it exceeds",
        "shares-off": "the sand is typed 10 % too low",
    }
    equations = (
        SourceNote.of(a_line),
        SourceNote(gives="silty clay", equation="4 ≤ PI ≤ 7 on or above the A-line", source="ASTM D2487 figure 3"),
        SourceNote(gives="well graded", equation="gravel Cu ≥ 4, sand Cu ≥ 6, 1 ≤ Cc ≤ 3", source="ASTM D2487 table 1"),
        SourceNote(gives="organic", equation="LL oven-dried / LL < 0.75", source="ASTM D2487 clause 11"),
        SourceNote.of(group_index),
        SourceNote(
            gives="group index of A-2-6 and A-2-7", equation="0.01 (F − 15)(PI − 10)", source="AASHTO M 145 clause 6"
        ),
        SourceNote(
            gives="texture",
            equation="twelve fields of sand 2–0.05 mm, silt, clay below 0.002 mm",
            source="Soil Survey Manual ch. 3",
        ),
    )
    steps = (
        ProcedureStep(text="Finish grading and limits; they are taken from the sample's own tests.", readings=[]),
        ProcedureStep(
            text="Say what was seen: peat, organic look, cobbles.", readings=["peat", "organic_look", "cobbles"]
        ),
        ProcedureStep(
            text="Type what no test of ours supplies.", readings=["fines_percent", "liquid_limit", "plasticity_index"]
        ),
        ProcedureStep(text="Follow the path; where it stops, run the test it names.", readings=[]),
    )
    cautions = (
        "A class says what a soil is made of, not how it stands in the ground: no design value comes from it alone.",
        DEFER,
    )

    def work_out(
        self, readings: ClassificationReadings, settings: ClassificationSettings, context: ClassificationContext
    ) -> Reduction:
        return reduce_classification(readings, settings, context)

    def timetable(self, readings: ClassificationReadings, settings: ClassificationSettings) -> list[Operation]:
        return [
            Operation(
                key="classify",
                what="Look over the path when grading and limits are done",
                due_min=0,
                tolerance_min=1440,
                hands_on_min=5,
            )
        ]

    def virtual(
        self,
        soil: tuple[GrainSoil, PlasticSoil],
        settings: ClassificationSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> ClassificationReadings:
        mistakes = self.plant(mistakes)
        grains, clay = soil
        limit, plastic = round(clay.liquid_limit), round(clay.plastic_limit)
        fines = round(grains.finer(0.075), 1)
        gravel = round(100 - grains.finer(4.75), 1)
        sand = 100 - fines - gravel
        if "shares-off" in mistakes:
            sand += 10 if sand < 50 else -10
        d10, d30, d60 = (grains.diameter(p) for p in (10, 30, 60))
        return ClassificationReadings.model_validate(
            {
                "fines_percent": fines,
                "gravel_percent": gravel,
                "sand_percent": round(sand, 1),
                "uniformity": round(d60 / d10, 1),
                "curvature": round(d30**2 / d10 / d60, 2),
                "passing_2_mm_percent": round(grains.finer(2.0), 1),
                "passing_0_425_mm_percent": round(grains.finer(0.425), 1),
                "finer_0_05_mm_percent": round(grains.finer(0.05), 1),
                "clay_percent": round(grains.finer(0.002), 1),
                "liquid_limit": limit,
                "plasticity_index": limit + 3 if "pl-for-pi" in mistakes else limit - plastic,
            }
        )

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_grain_soil(rng), a_plastic_soil(rng)
