"""The water content as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import constant_mass, one_soil, weighing
from vadum.soil.bench.one_soil import tins_agree
from vadum.soil.bench.weighing import all_dry, any_wet
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.water_content import findings as own_findings
from vadum.soil.methods.water_content import results as own_results
from vadum.soil.methods.water_content.drying import drying_minutes, follow, what_now
from vadum.soil.methods.water_content.equations import FIELD_SCHOOL_G, least_by_drying_g, least_specimen_g
from vadum.soil.methods.water_content.readings import (
    IN_OVEN,
    Drying,
    Precision,
    SpecimenRule,
    WaterContentContext,
    WaterContentReadings,
    WaterContentSettings,
)
from vadum.soil.methods.water_content.reduction import reduce_water_content
from vadum.soil.physics.moisture import mass_change_percent, water_content_percent
from vadum.soil.virtual.plastic_soil import PlasticSoil, a_plastic_soil, tin_names, tin_of_soil, weigh


class WaterContent(Method[WaterContentReadings, WaterContentSettings, WaterContentContext]):
    """Mass of water by mass of dry soil."""

    code = "water-content"
    title = "Water content"
    known_as = ("moisture", "moisture content", "natural water content", "humidity")
    version = "2"
    place = 10
    mark = "w"
    made_with = {"oven": {"drying": list(IN_OVEN)}}
    basis = ("ASTM D2216", "ASTM D4643", "ASTM D4959", "ISO 17892-1")
    headline = ("water_content",)
    results = results_in(own_results)
    neighbours = (*tins_agree("determinations"),)
    findings = doubts_in(own_findings, constant_mass, weighing, one_soil)
    computed = (Computed(table="determinations", key="water_content_percent", label="w", unit="%"),)
    columns = {"determinations": ("tin", "mass_tin_g", "mass_tin_wet_g", "drying_h", "mass_tin_dry_g")}
    Readings = WaterContentReadings
    Settings = WaterContentSettings
    Context = WaterContentContext
    mistakes = {
        "wet-and-dry-swapped": "tin + wet and tin + dry of the first tin are exchanged",
        "wrong-tin": "the empty mass written is another tin's",
        "taken-out-early": "weighed once, long before it is dry",
        "unit-slip": "one mass is typed in mg",
        "specimen-small": "far too little soil for gravel",
    }
    equations = (
        SourceNote.of(water_content_percent),
        SourceNote.of(mass_change_percent),
        SourceNote.of(least_specimen_g),
        SourceNote.of(least_by_drying_g),
    )
    steps = (
        ProcedureStep(
            text="Weigh the empty tin, or use the register.",
            readings=["determinations.tin", "determinations.mass_tin_g"],
        ),
        ProcedureStep(
            text="Take enough moist soil for its largest grain, lid on, weigh at once.",
            readings=["largest_particle_mm", "determinations.mass_tin_wet_g"],
        ),
        ProcedureStep(text="Dry with the lid off.", readings=["determinations.drying_h", "temperature_c"]),
        ProcedureStep(text="Cool 5 to 10 min with the lid on and weigh.", readings=["determinations.mass_tin_dry_g"]),
        ProcedureStep(text="Dry further and weigh again until the mass is constant.", readings=["reweighings"]),
    )
    cautions = (
        "Hot tins, pans and plates: tongs or heat gloves; mind the steam when lifting a lid.",
        (
            "Microwave: no metal (arcing), a glass of water beside the soil, stones can burst, short steps against"
            " boiling over."
        ),
        "Contaminated or organic soil gives off fumes: ventilate.",
        DEFER,
    )

    def work_out(
        self, readings: WaterContentReadings, settings: WaterContentSettings, context: WaterContentContext
    ) -> Reduction:
        return reduce_water_content(readings, settings, context)

    def run_view(
        self, readings: WaterContentReadings, settings: WaterContentSettings, context: WaterContentContext
    ) -> dict[str, Any]:
        first, step = drying_minutes(settings)
        rows = readings.determinations
        tins = []
        for i, row in enumerate(rows):
            state = follow(i, row, len(rows) == 1, readings.reweighings, row.tare_g(context.tins), settings)
            if not row.used or state.state == "empty":
                continue
            lightest = row.mass_tin_wet_g if state.dry_mass_g is None else state.dry_mass_g
            tins.append(
                {
                    "path": f"determinations.{i}",
                    "name": state.name,
                    "state": state.state,
                    "say": what_now(state, settings),
                    "weighed": len(state.weighings),
                    "expected": "" if lightest is None else f"below {lightest:.2f} g",
                    "startedAt": row.started_at.isoformat() if row.started_at else "",
                }
            )
        return {
            "drying": {
                "tins": tins,
                "firstMin": first,
                "stepMin": step,
                "timed": settings.drying in IN_OVEN,
                "nextReweighing": len(readings.reweighings),
            }
        }

    def soil_needed(self, settings: WaterContentSettings, largest_particle_mm: float | None) -> SoilNeed:
        least = least_specimen_g(largest_particle_mm or 2.0, settings.precision == Precision.TENTH)
        return SoilNeed(mass_g=least, spent=True, note="one tin")

    def timetable(self, readings: WaterContentReadings, settings: WaterContentSettings) -> list[Operation]:
        tins = readings.determinations
        if settings.drying in IN_OVEN:
            out = 60.0 * settings.least_drying_h
            dry = all_dry(tins)
            return [
                Operation(
                    key="oven-in",
                    what="Tins into the oven, lids off",
                    due_min=0,
                    tolerance_min=30,
                    hands_on_min=5,
                    resource="oven",
                    holds_min=out,
                    done=any_wet(tins),
                    cell="determinations.0.mass_tin_wet_g",
                ),
                Operation(
                    key="oven-out",
                    what="Tins out, lids on",
                    due_min=out,
                    tolerance_min=480,
                    hands_on_min=5,
                    done=dry,
                    cell="determinations.0.mass_tin_dry_g",
                    by_word=True,
                ),
                Operation(
                    key="weigh-dry",
                    what="Weigh after cooling 5–10 min",
                    due_min=out + 10,
                    tolerance_min=30,
                    hands_on_min=5,
                    done=dry,
                    cell="determinations.0.mass_tin_dry_g",
                ),
            ]
        first, step = drying_minutes(settings)
        begun = [tin.started_at for tin in tins if tin.started_at]
        weighed = any(tin.mass_tin_dry_g is not None for tin in tins)
        return [
            Operation(
                key="dry",
                what="Start drying",
                due_min=0,
                tolerance_min=10,
                hands_on_min=2,
                resource=settings.drying,
                holds_min=first,
                done=bool(begun) or weighed,
                at=min(begun, default=None),
            ),
            Operation(
                key="weigh-1",
                what="Weigh, stir",
                due_min=first,
                tolerance_min=0.5,
                hands_on_min=2,
                done=weighed,
                cell="determinations.0.mass_tin_dry_g",
            ),
            Operation(
                key="weigh-2",
                what="Weigh again; go on until constant",
                due_min=first + step,
                tolerance_min=0.5,
                hands_on_min=2,
                done=bool(readings.reweighings),
                cell="reweighings.0.mass_tin_dry_g",
            ),
        ]

    def virtual(
        self,
        soil: PlasticSoil,
        settings: WaterContentSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> WaterContentReadings:
        mistakes = self.plant(mistakes)
        # A microwave and a hot plate ask for more soil than an oven does.
        whole = FIELD_SCHOOL_G if settings.specimen_rule == SpecimenRule.ALWAYS_500 else 0.0
        least = 26.0 + max(whole, least_by_drying_g(settings.drying.value))
        dry_soil_g = 12.0 if "specimen-small" in mistakes else float(rng.uniform(least, least + 34))
        tins = [
            tin_of_soil(rng, name, soil.portion(soil.natural_water_content, rng), dry_soil_g)
            for name in tin_names(rng, 2)
        ]
        reweighings = []
        if settings.drying in IN_OVEN:
            for tin in tins:
                tin["drying_h"] = 4.0 if "taken-out-early" in mistakes else 17.0
        elif "taken-out-early" not in mistakes:
            reweighings = _drying_log(tins, 1.0 if settings.drying == Drying.MICROWAVE else 5.0)
        first = tins[0]
        if "wet-and-dry-swapped" in mistakes:
            first["mass_tin_wet_g"], first["mass_tin_dry_g"] = first["mass_tin_dry_g"], first["mass_tin_wet_g"]
        if "wrong-tin" in mistakes:
            first["mass_tin_g"] = weigh(float(first["mass_tin_g"]) + 0.8)
        if "unit-slip" in mistakes:
            first["mass_tin_wet_g"] = weigh(float(first["mass_tin_wet_g"]) * 1000)
        particle = 9.5 if "specimen-small" in mistakes else 2.0
        return WaterContentReadings.model_validate(
            {"determinations": tins, "reweighings": reweighings, "largest_particle_mm": particle}
        )

    def truth(self, soil: PlasticSoil, settings: WaterContentSettings) -> dict[str, float]:
        return {"water_content": soil.natural_water_content}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_plastic_soil(rng)


def _drying_log(tins: list[dict[str, float | str]], step_min: float) -> list[dict[str, float | str]]:
    """Replace each tin's dry mass by a first weighing with water left, and return the weighings until constant."""
    log: list[dict[str, float | str]] = []
    for tin in tins:
        dry, water = float(tin["mass_tin_dry_g"]), float(tin["mass_tin_wet_g"]) - float(tin["mass_tin_dry_g"])
        tin["mass_tin_dry_g"] = weigh(dry + 0.08 * water)
        for left in (0.015, 0.0, 0.0):
            log.append({"tin": tin["tin"], "after_min": step_min, "mass_tin_dry_g": weigh(dry + left * water)})
    return log
