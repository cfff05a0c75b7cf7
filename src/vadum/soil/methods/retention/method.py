"""Water retention as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.still import Moves
from vadum.soil.methods.retention import findings as own_findings
from vadum.soil.methods.retention import results as own_results
from vadum.soil.methods.retention.readings import RetentionContext, RetentionReadings, RetentionSettings
from vadum.soil.methods.retention.reduction import reduce_retention
from vadum.soil.methods.retention.steps import steps_of
from vadum.soil.methods.retention.virtual import MISTAKES, a_cell
from vadum.soil.physics.retention import brooks_corey, suction_kpa, van_genuchten, water_by_volume
from vadum.soil.virtual.holding_soil import HoldingSoil, a_holding_soil

_DAY = 1440.0
_DAYS_A_STEP = 5


class RetentionCell(Method[RetentionReadings, RetentionSettings, RetentionContext]):
    """How much water a soil holds against suction."""

    code = "retention"
    title = "Water retention"
    known_as = ("suction", "pf curve", "water release", "characteristic curve", "field capacity")
    version = "3"
    place = 200
    made_with = {"oven": {}}
    basis = ("ISO 11274", "ASTM D6836")
    headline = ("field_capacity", "theta_s", "drainable", "alpha", "n", "entry_kpa", "lambda", "available", "wilting")
    results = results_in(own_results)
    # Water goes at every step: what weighs the same to the last figure over several was not weighed again.
    neighbours = (Moves("weighings.mass_g", beside="suction", most=0.1),)
    findings = doubts_in(own_findings)
    computed = (
        Computed(table="weighings", key="kpa", label="suction", unit="kPa", decimals=1),
        Computed(table="weighings", key="loss", label="loss", unit="g/d", decimals=2),
        Computed(table="weighings", key="theta", label="θ", unit="%"),
    )
    folds = {"weighings": "suction"}
    Readings = RetentionReadings
    Settings = RetentionSettings
    Context = RetentionContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(water_by_volume),
        SourceNote.of(van_genuchten),
        SourceNote.of(brooks_corey),
        SourceNote(gives="choice", equation="AIC = N ln(SSR/N) + 2 (k + 1)", source="Akaike (1974)"),
        SourceNote.of(suction_kpa),
    )
    steps = (
        ProcedureStep(
            text="Weigh apparatus and ring; press the ring into the soil, trim both faces.",
            readings=["volume_cm3", "mass_apparatus_g", "mass_ring_g", "rated_kpa"],
        ),
        ProcedureStep(
            text="Saturate ring and plate from below in 0.01 M calcium chloride for 24 h, twice.",
            readings=["saturated_twice", "plate_saturated"],
        ),
        ProcedureStep(text="Weigh the saturated apparatus.", readings=["weighings"]),
        ProcedureStep(
            text="Set the next suction; weigh every day until the mass changes by less than 0.1 g; then the next one.",
            readings=["weighings.suction", "weighings.device", "weighings.day", "weighings.mass_g"],
        ),
        ProcedureStep(
            text="At the end dry the soil and weigh it.", readings=["mass_dry_g", "mass_can_g", "particle_density"]
        ),
    )
    cautions = (
        (
            "Mercury: ventilate, work over a tray, keep the spill kit at hand, follow the local rules; use gauges or"
            " transducers where you can."
        ),
        "Pressure: never above the rating of cell, plate and hoses; release it before opening.",
        DEFER,
    )
    limits = (
        "The drying branch of one ring; beyond the last step the curve is extrapolated.",
        "The wilting point needs a pressure plate of its own.",
    )

    def work_out(
        self, readings: RetentionReadings, settings: RetentionSettings, context: RetentionContext
    ) -> Reduction:
        return reduce_retention(readings, settings, context)

    def soil_needed(self, settings: RetentionSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=450, spent=True, note="one ring, undisturbed")

    def timetable(self, readings: RetentionReadings, settings: RetentionSettings) -> list[Operation]:
        """Return about six weeks: two days of saturation, then every step with its weighings, daily from the step in
        hand."""
        made = steps_of(readings, settings)
        stable = {round(s.kpa, 1) for s in made[:-1]} | (
            {round(made[-1].kpa, 1)} if made and made[-1].stable(settings) else set()
        )
        begun = {round(s.kpa, 1) for s in made}
        dried = readings.mass_dry_g is not None
        found = [
            Operation(
                key="saturate",
                what="Saturate ring and plate, 24 h",
                due_min=0,
                tolerance_min=240,
                hands_on_min=30,
                resource="retention cell",
                holds_min=_DAY,
                done=bool(made) or readings.saturated_twice is not None,
                cell="saturated_twice",
                by_word=True,
            ),
            Operation(
                key="saturate-again",
                what="Change the solution, saturate another 24 h",
                due_min=_DAY,
                tolerance_min=240,
                hands_on_min=10,
                holds_min=_DAY,
                done=bool(made) or readings.saturated_twice is not None,
                cell="saturated_twice",
            ),
            Operation(
                key="weigh-wet",
                what="Weigh saturated",
                due_min=2 * _DAY,
                tolerance_min=240,
                hands_on_min=10,
                done=bool(made),
                cell="weighings.0.mass_g",
            ),
        ]
        for i, kpa in enumerate(settings.plan):
            at = _DAY * (2 + _DAYS_A_STEP * i)
            over = dried or round(kpa, 1) in stable
            row = len(readings.weighings)
            found.append(
                Operation(
                    key=f"set-{i}",
                    what=f"Set {kpa:g} kPa",
                    due_min=at + 15,
                    tolerance_min=480,
                    hands_on_min=5,
                    done=over or round(kpa, 1) in begun,
                    cell=f"weighings.{row}.suction",
                )
            )
            found.append(
                Operation(
                    key=f"weigh-{i}",
                    what=f"Weigh at {kpa:g} kPa every day until stable",
                    due_min=at + _DAY,
                    tolerance_min=_DAY,
                    hands_on_min=5,
                    holds_min=(_DAYS_A_STEP - 1) * _DAY,
                    done=over,
                    cell=f"weighings.{row}.mass_g",
                )
            )
        found.append(
            Operation(
                key="dry",
                what="Dry the soil",
                due_min=_DAY * (2 + _DAYS_A_STEP * len(settings.plan)),
                tolerance_min=_DAY,
                hands_on_min=15,
                resource="oven",
                holds_min=_DAY,
                done=dried,
                cell="mass_dry_g",
            )
        )
        return found

    def virtual(
        self,
        soil: HoldingSoil,
        settings: RetentionSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> RetentionReadings:
        return a_cell(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: HoldingSoil, settings: RetentionSettings) -> dict[str, float]:
        return {"field_capacity": 100 * soil.theta(settings.field_capacity_kpa), "theta_s": 100 * soil.theta_s}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_holding_soil(rng)
