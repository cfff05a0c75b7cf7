"""The percolation hole as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import infiltrating
from vadum.soil.bench.filling import fills_view
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote, TakesWater
from vadum.soil.contract.neighbours import Alike, Rising
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.percolation import findings as own_findings
from vadum.soil.methods.percolation import results as own_results
from vadum.soil.methods.percolation.intervals import intervals_of
from vadum.soil.methods.percolation.readings import PercolationContext, PercolationReadings, PercolationSettings
from vadum.soil.methods.percolation.reduction import reduce_percolation
from vadum.soil.methods.percolation.virtual import MISTAKES, a_percolation
from vadum.soil.physics.soaking import wall_and_base_mm_min
from vadum.soil.virtual.soaked_ground import SoakedGround, a_soaked_ground


class Percolation(Method[PercolationReadings, PercolationSettings, PercolationContext]):
    """How fast the water in a soaked hole falls, and the rate through its wall and base that follows from it."""

    code = "percolation"
    title = "Percolation hole"
    known_as = ("perc test", "drain field", "soakaway")
    place = 196
    mapped_as = "infiltration"
    takes_water = TakesWater("infiltration", ("rate_20", "rate"))
    basis = ("EPA 625/1-80-012",)
    applies_to = "location"
    set_up = ("services_located", "hole_diameter_mm", "hole_depth_mm", "base_mm", "soaked")
    headline = ("rate", "percolation", "design_mm_h", "judged")
    results = results_in(own_results)
    findings = doubts_in(own_findings, infiltrating)
    neighbours = (Alike(("fills.temperature_c",), apart=5.0), Rising("levels.fill", level=True))
    computed = (
        Computed(table="levels", key="fall_mm_h", label="fall", unit="mm/h"),
        Computed(table="levels", key="rate_mm_h", label="i", unit="mm/h"),
    )
    folds = {"levels": "fill"}
    Readings = PercolationReadings
    Settings = PercolationSettings
    Context = PercolationContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(wall_and_base_mm_min),
        SourceNote(
            gives="percolation", equation="time of the last intervals / their fall × 10 mm", source="EPA 625/1-80-012"
        ),
        SourceNote(gives="temperature", equation="i20 = i η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
    )
    steps = (
        ProcedureStep(
            text="Locate services. Dig or auger the hole to the depth of the drain, roughen its wall, clean it, 50 mm"
            " of gravel on its base.",
            readings=["services_located", "hole_diameter_mm", "hole_depth_mm", "latitude_deg", "longitude_deg"],
        ),
        ProcedureStep(
            text="Soak it: 300 mm of water kept for 4 h, then left overnight; in sand two fills that go within 10 min.",
            readings=["soaked", "water_table_m"],
        ),
        ProcedureStep(text="Fix a bar or a float, read the scale at the base of the hole.", readings=["base_mm"]),
        ProcedureStep(
            text="Fill to 150 mm above the base; read, wait 30 min (10 in sand), read, fill again, until three in a row"
            " agree.",
            readings=["levels", "fills.temperature_c"],
        ),
    )
    cautions = (
        "Services located and marked before the hole is dug.",
        "An open hole breaks legs: cover it overnight, fill it before you leave.",
        DEFER,
    )
    limits = (
        "The fall in the hole is several times the infiltration rate: most of the water goes through the wall.",
        "Wall and base are taken to drink alike under a gradient of one; a layer or a water table near changes that.",
    )

    def work_out(
        self, readings: PercolationReadings, settings: PercolationSettings, context: PercolationContext
    ) -> Reduction:
        return reduce_percolation(readings, settings)

    def run_view(
        self, readings: PercolationReadings, settings: PercolationSettings, context: PercolationContext
    ) -> dict[str, Any]:
        """Return the fills for run mode, each with its clock and its last rate."""
        says = {one.fill: f"{60 * one.steadied.mm_min:.3g} mm/h" for one in intervals_of(readings)}
        return fills_view(readings.levels, readings.fills, "rates", 3, says, "fill", towards=readings.base_mm)

    def timetable(self, readings: PercolationReadings, settings: PercolationSettings) -> list[Operation]:
        return [
            Operation(
                key="dig",
                what="Locate services, dig and clean the hole",
                due_min=0,
                tolerance_min=120,
                hands_on_min=30,
                done=readings.hole_depth_mm is not None,
                cell="hole_depth_mm",
            ),
            Operation(
                key="soak",
                what="Soak the hole, keep it full for 4 h",
                due_min=30,
                tolerance_min=240,
                hands_on_min=20,
                holds_min=960,
                done=readings.soaked is not None,
                cell="soaked",
            ),
            Operation(
                key="levels",
                what="Fill, read and fill again until three agree",
                due_min=1200,
                tolerance_min=480,
                hands_on_min=150,
                done=bool(readings.levels),
                cell="levels.0.level_mm",
            ),
        ]

    def virtual(
        self,
        soil: SoakedGround,
        settings: PercolationSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> PercolationReadings:
        return a_percolation(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: SoakedGround, settings: PercolationSettings) -> dict[str, float]:
        return {"rate_20": soil.rate_mm_h}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_soaked_ground(rng)
