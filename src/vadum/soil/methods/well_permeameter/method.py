"""The well permeameter as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench.levels import Series, iso, levels_view, read_of
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote, TakesWater
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.well_permeameter import findings as own_findings
from vadum.soil.methods.well_permeameter import results as own_results
from vadum.soil.methods.well_permeameter.rates import heads_of, rate_words
from vadum.soil.methods.well_permeameter.readings import Scale, WellContext, WellReadings, WellSettings
from vadum.soil.methods.well_permeameter.reduction import reduce_well
from vadum.soil.methods.well_permeameter.virtual import MISTAKES, a_well
from vadum.soil.physics.constant_head import infiltration_by_relation_mm_h, one_head_cm_min, shape_factor, two_heads
from vadum.soil.virtual.augered_ground import AugeredGround, an_augered_ground


class WellPermeameter(Method[WellReadings, WellSettings, WellContext]):
    """Conductivity of the ground around a hole in which the water is kept at one height."""

    code = "well-permeameter"
    title = "Permeability, auger hole"
    known_as = ("permeability", "hydraulic conductivity", "constant head")
    place = 190
    mapped_as = "infiltration"
    takes_water = TakesWater("conductivity", ("kfs",))
    made_with = {"permeameter": {}}
    basis = ("Reynolds and Elrick (1986)",)
    applies_to = "location"
    set_up = ("utilities", "hole_diameter_mm", "hole_depth_mm", "brushed", "head_1_mm", "reservoir", "temperature_c")
    headline = ("kfs", "design_mm_h", "judged", "kfs_two", "kfs_1", "kfs_2", "alpha")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    computed = (Computed(table="levels", key="rate_mm_min", label="rate", unit="mm/min", decimals=2),)
    folds = {"levels": "head"}
    Readings = WellReadings
    Settings = WellSettings
    Context = WellContext
    mistakes = MISTAKES
    equations = (
        SourceNote(gives="flow", equation="Q = steady rate × section of the reservoir", source="mass balance"),
        SourceNote.of(shape_factor),
        SourceNote.of(one_head_cm_min),
        SourceNote.of(two_heads),
        SourceNote.of(infiltration_by_relation_mm_h),
        SourceNote(gives="temperature", equation="Kfs20 = Kfs η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
    )
    steps = (
        ProcedureStep(text="Locate the utilities before breaking ground.", readings=["utilities"]),
        ProcedureStep(
            text="Auger the hole, brush the smear off its wall, measure diameter and depth.",
            readings=[
                "hole_diameter_mm",
                "hole_radius_mm",
                "hole_depth_mm",
                "brushed",
                "latitude_deg",
                "longitude_deg",
            ],
        ),
        ProcedureStep(
            text="Fill the reservoir, hang the outlet for the first head, choose the tube by the soil.",
            readings=["head_1_mm", "head_2_mm", "reservoir", "reservoir_2", "inner_cm2", "combined_cm2", "reach_mm"],
        ),
        ProcedureStep(
            text="Open the valve; read the level every 1 to 2 min, slower in clay, until the last rates agree.",
            readings=["levels", "temperature_c"],
        ),
        ProcedureStep(text="Raise to the second head and go on.", readings=["levels.head"]),
        ProcedureStep(text="Close the valve, backfill the hole.", readings=["water_table_m"]),
    )
    cautions = (
        "Utilities located and marked before the auger goes in.",
        "An open hole breaks legs: cover it, backfill it before you leave.",
        "Auger with the legs, two persons in stiff ground; gloves.",
        DEFER,
    )
    limits = (
        "A point's value around one hole; layers and cracks are averaged in a way nobody sees.",
        "A design needs several holes at the level of its base, and the distance to the water table its code asks for.",
    )

    def work_out(self, readings: WellReadings, settings: WellSettings, context: WellContext) -> Reduction:
        return reduce_well(readings, settings)

    def run_view(self, readings: WellReadings, settings: WellSettings, context: WellContext) -> dict[str, Any]:
        """Return the heads for run mode, each with its clock and whether its rate is steady."""
        names = {1: "head 1"} | ({2: "head 2"} if readings.head_2_mm else {})
        made = {head.number: head for head in heads_of(readings, settings)}
        found = []
        for k, name in names.items():
            mine = [(i, r) for i, n, r in numbered(readings.levels, "head") if n == k and r.used]
            at = readings.head_1_started_at if k == 1 else readings.head_2_started_at
            found.append(
                Series(
                    number=k,
                    name=name,
                    clock=f"head_{k}_started_at",
                    startedAt=iso(at),
                    read=read_of([(i, r.elapsed_min, r.level_mm) for i, r in mine]),
                    says=rate_words(made.get(k), settings),
                    way="rises" if settings.scale == Scale.RISES else "falls",
                )
            )
        return levels_view("levels", "head", "level_mm", "level", "rates", found)

    def timetable(self, readings: WellReadings, settings: WellSettings) -> list[Operation]:
        return [
            Operation(
                key="auger",
                what="Locate utilities, auger and brush the hole",
                due_min=0,
                tolerance_min=120,
                hands_on_min=30,
                done=readings.radius_mm is not None,
                cell="utilities",
            ),
            Operation(
                key="levels",
                what="Open the valve, read levels until steady",
                due_min=30,
                tolerance_min=120,
                hands_on_min=60,
                done=bool(readings.levels),
                cell="levels.0.level_mm",
            ),
        ]

    def virtual(
        self,
        soil: AugeredGround,
        settings: WellSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> WellReadings:
        return a_well(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: AugeredGround, settings: WellSettings) -> dict[str, float]:
        return {"kfs": soil.kfs_mm_h}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return an_augered_ground(rng)
