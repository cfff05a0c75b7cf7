"""The liquid limit as a method: procedure, cautions, timetable, virtual soil."""

from typing import Any

import numpy as np

from vadum.soil.bench import constant_mass, weighing
from vadum.soil.bench.constant_mass import DRIED_IN_OVEN
from vadum.soil.bench.drying import tins_dried
from vadum.soil.bench.weighing import any_wet
from vadum.soil.contract import by_hand
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.liquid_limit import findings as own_findings
from vadum.soil.methods.liquid_limit import results as own_results
from vadum.soil.methods.liquid_limit.advice import MOST_SECOND_CLOSURE_STEP
from vadum.soil.methods.liquid_limit.equations import (
    cone_line,
    flow_curve,
    liquid_limit_from_flow_curve,
    one_point_factor,
)
from vadum.soil.methods.liquid_limit.readings import (
    LiquidLimitContext,
    LiquidLimitReadings,
    LiquidLimitSettings,
    School,
)
from vadum.soil.methods.liquid_limit.reduction import LEAST_SEASONING_MIN, reduce_liquid_limit
from vadum.soil.methods.liquid_limit.virtual import MISTAKES, virtual_trials
from vadum.soil.physics.moisture import water_content_percent
from vadum.soil.virtual.plastic_soil import PlasticSoil, a_plastic_soil

_PERCUSSION = [School.MULTIPOINT, School.ONE_POINT, School.REPLICATED]


class LiquidLimit(Method[LiquidLimitReadings, LiquidLimitSettings, LiquidLimitContext]):
    """Water content at which the soil passes from plastic to liquid."""

    code = "liquid-limit"
    title = "Liquid limit"
    known_as = ("atterberg", "consistency", "plasticity", "cone penetrometer", "casagrande")
    version = "2"
    place = 20
    mark = "LL"
    waits_for = (Before("water-content", "oven-in", "mix", "the natural water content before water is added"),)
    made_with = {
        "cup": {"school": _PERCUSSION},
        "grooving tool": {"school": _PERCUSSION},
        "cone": {"school": [School.FALL_CONE]},
        "oven": DRIED_IN_OVEN,
    }
    basis = ("ASTM D4318", "AASHTO T 89", "ISO 17892-12", "BS 1377-2")
    headline = ("liquid_limit", "liquid_limit_oven_dried", "flow_index", "spread")
    results = results_in(own_results)
    findings = doubts_in(own_findings, constant_mass, weighing, by_hand)
    computed = (Computed(table="trials", key="water_content_percent", label="w", unit="%"),)
    columns = {
        "trials": (
            "blows",
            "blows_repeat",
            "closure_mm",
            "penetration_mm",
            "penetration_repeat_mm",
            "tin",
            "mass_tin_g",
            "mass_tin_wet_g",
            "mass_tin_dry_g",
        )
    }
    Readings = LiquidLimitReadings
    Settings = LiquidLimitSettings
    Context = LiquidLimitContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(water_content_percent),
        SourceNote.of(flow_curve),
        SourceNote.of(liquid_limit_from_flow_curve),
        SourceNote.of(one_point_factor),
        SourceNote.of(cone_line),
    )
    steps = (
        ProcedureStep(
            text="Work 100 to 300 g of soil passing 0.425 mm into an even paste, up to 20 min.",
            readings=["state", "prepared", "retained_0_425_mm_percent", "mass_prepared_g"],
        ),
        ProcedureStep(text="Cover it and let it take up the water.", readings=["seasoning_min"]),
        ProcedureStep(
            text="Check the cup: drop 10 mm, no wear, four feet. Set a share of the mix aside for the plastic limit."
        ),
        ProcedureStep(text="Fill the cup level over the base, no trapped air, and cut one clean groove."),
        ProcedureStep(
            text="Turn two drops a second until the groove meets over 13 mm; count.",
            readings=["trials.blows", "trials.closure_mm", "rate_drops_per_s"],
        ),
        ProcedureStep(
            text="Take a slice across the closed groove into a tin, lid on, weigh.",
            readings=["trials.tin", "trials.mass_tin_wet_g"],
        ),
        ProcedureStep(text="Return the rest, wash the cup, change the water and go on until the ranges are covered."),
        ProcedureStep(text="Dry the tins to constant mass and weigh.", readings=["trials.mass_tin_dry_g"]),
    )
    cautions = (
        "Tins come out of the oven at 110 °C: tongs or heat gloves, and let them cool with the lid on.",
        "Contaminated samples: gloves and ventilation as the site's notes ask.",
        DEFER,
    )

    def work_out(
        self, readings: LiquidLimitReadings, settings: LiquidLimitSettings, context: LiquidLimitContext
    ) -> Reduction:
        return reduce_liquid_limit(readings, settings, context)

    def run_view(
        self, readings: LiquidLimitReadings, settings: LiquidLimitSettings, context: LiquidLimitContext
    ) -> dict[str, Any]:
        return {
            "cup": {
                "window": list(settings.window),
                "pairs": settings.school == School.ONE_POINT,
                "agree": MOST_SECOND_CLOSURE_STEP,
                "seasoningMin": LEAST_SEASONING_MIN[settings.seasoning],
            }
        }

    def soil_needed(self, settings: LiquidLimitSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=200, spent=True, note="passing 0.425 mm, with the plastic limit's ball")

    def timetable(self, readings: LiquidLimitReadings, settings: LiquidLimitSettings) -> list[Operation]:
        trials, settled = readings.trials, readings.not_determinable is not None
        tried = [t for t in trials if t.used and (t.blows is not None or t.penetration is not None)]
        # A mix that has stood, or is tried with a tin, is not waited for again; a count alone says that it is mixed.
        stood = readings.seasoning_min is not None or any_wet(trials) or any(not t.attempted for t in tried)
        mixed = stood or bool(tried)
        stand = 0.0 if stood else LEAST_SEASONING_MIN[settings.seasoning]
        return [
            Operation(
                key="mix",
                what="Mix the paste",
                due_min=0,
                tolerance_min=60,
                hands_on_min=20,
                holds_min=stand,
                done=settled or mixed,
                cell="seasoning_min",
                by_word=True,
            ),
            Operation(
                key="trials",
                what="Trials at the cup",
                due_min=20 + stand,
                tolerance_min=480,
                hands_on_min=40,
                resource="cup",
                done=settled or any_wet(trials),
                cell="trials.0.blows",
            ),
            *tins_dried(
                "trials", trials, 60 + stand, settled=settled, weigh="Cool with lids on and weigh dry", weighing_min=10
            ),
        ]

    def virtual(
        self,
        soil: PlasticSoil,
        settings: LiquidLimitSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> LiquidLimitReadings:
        return virtual_trials(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: PlasticSoil, settings: LiquidLimitSettings) -> dict[str, float]:
        return {"liquid_limit": soil.liquid_limit}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_plastic_soil(rng)
