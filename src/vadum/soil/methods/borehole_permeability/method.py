"""The borehole test as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench.filling import fills_view
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.neighbours import Alike, Rising
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.borehole_permeability import findings as own_findings
from vadum.soil.methods.borehole_permeability import results as own_results
from vadum.soil.methods.borehole_permeability.advice import run_words
from vadum.soil.methods.borehole_permeability.readings import BoreholeContext, BoreholeReadings, BoreholeSettings
from vadum.soil.methods.borehole_permeability.reduction import reduce_borehole
from vadum.soil.methods.borehole_permeability.runs import runs_of, section_of
from vadum.soil.methods.borehole_permeability.virtual import MISTAKES, a_borehole
from vadum.soil.physics.borehole import by_lag_m_s, by_slope_m_s, intake_factor_m
from vadum.soil.virtual.drilled_ground import DrilledGround, a_drilled_ground


class BoreholePermeability(Method[BoreholeReadings, BoreholeSettings, BoreholeContext]):
    """Permeability around the foot of a casing from a level that falls or rises back to rest."""

    code = "borehole-permeability"
    title = "Permeability, borehole"
    known_as = ("permeability", "hydraulic conductivity", "variable head", "slug test")
    place = 198
    basis = ("ISO 22282-2",)
    applies_to = "location"
    set_up = ("services_located", "casing_mm", "section_mm", "top_m", "base_m", "length_m", "cleaned", "rest_m")
    headline = ("k", "k_mm_h", "k_1", "k_2")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    neighbours = (Alike(("fills.temperature_c",), apart=3.0), Rising("levels.fill", level=True))
    computed = (Computed(table="levels", key="head_m", label="H", unit="m", decimals=3),)
    folds = {"levels": "fill"}
    Readings = BoreholeReadings
    Settings = BoreholeSettings
    Context = BoreholeContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(intake_factor_m),
        SourceNote.of(by_slope_m_s),
        SourceNote.of(by_lag_m_s),
        SourceNote(
            gives="velocity graph",
            equation="dH/dt = F k/A H: slope of the velocity on the head; at rest it is nothing",
            source="ISO 22282-2",
        ),
        SourceNote(gives="temperature", equation="k20 = k η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
    )
    steps = (
        ProcedureStep(
            text="Locate services. Drill, case to the section, tape the filter, clean it of cuttings and smear.",
            readings=["services_located", "casing_mm", "section_mm", "top_m", "base_m", "length_m", "cleaned"],
        ),
        ProcedureStep(
            text="Wait until the water stands; measure down to it, and down again after ten minutes.",
            readings=["rest_m", "fills.temperature_c"],
        ),
        ProcedureStep(
            text="Put clean water in, or bail it, by half a metre or more; dip at once, then after 15, 30 s, 1, 2, 4,"
            " 8 min and so on until little is left.",
            readings=["slug_l", "levels"],
        ),
        ProcedureStep(text="Wait for rest, repeat the other way.", readings=["levels.fill"]),
    )
    cautions = (
        "Services located before drilling; stay clear of rotating rods and lifted casing.",
        "Artesian water, gas or contaminated ground: stop, close the hole, tell the engineer.",
        "Clean water only; the code may ask for a permit. Seal the hole when it is done.",
        DEFER,
    )
    limits = (
        "A value of the ground around the section, mostly along its layers; smear and clogging make it low.",
        "The factor holds in uniform ground below the water table.",
    )

    def work_out(self, readings: BoreholeReadings, settings: BoreholeSettings, context: BoreholeContext) -> Reduction:
        return reduce_borehole(readings, settings)

    def run_view(
        self, readings: BoreholeReadings, settings: BoreholeSettings, context: BoreholeContext
    ) -> dict[str, Any]:
        """Return the runs for run mode, each with its clock and the head that is left."""
        section = section_of(readings, settings)
        runs = runs_of(readings)
        says = {run.fill.number: run_words(run, section, settings) for run in runs}
        return fills_view(
            readings.levels,
            readings.fills,
            "heads",
            2,
            says,
            "run",
            towards=readings.rest_m,
            reading="level_m",
            unit="m",
        )

    def timetable(self, readings: BoreholeReadings, settings: BoreholeSettings) -> list[Operation]:
        return [
            Operation(
                key="rest",
                what="Clean the section, dip the water at rest",
                due_min=0,
                tolerance_min=240,
                hands_on_min=30,
                done=readings.rest_m is not None,
                cell="rest_m",
            ),
            Operation(
                key="levels",
                what="Put water in or bail it, dip until little of the head is left",
                due_min=60,
                tolerance_min=240,
                hands_on_min=90,
                done=bool(readings.levels),
                cell="levels.0.level_m",
            ),
        ]

    def virtual(
        self,
        soil: DrilledGround,
        settings: BoreholeSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> BoreholeReadings:
        return a_borehole(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: DrilledGround, settings: BoreholeSettings) -> dict[str, float]:
        return {"k": soil.k_m_s}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_drilled_ground(rng)
