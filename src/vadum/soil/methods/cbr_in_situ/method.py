"""The bearing ratio in the ground, as a method."""

from dataclasses import replace
from typing import Any

import numpy as np

from vadum.soil.bench import one_soil, weighing
from vadum.soil.bench.one_soil import tins_agree
from vadum.soil.bench.plunger import advice, report
from vadum.soil.bench.plunger.press import press_view, pressed_at
from vadum.soil.bench.plunger.readings import ForceRead, planned_rows, pressed, shown_as
from vadum.soil.bench.weighing import all_dry
from vadum.soil.contract import by_hand
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.cbr_in_situ import findings as own_findings
from vadum.soil.methods.cbr_in_situ import results as own_results
from vadum.soil.methods.cbr_in_situ.readings import (
    POSITIONS,
    CbrInSituContext,
    CbrInSituReadings,
    CbrInSituSettings,
    Ended,
)
from vadum.soil.methods.cbr_in_situ.reduction import reduce_cbr_in_situ
from vadum.soil.physics.bearing import agree, bearing_ratio_percent, largest_measurable_percent, seating_force_n
from vadum.soil.virtual.plastic_soil import tin_names, tin_of_soil
from vadum.soil.virtual.plunger_soil import PlungerSoil, a_plunger_soil, linear_ring_n_div

_LIFTS_MM = 3.5


