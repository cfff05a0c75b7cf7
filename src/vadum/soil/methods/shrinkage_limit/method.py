"""The shrinkage limit as a method."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from vadum.soil.contract.copies import OwnRows
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.shrinkage_limit import findings as own_findings
from vadum.soil.methods.shrinkage_limit import results as own_results
from vadum.soil.methods.shrinkage_limit.equations import (
    shrinkage_limit_estimate,
    shrinkage_limit_percent,
    shrinkage_ratio,
    volumetric_shrinkage_percent,
)
from vadum.soil.methods.shrinkage_limit.readings import (
    PatState,
    ShrinkageLimitContext,
    ShrinkageLimitReadings,
    ShrinkageLimitSettings,
)
from vadum.soil.methods.shrinkage_limit.reduction import reduce_shrinkage_limit
from vadum.soil.physics.immersion import waxed_volume_cm3
from vadum.soil.physics.moisture import water_content_percent
from vadum.soil.physics.water import water_density
from vadum.soil.virtual.plastic_soil import weigh


@dataclass(frozen=True)
class ShrinkingClay:
    """Clay whose pores stay full until it stops shrinking: grains in g/cm3, water contents in percent."""

    grains: float
    limit: float
    mixed_at: float

    def volume(self, water_content: float) -> float:
        """Return the volume of one gram of dry clay, cm3: grains and the water that holds them apart."""
        return 1 / self.grains + max(water_content, self.limit) / 100


class ShrinkageLimit(Method[ShrinkageLimitReadings, ShrinkageLimitSettings, ShrinkageLimitContext]):
    """Water content below which soil dries without becoming smaller."""

    code = "shrinkage-limit"
    title = "Shrinkage limit"
    known_as = ("atterberg", "shrinkage")
    place = 36
    mark = "SL"
    waits_for = (Before("liquid-limit", "mix", "fill", "the pat is filled from the liquid limit's mix"),)
    made_with = {"mould": {}, "oven": {}}
    basis = ("ASTM D4943",)
    headline = ("shrinkage_limit", "shrinkage_ratio", "volumetric_shrinkage")
    results = results_in(own_results)
    neighbours = (OwnRows("pats"),)
    findings = doubts_in(own_findings)
    limits = (
        "Mercury is not offered for the dry volume: its vapour is poisonous, its standard withdrawn.",
        "The estimate by the plasticity chart is a guide, not a measurement.",
    )
    computed = (Computed(table="pats", key="limit_percent", label="SL", unit="%"),)
    Readings = ShrinkageLimitReadings
    Settings = ShrinkageLimitSettings
    Context = ShrinkageLimitContext
    mistakes = {
        "exchanged": "wet and dry masses of the first pat are exchanged",
        "bubble": "a bubble hangs under the waxed pat",
        "dried-too-fast": "the pat cracks in the oven",
        "in-air-twice": "the waxed pat is weighed in air twice",
        "thick-wax": "the first pat is dipped until its wax weighs 10 g",
    }
    equations = tuple(
        SourceNote.of(one)
        for one in (
            water_content_percent,
            waxed_volume_cm3,
            shrinkage_limit_percent,
            shrinkage_ratio,
            volumetric_shrinkage_percent,
            shrinkage_limit_estimate,
        )
    )
    steps = (
        ProcedureStep(
            text="Find the greased mould's volume by the water it holds under a glass plate; weigh it empty.",
            readings=["pats.volume_mould_cm3", "pats.mass_mould_g"],
        ),
        ProcedureStep(
            text="Fill in three layers with paste a little wetter than the liquid limit, jarring out the air; strike"
            " off, weigh at once.",
            readings=["pats.mass_mould_wet_g"],
        ),
        ProcedureStep(
            text="Dry in air until the colour turns light, then at 110 °C to constant mass; weigh.",
            readings=["pats.mass_mould_dry_g", "pats.state"],
        ),
        ProcedureStep(
            text="Coat the pat thinly with wax without a bubble; weigh it in air, then hanging under water.",
            readings=["pats.mass_waxed_g", "pats.mass_in_water_g", "temperature_c"],
        ),
    )
    cautions = (
        "Wax is melted in a water bath, never over a flame; hot wax burns: gloves and eye protection.",
        "Moulds come out of the oven at 110 °C: tongs or heat gloves, and let them cool.",
        DEFER,
    )

    def work_out(
        self, readings: ShrinkageLimitReadings, settings: ShrinkageLimitSettings, context: ShrinkageLimitContext
    ) -> Reduction:
        return reduce_shrinkage_limit(readings, settings, context)

    def timetable(self, readings: ShrinkageLimitReadings, settings: ShrinkageLimitSettings) -> list[Operation]:
        pats = [pat for pat in readings.pats if pat.used and not pat.empty]
        filled = any(pat.mass_mould_wet_g is not None for pat in pats)
        dry = any(pat.mass_mould_dry_g is not None for pat in pats)
        return [
            Operation(
                key="fill",
                what="Fill the mould",
                due_min=0,
                tolerance_min=240,
                hands_on_min=20 * settings.needed,
                done=filled,
                cell="pats.0.mass_mould_wet_g",
            ),
            Operation(
                key="oven-in",
                what="The pat has turned light: into the oven",
                due_min=720,
                tolerance_min=720,
                hands_on_min=5,
                resource="oven",
                holds_min=960,
                done=dry,
                cell="pats.0.state",
            ),
            Operation(
                key="wax",
                what="Weigh the dry pat, wax it, weigh it in air and in water",
                due_min=1690,
                tolerance_min=720,
                hands_on_min=20 * settings.needed,
                done=any(pat.mass_in_water_g is not None for pat in pats),
                cell="pats.0.mass_mould_dry_g",
            ),
        ]

    def soil_needed(self, settings: ShrinkageLimitSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=60.0 * settings.needed, spent=True, note="below 0.425 mm, from the liquid limit's mix")

    def virtual(
        self,
        soil: ShrinkingClay,
        settings: ShrinkageLimitSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> ShrinkageLimitReadings:
        mistakes = self.plant(mistakes)
        at = round(float(rng.uniform(15, 24)), 1)
        water, pats = float(water_density(at)), []
        for i in range(settings.needed):
            volume = round(float(rng.uniform(28, 34)), 2)
            solids, mould = volume / soil.volume(soil.mixed_at), round(float(rng.uniform(40, 60)), 2)
            wax = float(rng.uniform(2, 4))
            pushed = solids * soil.volume(0.0) + wax / settings.wax_density_g_cm3
            pats.append(
                {
                    "mould": f"S{i + 1}",
                    "volume_mould_cm3": volume,
                    "mass_mould_g": mould,
                    # What fills the pores is water at the mould's own temperature: one gram to the cubic centimetre.
                    "mass_mould_wet_g": weigh(mould + solids * (1 + soil.mixed_at / 100)),
                    "mass_mould_dry_g": weigh(mould + solids),
                    "state": PatState.WHOLE,
                    "mass_waxed_g": weigh(solids + wax),
                    "mass_in_water_g": weigh(solids + wax - pushed * water),
                }
            )
        first: dict[str, Any] = pats[0]
        if "exchanged" in mistakes:
            wet, dry = "mass_mould_wet_g", "mass_mould_dry_g"
            first[wet], first[dry] = first[dry], first[wet]
        if "bubble" in mistakes:
            first["mass_in_water_g"] -= 14.0
        if "dried-too-fast" in mistakes:
            first["state"] = PatState.CRACKED
        if "in-air-twice" in mistakes:
            first["mass_in_water_g"] = first["mass_waxed_g"]
        if "thick-wax" in mistakes:
            more = 10.0 - float(first["mass_waxed_g"] - (first["mass_mould_dry_g"] - first["mass_mould_g"]))
            first["mass_waxed_g"] = weigh(first["mass_waxed_g"] + more)
            first["mass_in_water_g"] = weigh(first["mass_in_water_g"] + more * (1 - water / settings.wax_density_g_cm3))
        return ShrinkageLimitReadings.model_validate({"pats": pats, "temperature_c": at})

    def truth(self, soil: ShrinkingClay, settings: ShrinkageLimitSettings) -> dict[str, float]:
        return {"shrinkage_limit": soil.limit}

    def a_soil(self, rng: np.random.Generator) -> ShrinkingClay:
        limit = float(rng.uniform(9, 24))
        return ShrinkingClay(float(rng.uniform(2.6, 2.78)), limit, limit + float(rng.uniform(18, 55)))
