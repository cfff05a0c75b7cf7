"""The double ring as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import infiltrating
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote, TakesWater
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.double_ring import findings as own_findings
from vadum.soil.methods.double_ring import results as own_results
from vadum.soil.methods.double_ring.readings import RingContext, RingReadings, RingSettings
from vadum.soil.methods.double_ring.reduction import reduce_double_ring
from vadum.soil.methods.double_ring.virtual import MISTAKES, a_double_ring
from vadum.soil.physics.soaking import ring_velocity_mm_min
from vadum.soil.virtual.soaked_ground import SoakedGround, a_soaked_ground


class DoubleRing(Method[RingReadings, RingSettings, RingContext]):
    """The rate at which the ground takes water under two rings kept full, by the inner one."""

    code = "double-ring"
    title = "Infiltration, double ring"
    known_as = ("infiltrometer", "infiltration rate", "soakage")
    place = 185
    mapped_as = "infiltration"
    takes_water = TakesWater("infiltration", ("rate_20", "rate"))
    made_with = {"ring": {}}
    basis = ("ASTM D3385",)
    applies_to = "location"
    set_up = (
        "services_located",
        "inner_mm",
        "outer_mm",
        "inner_driven_mm",
        "outer_driven_mm",
        "sealed",
        "inner_head_mm",
        "outer_head_mm",
    )
    headline = ("rate", "design_mm_h", "judged")
    results = results_in(own_results)
    neighbours = (OwnSeries(("readings.inner_mm", "readings.outer_mm")),)
    findings = doubts_in(own_findings, infiltrating)
    computed = (
        Computed(table="readings", key="inner_mm_h", label="inner", unit="mm/h"),
        Computed(table="readings", key="outer_mm_h", label="between", unit="mm/h"),
    )
    Readings = RingReadings
    Settings = RingSettings
    Context = RingContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(ring_velocity_mm_min),
        SourceNote(gives="temperature", equation="i20 = i η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
    )
    steps = (
        ProcedureStep(
            text="Locate services. Choose level ground without cracks; note its position.",
            readings=["services_located", "latitude_deg", "longitude_deg", "water_table_m"],
        ),
        ProcedureStep(
            text="Drive the outer ring, then the inner one in its middle, level, with a plate and a heavy hammer; press"
            " the soil to the rims.",
            readings=["inner_mm", "outer_mm", "ring_cm2", "inner_driven_mm", "outer_driven_mm", "sealed"],
        ),
        ProcedureStep(
            text="Lay a splash guard, fill both to one level between 25 and 150 mm, and keep it there.",
            readings=["inner_head_mm", "outer_head_mm", "inner_tube_cm2", "outer_tube_cm2", "temperature_c"],
        ),
        ProcedureStep(
            text="Read every 15 min in the first hour, every 30 min in the second, then hourly, six hours or until it"
            " is steady.",
            readings=["readings"],
        ),
    )
    cautions = (
        "Services located before the rings are driven; drive with a plate across, hands off the rim, eye protection.",
        "Water is heavy: a test takes hundreds of litres; carry 10 L at a time.",
        "Keep people and cattle away from open rings.",
        DEFER,
    )
    limits = (
        "A point's value at the surface; crust, cracks and layers below decide, and one ring sees one of them.",
        "Below 0.04 mm/h and above 36 m/h the standard is not meant to be used.",
    )

    def work_out(self, readings: RingReadings, settings: RingSettings, context: RingContext) -> Reduction:
        return reduce_double_ring(readings, settings)

    def timetable(self, readings: RingReadings, settings: RingSettings) -> list[Operation]:
        return [
            Operation(
                key="drive",
                what="Locate services, drive both rings",
                due_min=0,
                tolerance_min=120,
                hands_on_min=30,
                done=readings.inner_area_cm2 is not None,
                cell="inner_mm",
            ),
            Operation(
                key="levels",
                what="Fill both, read until steady",
                due_min=40,
                tolerance_min=120,
                hands_on_min=60,
                holds_min=60 * settings.least_hours,
                done=bool(readings.readings),
                cell="readings.0.elapsed_min",
            ),
        ]

    def virtual(
        self,
        soil: SoakedGround,
        settings: RingSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> RingReadings:
        return a_double_ring(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: SoakedGround, settings: RingSettings) -> dict[str, float]:
        return {"rate_20": soil.rate_mm_h}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_soaked_ground(rng)