class CbrInSitu(Method[CbrInSituReadings, CbrInSituSettings, CbrInSituContext]):
    """Force on a plunger in the ground under a vehicle, as a share of the force in crushed stone."""

    code = "cbr-in-situ"
    title = "CBR in the ground"
    known_as = ("bearing ratio", "in-situ cbr", "field cbr")
    version = "5"
    place = 110
    mapped_as = "bearing"
    made_with = {"press": {}, "load ring": {}, "gauge": {}}
    basis = ("BS 1377-9", "ASTM D4429")
    applies_to = "location"
    followed_at = 10
    clocked = (*POSITIONS, "rate_measured_mm_min", "ended")
    set_up = (
        "services_clear",
        "chocked",
        "on_stands",
        "datum_outside",
        "expected_percent",
        "reaction_kn",
        "surcharge_kg",
        "seating_n",
    )
    headline = ("cbr", "spread_percent", "largest_cbr", "water_content")
    results = results_in(own_results, report)
    neighbours = (*pressed(*POSITIONS), *tins_agree("tins"))
    findings = doubts_in(own_findings, weighing, one_soil, by_hand, advice)
    computed = tuple(Computed(table=name, key="force_kn", label="F", unit="kN", decimals=3) for name in POSITIONS)
    Readings = CbrInSituReadings
    Settings = CbrInSituSettings
    Context = CbrInSituContext
    mistakes = {
        "reaction-lifted": "the vehicle lifts at 3.5 mm of the third position",
        "on-springs": "the vehicle is left on its springs",
        "stony": "stones above 20 mm lie under the plunger",
        "one-soft": "the second position stands in a filled hole",
        "other-ring": "the second position is read on a ring of half the factor",
        "turn-miscounted": "one reading is a whole turn of the dial too low",
        "light-vehicle": "the vehicle is too light for what is expected",
    }
    equations = (SourceNote.of(bearing_ratio_percent), SourceNote.of(largest_measurable_percent), SourceNote.of(agree))
    steps = (
        ProcedureStep(
            text="Plan: reaction, expected ratio, ring, seating force.",
            readings=["reaction_kn", "expected_percent", "ring_factor_n_div", "seating_n"],
        ),
        ProcedureStep(
            text="Locate services. Level ground, chocks, vehicle off its springs on stands.",
            readings=["services_clear", "chocked", "on_stands"],
        ),
        ProcedureStep(
            text=("Level a place 60 cm across, no stones above 20 mm under the plunger; surcharge rings on."),
            readings=["depth_m", "coarse_below", "surcharge_kg"],
        ),
        ProcedureStep(
            text="Datum bar free of everything, seat, zero ring and gauge.", readings=["datum_outside", "seating_n"]
        ),
        ProcedureStep(
            text="Press at 1 mm/min without a pause to 7.5 mm, or until the reaction lifts.",
            readings=["position_1.ring_div", "ended"],
        ),
        ProcedureStep(
            text="Two more positions within a metre.", readings=["position_2.ring_div", "position_3.ring_div"]
        ),
        ProcedureStep(
            text="Unload the ring, then strike the stands. Take tins from beside the plunger.", readings=["tins"]
        ),
    )
    cautions = (
        "The vehicle stands on stands, never on a jack alone, and nobody is under it; level ground, chocks, brakes.",
        "Unload the ring before the stands are struck.",
        "Traffic: cones, vest, a second person who watches.",
        "Cables and pipes: located before anything is driven or loaded.",
        DEFER,
    )

    def work_out(
        self, readings: CbrInSituReadings, settings: CbrInSituSettings, context: CbrInSituContext
    ) -> Reduction:
        return reduce_cbr_in_situ(readings, settings, context)

    def begin(self, settings: CbrInSituSettings, largest_particle_mm: float | None) -> dict[str, Any]:
        return {name: planned_rows() for name in POSITIONS}

    def run_view(
        self, readings: CbrInSituReadings, settings: CbrInSituSettings, context: CbrInSituContext
    ) -> dict[str, Any]:
        return press_view(settings, [(name, f"Position {i}") for i, name in enumerate(POSITIONS, 1)])

    def at_time(self, hidden: CbrInSituReadings, so_far: CbrInSituReadings, path: str, minutes: float) -> float | None:
        """Return gauge or ring so far into the run."""
        table, _, column = (*path.split("."), "", "")[:3]
        if table not in POSITIONS:
            return None
        return pressed_at(getattr(hidden, table), column, minutes, hidden.rate_measured_mm_min or 1.0)

    def timetable(self, readings: CbrInSituReadings, settings: CbrInSituSettings) -> list[Operation]:
        ended = readings.ended is not None
        operations = [
            Operation(
                key="set-up",
                what="Vehicle onto stands, datum bar, seat the plunger",
                due_min=0,
                tolerance_min=120,
                hands_on_min=40,
                done=readings.on_stands == "yes",
                cell="on_stands",
            )
        ]
        for i, name in enumerate(POSITIONS, 1):
            run = any(row.read is not None for row in getattr(readings, name))
            operations.append(
                Operation(
                    key=f"run-{i}",
                    what=f"Press position {i} without a pause",
                    due_min=20 + 25.0 * i,
                    tolerance_min=60,
                    hands_on_min=15,
                    done=run or ended,
                    cell=f"{name}.1.ring_div",
                )
            )
        operations.append(
            Operation(
                key="weigh-dry",
                what="Weigh the dry tins",
                due_min=1440,
                tolerance_min=480,
                hands_on_min=5,
                done=all_dry(readings.tins),
                cell="tins.0.mass_tin_dry_g",
            )
        )
        return operations

    def virtual(
        self,
        soil: PlungerSoil,
        settings: CbrInSituSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> CbrInSituReadings:
        mistakes = self.plant(mistakes)
        ratio = soil.ratio_percent(2.5, 13.2)
        factor = linear_ring_n_div(1.2 * soil.force_kn(7.5))
        positions = {}
        for name, share in zip(POSITIONS, (0.96, 1.01, 1.03), strict=True):
            share *= 0.4 if "one-soft" in mistakes and name == "position_2" else 1.0
            turns = 0.5 if "other-ring" in mistakes and name == "position_2" else 1.0
            here = replace(soil, stiffness_kn_mm=soil.stiffness_kn_mm * share)
            positions[name] = [
                row | shown_as(here.force_kn(row["penetration_mm"]), turns * factor, settings) for row in planned_rows()
            ]
        if "reaction-lifted" in mistakes:
            positions["position_3"] = [r for r in positions["position_3"] if r["penetration_mm"] <= _LIFTS_MM]
        if "turn-miscounted" in mistakes and settings.force_read == ForceRead.RING:
            row = positions["position_1"][10]
            row["ring_div"] = max(0.0, row["ring_div"] - 100.0)
        w = float(rng.uniform(8, 22))
        return CbrInSituReadings.model_validate(
            positions
            | {
                # Enough for 7.5 mm, where the force is a quarter more than at 5 mm.
                "reaction_kn": round(ratio * (0.1 if "light-vehicle" in mistakes else 0.4), 1),
                "expected_percent": round(ratio),
                "ring_factor_n_div": factor if settings.force_read == ForceRead.RING else None,
                "seating_n": seating_force_n(ratio, settings.school),
                "tins": [tin_of_soil(rng, name, w, float(rng.uniform(40, 70))) for name in tin_names(rng, 2)],
                "depth_m": 0.3,
                "surcharge_kg": 9.0,
                "rate_measured_mm_min": settings.rate,
                "on_stands": "no" if "on-springs" in mistakes else "yes",
                "chocked": "yes",
                "datum_outside": "yes",
                "services_clear": "yes",
                "coarse_below": "yes" if "stony" in mistakes else "no",
                "ended": Ended.LIFTED if "reaction-lifted" in mistakes else Ended.ALL_RUN,
            }
        )

    def truth(self, soil: PlungerSoil, settings: CbrInSituSettings) -> dict[str, float]:
        return {"cbr": soil.ratio_percent(2.5, 13.2)}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_plunger_soil(rng)
