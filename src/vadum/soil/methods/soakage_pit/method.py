"""The soakage pit as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import infiltrating
from vadum.soil.bench.filling import fills_view
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote, TakesWater
from vadum.soil.contract.neighbours import Alike, Rising
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.soakage_pit import findings as own_findings
from vadum.soil.methods.soakage_pit import results as own_results
from vadum.soil.methods.soakage_pit.advice import water_words
from vadum.soil.methods.soakage_pit.emptying import emptyings, pit_of
from vadum.soil.methods.soakage_pit.readings import PitContext, PitReadings, PitSettings
from vadum.soil.methods.soakage_pit.reduction import reduce_soakage_pit
from vadum.soil.methods.soakage_pit.virtual import MISTAKES, a_pit, rate_by_rule
from vadum.soil.physics.soaking import soakage_m_s
from vadum.soil.virtual.soaked_ground import SoakedGround, a_soaked_ground


class SoakagePit(Method[PitReadings, PitSettings, PitContext]):
    """The rate at which a pit filled with water soaks away, by the slowest of its fills."""

    code = "soakage-pit"
    title = "Soakage pit"
    known_as = ("soakaway", "infiltration test", "trial pit soakage")
    place = 194
    mapped_as = "infiltration"
    takes_water = TakesWater("infiltration", ("rate_20", "rate"))
    basis = ("BRE Digest 365 (2016)",)
    applies_to = "location"
    set_up = ("services_located", "length_mm", "width_mm", "base_mm", "full_mm")
    headline = ("rate_m_s", "rate", "design_mm_h", "judged", "bound")
    results = results_in(own_results)
    findings = doubts_in(own_findings, infiltrating)
    neighbours = (Alike(("fills.temperature_c",), apart=5.0), Rising("levels.fill", level=True))
    computed = (Computed(table="levels", key="water_mm", label="water", unit="mm", decimals=0),)
    folds = {"levels": "fill"}
    Readings = PitReadings
    Settings = PitSettings
    Context = PitContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(soakage_m_s),
        SourceNote(gives="volume", equation="V = h/6 (A0 + 4 A½ + A1) × voids", source="prismatoid; sides may lean"),
        SourceNote(gives="temperature", equation="f20 = f η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
    )
    steps = (
        ProcedureStep(
            text="Locate services. Dig to the depth of the soakaway, upright sides, 300 mm to 1 m wide and 1 to 3 m"
            " long; in ground that falls in, fill it with clean stone around a tube.",
            readings=["services_located", "length_mm", "width_mm", "top_length_mm", "top_width_mm", "voids_percent"],
        ),
        ProcedureStep(
            text="Lay a bar across; measure from it down to the base and to the level of the drain.",
            readings=["base_mm", "full_mm", "ground", "latitude_deg", "longitude_deg"],
        ),
        ProcedureStep(
            text="Fill it fast to the drain's level; read often at first, until it is nearly empty.",
            readings=["filled_l", "levels", "fills.temperature_c"],
        ),
        ProcedureStep(text="Fill it twice more, on the same day or on the next ones.", readings=["levels.fill"]),
    )
    cautions = (
        "Nobody goes into the pit: measure from above; sides fall in without a warning, wet ones sooner.",
        "Services located and marked before the digger starts; stay out of its swing.",
        "Fence it, cover it overnight, fill it before you leave: full of water it drowns.",
        DEFER,
    )
    limits = (
        "The value of one pit at its depth; a long soakaway needs one every 25 m or so.",
        "The season's highest water table is not in it: the code asks for a distance to it.",
    )

    def work_out(self, readings: PitReadings, settings: PitSettings, context: PitContext) -> Reduction:
        return reduce_soakage_pit(readings, settings)

    def run_view(self, readings: PitReadings, settings: PitSettings, context: PitContext) -> dict[str, Any]:
        """Return the fills for run mode, each with its clock and its water."""
        says = {one.fill.number: water_words(one) for one in emptyings(readings, pit_of(readings, settings))}
        return fills_view(readings.levels, readings.fills, "water", settings.fills_needed, says, "fill", way="rises")

    def timetable(self, readings: PitReadings, settings: PitSettings) -> list[Operation]:
        return [
            Operation(
                key="dig",
                what="Locate services, dig and measure the pit",
                due_min=0,
                tolerance_min=120,
                hands_on_min=60,
                done=readings.base_mm is not None,
                cell="base_mm",
            ),
            Operation(
                key="levels",
                what=f"Fill it {settings.fills_needed} times, read until nearly empty",
                due_min=60,
                tolerance_min=240,
                hands_on_min=60 * settings.fills_needed,
                done=bool(readings.levels),
                cell="levels.0.level_mm",
            ),
        ]

    def virtual(
        self,
        soil: SoakedGround,
        settings: PitSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> PitReadings:
        return a_pit(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: SoakedGround, settings: PitSettings) -> dict[str, float]:
        return {"rate_20": rate_by_rule(soil.rate_mm_h)}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_soaked_ground(rng)
