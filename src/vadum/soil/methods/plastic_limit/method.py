"""The plastic limit as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import constant_mass, weighing
from vadum.soil.bench.constant_mass import DRIED_IN_OVEN, weighed_once_more
from vadum.soil.bench.drying import tins_dried
from vadum.soil.bench.weighing import any_wet
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.plastic_limit import findings as own_findings
from vadum.soil.methods.plastic_limit import results as own_results
from vadum.soil.methods.plastic_limit.readings import PlasticLimitContext, PlasticLimitReadings, PlasticLimitSettings
from vadum.soil.methods.plastic_limit.reduction import reduce_plastic_limit
from vadum.soil.physics.plasticity import (
    a_line,
    activity,
    consistency_index,
    liquidity_index,
    plasticity_index,
    u_line,
    water_of_fine_part,
)
from vadum.soil.virtual.plastic_soil import PlasticSoil, a_plastic_soil, tin_names, tin_of_soil


class PlasticLimit(Method[PlasticLimitReadings, PlasticLimitSettings, PlasticLimitContext]):
    """Water content at which threads of the soil begin to crumble, and the indices that follow."""

    code = "plastic-limit"
    title = "Plastic limit"
    known_as = ("atterberg", "consistency", "plasticity", "threads")
    version = "2"
    place = 30
    mark = "PL"
    waits_for = (Before("liquid-limit", "mix", "roll", "threads are rolled from the liquid limit's mix"),)
    made_with = {"oven": DRIED_IN_OVEN}
    basis = ("ASTM D4318", "AASHTO T 90", "ISO 17892-12")
    headline = ("plastic_limit", "plasticity_index", "liquidity_index", "consistency_index")
    results = results_in(own_results)
    findings = doubts_in(own_findings, constant_mass, weighing)
    computed = (Computed(table="threads", key="water_content_percent", label="w", unit="%"),)
    columns = {"threads": ("diameter_mm", "tin", "mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g")}
    Readings = PlasticLimitReadings
    Settings = PlasticLimitSettings
    Context = PlasticLimitContext
    mistakes = {
        "portions-apart": "the second portion is rolled far too wet",
        "small-portion": "less than 6 g is weighed",
        "wet-and-dry-swapped": "tin + wet and tin + dry of the first portion are exchanged",
        "too-thick": "the thread crumbles at 5 mm",
    }
    equations = (
        SourceNote(
            gives="plastic limit", equation="PL = mean of the portions' water contents", source="ASTM D4318 clause 19"
        ),
        SourceNote.of(plasticity_index),
        SourceNote.of(water_of_fine_part),
        SourceNote.of(liquidity_index),
        SourceNote.of(consistency_index),
        SourceNote.of(activity),
        SourceNote.of(a_line),
        SourceNote.of(u_line),
    )
    steps = (
        ProcedureStep(
            text="Take 10 to 20 g of the liquid-limit mix while it is still stiff enough to roll.",
            readings=["mass_set_aside_g"],
        ),
        ProcedureStep(
            text="Roll threads of 3.2 mm on the glass plate; gather, knead and roll again until they crumble.",
            readings=["threads.diameter_mm"],
        ),
        ProcedureStep(
            text="Collect at least 6 g in a lidded tin and weigh it moist.",
            readings=["threads.tin", "threads.mass_tin_wet_g"],
        ),
        ProcedureStep(
            text="Do the same with the next portion; dry to constant mass and weigh.",
            readings=["threads.mass_tin_dry_g"],
        ),
    )
    cautions = (
        "Tins come out of the oven at 110 °C: tongs or heat gloves, and let them cool with the lid on.",
        "Contaminated samples are not rolled with bare hands.",
        DEFER,
    )

    def work_out(
        self, readings: PlasticLimitReadings, settings: PlasticLimitSettings, context: PlasticLimitContext
    ) -> Reduction:
        return reduce_plastic_limit(readings, settings, context)

    def timetable(self, readings: PlasticLimitReadings, settings: PlasticLimitSettings) -> list[Operation]:
        threads, settled = readings.threads, readings.not_determinable is not None
        return [
            Operation(
                key="roll",
                what="Roll the threads",
                due_min=0,
                tolerance_min=240,
                hands_on_min=15 * settings.needed,
                done=settled or any_wet(threads),
                cell="threads.0.tin",
            ),
            *tins_dried("threads", threads, 60, settled=settled, weigh="Cool with lids on and weigh dry"),
        ]

    def virtual(
        self,
        soil: PlasticSoil,
        settings: PlasticLimitSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> PlasticLimitReadings:
        mistakes = self.plant(mistakes)
        threads = []
        for i, tin in enumerate(tin_names(rng, settings.needed)):
            w = soil.portion(soil.plastic_limit, rng) + (4.0 if i == 1 and "portions-apart" in mistakes else 0.0)
            dry_soil_g = 2.5 if i == 0 and "small-portion" in mistakes else float(rng.uniform(7, 11))
            threads.append(tin_of_soil(rng, tin, w, dry_soil_g) | {"diameter_mm": 3.2})
        first = threads[0]
        if "too-thick" in mistakes:
            first["diameter_mm"] = 5.0
        if "wet-and-dry-swapped" in mistakes:
            first["mass_tin_wet_g"], first["mass_tin_dry_g"] = first["mass_tin_dry_g"], first["mass_tin_wet_g"]
        again = weighed_once_more(threads, settings.tins_dried)
        return PlasticLimitReadings.model_validate({"threads": threads, "reweighings": again, "mass_set_aside_g": 20.0})

    def truth(self, soil: PlasticSoil, settings: PlasticLimitSettings) -> dict[str, float]:
        return {"plastic_limit": soil.plastic_limit}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_plastic_soil(rng)
