"""The linear shrinkage as a method."""

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.linear_shrinkage import findings as own_findings
from vadum.soil.methods.linear_shrinkage import results as own_results
from vadum.soil.methods.linear_shrinkage.equations import linear_shrinkage_percent, plasticity_index_estimate
from vadum.soil.methods.linear_shrinkage.readings import (
    BarState,
    LinearShrinkageContext,
    LinearShrinkageReadings,
    LinearShrinkageSettings,
    MixedAt,
)
from vadum.soil.methods.linear_shrinkage.reduction import reduce_linear_shrinkage

_MOULD_MM = 140.0


class LinearShrinkage(Method[LinearShrinkageReadings, LinearShrinkageSettings, LinearShrinkageContext]):
    """How much shorter a bar of soil becomes when it dries from its liquid limit."""

    code = "linear-shrinkage"
    title = "Linear shrinkage"
    known_as = ("bar shrinkage", "atterberg")
    place = 35
    mark = "LS"
    waits_for = (Before("liquid-limit", "mix", "fill", "the bar is filled from the liquid limit's mix"),)
    made_with = {"mould": {}, "oven": {}}
    basis = ("BS 1377-2", "AS 1289.3.4.1")
    headline = ("linear_shrinkage", "plasticity_index_estimate")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    limits = (
        "The plasticity index by the shrinkage is a guide where the plastic limit cannot be rolled, not a measurement.",
    )
    computed = (Computed(table="bars", key="shrinkage_percent", label="LS", unit="%"),)
    Readings = LinearShrinkageReadings
    Settings = LinearShrinkageSettings
    Context = LinearShrinkageContext
    mistakes = {
        "exchanged": "mould and dry bar are exchanged",
        "dried-too-fast": "the bar cracks in the oven",
        "one-face": "the curved bar is measured along its top only",
        "too-dry": "the paste is mixed drier than the liquid limit",
    }
    equations = (SourceNote.of(linear_shrinkage_percent), SourceNote.of(plasticity_index_estimate))
    steps = (
        ProcedureStep(
            text="Grease the mould thinly. Fill it with about 150 g of paste below 0.425 mm, at the liquid limit.",
            readings=["bars.length_mould_mm", "mixed_at"],
        ),
        ProcedureStep(text="Jar the mould until no more air comes up; strike off level and wipe the rim.", readings=[]),
        ProcedureStep(
            text="Dry in air out of the draught until the bar has come off the walls, at 60 to 65 °C until it has"
            " stopped shrinking, then at 105 to 110 °C.",
            readings=["bars.state"],
        ),
        ProcedureStep(
            text="Let it cool, measure its length; of a curved bar along top and bottom.",
            readings=["bars.length_top_mm", "bars.length_bottom_mm"],
        ),
    )
    cautions = (
        "Moulds come out of the oven at 110 °C: tongs or heat gloves, and let them cool.",
        "Contaminated samples are not kneaded with bare hands.",
        DEFER,
    )

    def work_out(
        self, readings: LinearShrinkageReadings, settings: LinearShrinkageSettings, context: LinearShrinkageContext
    ) -> Reduction:
        return reduce_linear_shrinkage(readings, settings, context)

    def timetable(self, readings: LinearShrinkageReadings, settings: LinearShrinkageSettings) -> list[Operation]:
        begun = any(bar.used and bar.length_mould_mm is not None for bar in readings.bars)
        dry = any(bar.used and bar.length_dry_mm is not None for bar in readings.bars)
        return [
            Operation(
                key="fill",
                what="Fill the mould",
                due_min=0,
                tolerance_min=240,
                hands_on_min=15 * settings.needed,
                done=begun,
                cell="bars.0.length_mould_mm",
            ),
            Operation(
                key="oven-in",
                what="The bar is off the walls: into the oven",
                due_min=1440,
                tolerance_min=1440,
                hands_on_min=5,
                resource="oven",
                holds_min=1080,
                done=dry,
                cell="bars.0.state",
            ),
            Operation(
                key="measure",
                what="Cool and measure the dry bar",
                due_min=2530,
                tolerance_min=1440,
                hands_on_min=5,
                done=dry,
                cell="bars.0.length_top_mm",
            ),
        ]

    def soil_needed(self, settings: LinearShrinkageSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=150.0 * settings.needed, spent=True, note="below 0.425 mm")

    def virtual(
        self,
        soil: float,
        settings: LinearShrinkageSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> LinearShrinkageReadings:
        """Return the bars of a soil whose linear shrinkage in percent is ``soil``."""
        mistakes = self.plant(mistakes)
        bars = []
        for i in range(settings.needed):
            length = _MOULD_MM * (1 - soil / 100)
            bend = float(rng.uniform(0, 3)) if soil > 8 else 0.0
            bar = {
                "mould": f"M{i + 1}",
                "length_mould_mm": _MOULD_MM,
                "length_top_mm": round(length - bend / 2, 1),
                "length_bottom_mm": round(length + bend / 2, 1),
                "state": BarState.CURVED if soil > 8 else BarState.STRAIGHT,
            }
            bars.append(bar)
        first = bars[0]
        if "exchanged" in mistakes:
            first["length_mould_mm"], first["length_top_mm"] = first["length_top_mm"], first["length_mould_mm"]
        if "dried-too-fast" in mistakes:
            first["state"] = BarState.CRACKED
        if "one-face" in mistakes:
            del first["length_bottom_mm"]
            first["state"] = BarState.CURVED
        mixed = MixedAt.DRIER if "too-dry" in mistakes else MixedAt.LIQUID_LIMIT
        return LinearShrinkageReadings.model_validate({"bars": bars, "mixed_at": mixed})

    def truth(self, soil: float, settings: LinearShrinkageSettings) -> dict[str, float]:
        return {"linear_shrinkage": soil}

    def a_soil(self, rng: np.random.Generator) -> float:
        return float(rng.uniform(2, 22))
