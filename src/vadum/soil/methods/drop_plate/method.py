"""The light drop-weight plate as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.limit import Limit
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.neighbours import Once
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.drop_plate import findings as own_findings
from vadum.soil.methods.drop_plate import results as own_results
from vadum.soil.methods.drop_plate.readings import (
    MEASURED,
    SEATING,
    SPEEDS,
    DropPlateContext,
    DropPlateReadings,
    DropPlateSettings,
)
from vadum.soil.methods.drop_plate.reduction import reduce_drop_plate
from vadum.soil.physics.drop_plate import dynamic_modulus_mpa, settlement_over_velocity_ms
from vadum.soil.virtual.rolled_lift import RolledLift, a_rolled_lift

_PLACES, _RATIO_MS = 5, 2.4


class DropPlate(Method[DropPlateReadings, DropPlateSettings, DropPlateContext]):
    """A weight that falls on a plate: how far the ground gives, in a minute and without a vehicle."""

    code = "drop-plate"
    title = "Plate, drop weight"
    known_as = ("dynamic plate", "light weight deflectometer", "evd", "lwd")
    place = 135
    mapped_as = "bearing"
    made_with = {"drop plate": {}}
    basis = ("TP BF-StB part B 8.3", "ASTM E2835")
    applies_to = "location"
    set_up = ("excavated", "level", "largest_particle_mm")
    limits_asked = (Limit(("evd", "evd_{number}"), "required_evd_mpa", "least"),)
    headline = ("evd", "evd_least", "spread_percent", "judgement")
    results = results_in(own_results)
    neighbours = (Once("places.place"),)
    findings = doubts_in(own_findings)
    computed = (Computed(table="places", key="evd_mpa", label="Evd", unit="MPa", decimals=1),)
    Readings = DropPlateReadings
    Settings = DropPlateSettings
    Context = DropPlateContext
    mistakes = {
        "compacting": "the ground compacts under the drops of the second place",
        "hundredths": "the settlements of the third place are typed in hundredths",
        "hollow": "the plate lies on a hollow",
        "crust": "the dried crust is left on",
        "coarse": "the plate is small for the grains",
        "soft-spot": "the fourth place is a wet spot",
    }
    equations = (SourceNote.of(dynamic_modulus_mpa), SourceNote.of(settlement_over_velocity_ms))
    steps = (
        ProcedureStep(text="Take off the loose or dried top; thin sand where it is rough.", readings=["excavated"]),
        ProcedureStep(text="Lay the plate on all its face, turn it in; guide rod plumb.", readings=["level"]),
        ProcedureStep(
            text="Three drops to seat it: catch the weight after each rebound.",
            readings=[f"places.{key}" for key in SEATING],
        ),
        ProcedureStep(
            text="Three drops that count: read each settlement.", readings=[f"places.{key}" for key in MEASURED]
        ),
        ProcedureStep(text="Move on; say when all places are tested.", readings=["places.place", "finished"]),
    )
    cautions = (
        "A falling weight crushes: hands off the rod's foot, catch the weight by its grips, lock it before moving.",
        "Lift with the legs; carry the parts one by one.",
        "Traffic and rollers: cones, vest, a second person who watches.",
        DEFER,
    )
    limits = (
        "It feels some 0.4 m below the plate and the water of the day: dry crusts read high.",
        "Evd is no Ev2: a relation between them holds for one soil and one site.",
    )

    def work_out(
        self, readings: DropPlateReadings, settings: DropPlateSettings, context: DropPlateContext
    ) -> Reduction:
        return reduce_drop_plate(readings, settings, guards=context.guarded)

    def timetable(self, readings: DropPlateReadings, settings: DropPlateSettings) -> list[Operation]:
        return [
            Operation(
                key="drop",
                what="Seat the plate, three drops that count, at each place",
                due_min=0,
                tolerance_min=120,
                hands_on_min=20,
                done=readings.finished == "yes",
                cell="places.0.place",
            )
        ]

    def virtual(
        self,
        soil: RolledLift,
        settings: DropPlateSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> DropPlateReadings:
        mistakes = self.plant(mistakes)
        radius = settings.diameter_mm / 2
        rows: list[dict[str, Any]] = []
        # Places scatter about the lift's modulus and their mean is it.
        shares = 1 + soil.scatter * rng.uniform(-1, 1, _PLACES)
        for number, share in enumerate(shares / shares.mean(), 1):
            here = soil.evd_mpa * float(share) * (0.3 if "soft-spot" in mistakes and number == 4 else 1.0)
            drops = soil.drops_mm(here, 6, radius, settings.pressure_kpa)
            if "compacting" in mistakes and number == 2:
                drops = [s * (1.5 - 0.12 * k) for k, s in enumerate(drops)]
            read = [round(s + float(rng.normal(0, 0.002)), 2) for s in drops]
            row: dict[str, Any] = {"place": f"0+{20 * number:03d}"}
            row |= dict(zip((*SEATING, *MEASURED), read, strict=True))
            if settings.velocity:
                row |= {key: round(1000 * s / _RATIO_MS, 1) for key, s in zip(SPEEDS, read[3:], strict=True)}
            if "hundredths" in mistakes and number == 3:
                row |= {key: round(100 * row[key]) for key in MEASURED}
            rows.append(row)
        return DropPlateReadings.model_validate(
            {
                "places": rows,
                "largest_particle_mm": 110.0 if "coarse" in mistakes else 32.0,
                "level": "no" if "hollow" in mistakes else "yes",
                "excavated": "no" if "crust" in mistakes else "yes",
                "finished": "yes",
            }
        )

    def truth(self, soil: RolledLift, settings: DropPlateSettings) -> dict[str, float]:
        return {"evd": soil.evd_mpa}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_rolled_lift(rng)
