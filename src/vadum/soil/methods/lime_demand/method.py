"""Lime demand as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Alike
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.lime_demand import findings as own_findings
from vadum.soil.methods.lime_demand import results as own_results
from vadum.soil.methods.lime_demand.equations import decide, lime_mass_g, ph_at_25, slope_percent
from vadum.soil.methods.lime_demand.readings import (
    LIME_ONLY_G,
    PLAN_PERCENT,
    DriedIn,
    LimeContext,
    LimeReadings,
    LimeSettings,
    LimeSoil,
    Shaken,
    UpperBuffer,
)
from vadum.soil.methods.lime_demand.reduction import reduce_lime
from vadum.soil.physics.moisture import moist_mass_g
from vadum.soil.virtual.liming_soil import LimingSoil, a_liming_soil

_SHAKES, _WATER_MIN, _APART_MIN = 7, 30, 3


def _each(count: int, readings: LimeReadings, settings: LimeSettings) -> list[Operation]:
    """Return water, shakes and reading of bottles that go by clocks of their own, one after the other."""
    rows = [*readings.bottles, *[None] * count]
    read = [row is not None and row.ph is not None for row in rows[:count]]
    found = [
        Operation(
            key=f"shake-0-{k + 1}",
            what=f"Water into bottle {k + 1}, shake 30 s",
            due_min=_WATER_MIN + _APART_MIN * k,
            tolerance_min=120 if k == 0 else 5,
            hands_on_min=2,
            done=done,
        )
        for k, done in enumerate(read)
    ]
    for k in range(1, _SHAKES):
        found.append(
            Operation(
                key=f"shake-{k}",
                what="Shake each in the order of its water, 30 s",
                due_min=_WATER_MIN + 10 * k,
                tolerance_min=5,
                hands_on_min=count,
                after="shake-0-1",
                done=all(read),
            )
        )
    return found + [
        Operation(
            key=f"read-{k + 1}",
            what=f"Read bottle {k + 1}",
            due_min=_WATER_MIN + _APART_MIN * k + settings.read_from_min,
            tolerance_min=settings.read_within_min,
            hands_on_min=2,
            after=f"shake-0-{k + 1}",
            done=done,
            cell=f"bottles.{k}.ph",
        )
        for k, done in enumerate(read)
    ]


class LimeDemand(Method[LimeReadings, LimeSettings, LimeContext]):
    """The least lime that brings a soil's suspension to the pH of lime water."""

    code = "lime-demand"
    title = "Lime demand by pH"
    known_as = ("eades", "lime stabilisation", "lime stabilization", "ph")
    version = "3"
    place = 210
    made_with = {"pH meter": {}}
    basis = ("ASTM D6276",)
    headline = ("lime_percent", "branch", "highest_ph", "lime_only_ph")
    results = results_in(own_results)
    neighbours = (Alike(("bottles.temperature_c",), apart=4.0),)
    findings = doubts_in(own_findings)
    computed = (Computed(table="bottles", key="ph25", label="pH 25 °C", decimals=2),)
    Readings = LimeReadings
    Settings = LimeSettings
    Context = LimeContext
    mistakes = {
        "lime-only-off": "the meter reads 0.3 too low",
        "one-buffer": "only the lower buffer was used",
        "read-late": "the bottles are read forty minutes late",
        "bottles-exchanged": "two bottles are exchanged",
        "lime-of-moist": "the lime of one bottle is weighed for another",
        "soil-dry": "25.0 g of moist soil are taken for dry",
        "worn-electrode": "the electrode is worn",
        "dried-hot": "the soil is dried at 110 degrees",
    }
    equations = (
        SourceNote.of(lime_mass_g),
        SourceNote.of(ph_at_25),
        SourceNote.of(decide),
        SourceNote.of(slope_percent),
        SourceNote(
            gives="lime only",
            equation="12.45 at 25 °C; beyond ± 0.05 12.3 and 12.4 cannot be told apart, beyond ± 0.10 nothing counts",
            source="ASTM D6276",
        ),
    )
    steps = (
        ProcedureStep(
            text="Goggles, gloves, apron. Soil below 0.425 mm, air-dried; its water content.",
            readings=["water_content_percent", "dried", "soil"],
        ),
        ProcedureStep(
            text=(
                "2.0 g of lime alone into the first bottle; 25.0 g dry of soil into five others, with lime of 2 to"
                " 6 %, to 0.001 g."
            ),
            readings=["lime", "bottles.only", "bottles.mass_soil_g", "bottles.mass_lime_g"],
        ),
        ProcedureStep(
            text=(
                "100 mL of water free of carbon dioxide; shake 30 s at once, then 30 s every 10 min for an hour, at"
                " 25 °C."
            )
        ),
        ProcedureStep(
            text="Calibrate the meter at 10.0 and 12.45 twice; check with a third buffer; note the slope.",
            readings=["calibration", "slope_percent", "slope_mv", "offset_mv"],
        ),
        ProcedureStep(
            text=(
                "From 60 min read lime only first, rinse, then the others from low to high without rinsing, all within"
                " 15 min."
            ),
            readings=["bottles.read_min", "bottles.temperature_c", "bottles.ph"],
        ),
    )
    cautions = (
        "Lime burns eyes and skin: goggles, gloves, apron; eye wash within reach; rinse at once and see a doctor.",
        "Quicklime heats with water: small amounts, never closed while it slakes.",
        "No dust: ventilate, weigh under the hood; read the data sheet first.",
        DEFER,
    )
    limits = (
        "An indication for a mix design, not a mix design: strength tests decide.",
        "Not for soils with much sulphate or organic matter.",
    )

    def work_out(self, readings: LimeReadings, settings: LimeSettings, context: LimeContext) -> Reduction:
        return reduce_lime(readings, settings)

    def begin(self, settings: LimeSettings, largest_particle_mm: float | None) -> dict[str, Any]:
        """Return the bottles with their lime, the first with lime only: it is read first and judges the meter."""
        rows: list[dict[str, Any]] = [{"lime_percent": p} for p in PLAN_PERCENT]
        return {"bottles": [{"only": "yes", "mass_soil_g": 0.0, "mass_lime_g": LIME_ONLY_G}, *rows]}

    def soil_needed(self, settings: LimeSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=350, spent=True, note="below 0.425 mm, air-dried")

    def timetable(self, readings: LimeReadings, settings: LimeSettings) -> list[Operation]:
        """Return weighing, seven shakes, and the reading window."""
        weighed = any(row.mass_soil_g for row in readings.bottles)
        read = any(row.ph is not None for row in readings.bottles)
        found = [
            Operation(
                key="weigh",
                what="Weigh soil and lime into six bottles",
                due_min=0,
                tolerance_min=240,
                hands_on_min=25,
                done=weighed,
                cell="bottles.1.mass_soil_g",
            )
        ]
        if settings.shaken == Shaken.EACH:
            return found + _each(max(len(readings.bottles), len(PLAN_PERCENT) + 1), readings, settings)
        for k in range(_SHAKES):
            what = "Water in, shake 30 s" if k == 0 else "Shake 30 s"
            found.append(
                Operation(
                    key=f"shake-{k}",
                    what=what,
                    due_min=30 + 10 * k,
                    tolerance_min=120 if k == 0 else 2,
                    hands_on_min=3,
                    done=read,
                )
            )
        found.append(
            Operation(
                key="read",
                what="Read all bottles, low to high, within 15 min",
                due_min=30 + settings.read_from_min,
                tolerance_min=settings.read_within_min,
                hands_on_min=15,
                done=read,
                cell="bottles.0.ph",
            )
        )
        return found

    def virtual(
        self, soil: LimingSoil, settings: LimeSettings, rng: np.random.Generator, mistakes: frozenset[str] = frozenset()
    ) -> LimeReadings:
        mistakes = self.plant(mistakes)
        w = round(float(rng.uniform(2, 8)), 1)
        off = -0.3 if "lime-only-off" in mistakes else 0.0
        bottles: list[dict[str, Any]] = []
        for k, percent in enumerate((None, *PLAN_PERCENT)):
            temperature = round(25 + float(rng.uniform(-1, 1)), 1)
            ph25 = soil.ph(percent) + off
            moist = settings.dry_g if "soil-dry" in mistakes else moist_mass_g(settings.dry_g, w)
            meant = percent if not ("lime-of-moist" in mistakes and k == 2) else 4.0
            bottles.append(
                {
                    **({"only": "yes"} if percent is None else {"lime_percent": percent}),
                    "mass_soil_g": round(moist, 1) if percent is not None else 0.0,
                    "mass_lime_g": round(lime_mass_g(settings.dry_g, meant), 3) if meant is not None else LIME_ONLY_G,
                    "read_min": settings.read_from_min + 2 * k + (40 if "read-late" in mistakes else 0),
                    "temperature_c": temperature,
                    "ph": round(ph25 - 0.03 * (temperature - 25), 2),
                }
            )
        if "bottles-exchanged" in mistakes:
            bottles[1]["ph"], bottles[3]["ph"] = bottles[3]["ph"], bottles[1]["ph"]
        upper = 12.45 if settings.upper_buffer == UpperBuffer.PH_12_45 else 12.0
        buffers = [12.0] if settings.upper_buffer == UpperBuffer.SINGLE_12 else [10.0, upper]
        third = [] if settings.upper_buffer == UpperBuffer.SINGLE_12 else [7.0]
        if "one-buffer" in mistakes:
            buffers, third = [10.0], []
        return LimeReadings.model_validate(
            {
                "water_content_percent": w,
                "lime": "hydrated",
                "soil": LimeSoil.CLAY,
                "dried": DriedIn.HOTTER if "dried-hot" in mistakes else DriedIn.AIR,
                "slope_percent": 84.0 if "worn-electrode" in mistakes else 98.2,
                "calibration": [{"buffer_ph": b, "shown_ph": b} for b in [*buffers * 2, *third]],
                "bottles": bottles,
            }
        )

    def truth(self, soil: LimingSoil, settings: LimeSettings) -> dict[str, float]:
        demand = next((p for p in PLAN_PERCENT if round(soil.ph(p), 2) >= 12.4), None)
        return {"lime_percent": demand} if demand is not None else {}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_liming_soil(rng)
