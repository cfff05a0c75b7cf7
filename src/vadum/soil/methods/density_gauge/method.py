"""The density gauge as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.neighbours import Alike, Once
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.density_gauge import findings as own_findings
from vadum.soil.methods.density_gauge import results as own_results
from vadum.soil.methods.density_gauge.readings import DensityGaugeContext, DensityGaugeReadings, DensityGaugeSettings
from vadum.soil.methods.density_gauge.reduction import reduce_density_gauge
from vadum.soil.physics.phases import dry_density, saturated_dry_density

_PLACES = 5


class DensityGauge(Method[DensityGaugeReadings, DensityGaugeSettings, DensityGaugeContext]):
    """A gauge laid on a rolled lift: its density and water at many places, tied to one hole dug beside it."""

    code = "density-gauge"
    title = "Density by gauge"
    known_as = ("nuclear gauge", "field density", "bulk density", "compaction control")
    place = 137
    made_with = {"density gauge": {}}
    basis = ("ASTM D6938", "ASTM D7830")
    applies_to = "location"
    set_up = ("permitted", "standard_count", "density_offset_g_cm3", "water_offset_percent")
    headline = ("dry_density", "water_content", "spread_percent")
    results = results_in(own_results)
    neighbours = (Alike(("spots.water_percent",), ratio=1.6), Once("spots.place"))
    findings = doubts_in(own_findings)
    computed = (Computed(table="spots", key="dry_g_cm3", label="ρd", unit="g/cm³", decimals=3),)
    Readings = DensityGaugeReadings
    Settings = DensityGaugeSettings
    Context = DensityGaugeContext
    mistakes = {
        "count-off": "the standard count is outside its limits",
        "exchanged": "dry density is typed for bulk density and the water doubled at the second place",
        "hollow": "a hollow below the gauge at the third place",
        "no-offset": "nobody compared the gauge with a hole",
    }
    equations = (
        SourceNote.of(dry_density),
        SourceNote(gives="gauge", equation="ρ = shown + offset; w = shown + offset", source="ASTM D6938 annex"),
    )
    steps = (
        ProcedureStep(
            text="Permitted person, badge; the day's standard count.", readings=["permitted", "standard_count"]
        ),
        ProcedureStep(text="Smooth the place, fill hollows with fines, drive the hole.", readings=["spots.place"]),
        ProcedureStep(
            text="Lower the rod, read bulk density and water; turn by ninety degrees and read again when in doubt.",
            readings=["spots.rod_mm", "spots.bulk_density_g_cm3", "spots.water_percent"],
        ),
        ProcedureStep(
            text="Dig one hole with sand beside a place, dry its soil: the offsets.",
            readings=["density_offset_g_cm3", "water_offset_percent"],
        ),
    )
    cautions = (
        "A source of radiation: permitted persons alone, badge, distance, never left alone, locked when carried.",
        "Rollers and lorries: a gauge run over is an accident with a source; stand where drivers see you.",
        DEFER,
    )
    limits = (
        "A gauge is compared with a hole for each soil: salt, iron, gypsum and organic matter mislead it.",
        "Laid on the surface it feels the top 0.1 m, and hollows under it.",
    )

    def work_out(
        self, readings: DensityGaugeReadings, settings: DensityGaugeSettings, context: DensityGaugeContext
    ) -> Reduction:
        return reduce_density_gauge(readings, settings)

    def timetable(self, readings: DensityGaugeReadings, settings: DensityGaugeSettings) -> list[Operation]:
        return [
            Operation(
                key="read",
                what="Standard count, then each place",
                due_min=0,
                tolerance_min=120,
                hands_on_min=25,
                done=readings.finished == "yes",
                cell="standard_count",
            )
        ]

    def virtual(
        self,
        soil: tuple[float, float],
        settings: DensityGaugeSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> DensityGaugeReadings:
        mistakes = self.plant(mistakes)
        water, dry = soil
        offset = round(float(rng.uniform(-0.04, 0.04)), 3)
        shares = 1 + 0.02 * rng.uniform(-1, 1, _PLACES)
        rows: list[dict[str, Any]] = []
        for number, share in enumerate(shares / shares.mean(), 1):
            bulk = dry * float(share) * (1 + water / 100) - offset
            row = {"place": f"0+{25 * number:03d}", "rod_mm": 150.0}
            row |= {"bulk_density_g_cm3": round(bulk, 3), "water_percent": round(water, 1)}
            if "exchanged" in mistakes and number == 2:
                row |= {"bulk_density_g_cm3": round(bulk * 1.22, 3), "water_percent": round(2 * water, 1)}
            if "hollow" in mistakes and number == 3:
                row["bulk_density_g_cm3"] = round(0.88 * bulk, 3)
            rows.append(row)
        return DensityGaugeReadings.model_validate(
            {
                "spots": rows,
                "standard_count": "no" if "count-off" in mistakes else "yes",
                "permitted": "yes",
                "density_offset_g_cm3": None if "no-offset" in mistakes else offset,
                "water_offset_percent": 0.0,
                "depth_m": 0.0,
                "finished": "yes",
            }
        )

    def truth(self, soil: tuple[float, float], settings: DensityGaugeSettings) -> dict[str, float]:
        return {"water_content": soil[0], "dry_density": soil[1]}

    def a_soil(self, rng: np.random.Generator) -> Any:
        """Return water content in percent and dry density in g/cm3 of a rolled lift with some air."""
        water = round(float(rng.uniform(6, 18)), 1)
        return water, saturated_dry_density(water, 2.70, float(rng.uniform(4, 10)))
