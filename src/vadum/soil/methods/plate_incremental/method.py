"""Incremental plate loading as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import plate_load
from vadum.soil.bench.plate_run import PlateRun, applied, iso, plate_view
from vadum.soil.choice import labels_of
from vadum.soil.contract import by_hand
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.plate_incremental import findings as own_findings
from vadum.soil.methods.plate_incremental import results as own_results
from vadum.soil.methods.plate_incremental.advice import hold_words
from vadum.soil.methods.plate_incremental.equations import creep_line, footing_ultimate_kpa, settlement_ratio
from vadum.soil.methods.plate_incremental.readings import (
    GAUGES,
    REBOUND,
    Ended,
    Increments,
    PlateIncrementalContext,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
)
from vadum.soil.methods.plate_incremental.reduction import reduce_plate_incremental
from vadum.soil.methods.plate_incremental.stages import Stage, in_pressure, increment_kpa, stages
from vadum.soil.methods.plate_incremental.virtual import MISTAKES, a_test
from vadum.soil.virtual.plate_soil import YieldingPlateSoil, a_yielding_plate_soil

_HOUR = 60.0


class PlateIncremental(Method[PlateIncrementalReadings, PlateIncrementalSettings, PlateIncrementalContext]):
    """Settlement of a plate loaded step by step: what pressure the ground carries, and how far a footing goes down."""

    code = "plate-incremental"
    title = "Plate, increments"
    known_as = ("plate load", "plate bearing", "bearing capacity", "settlement")
    version = "5"
    place = 130
    mapped_as = "bearing"
    made_with = {"plate": {}, "gauge": {}, "pressure gauge": {}}
    basis = ("ASTM D1194", "IS 1888", "EN 1997-2 annex K")
    applies_to = "location"
    followed_at = 60
    clocked = ("rows", "ended")
    folds = {"rows": "pressure_kpa"}
    set_up = ("services_located", "footing_width_m", "estimate_kpa", "seating_kpa", "seating_released")
    headline = (
        "ultimate_kpa",
        "allowable_kpa",
        "safe_kpa",
        "footing_safe_kpa",
        "settlement_kpa",
        "largest_settlement_mm",
        "rebound_mm",
    )
    results = results_in(own_results)
    neighbours = (OwnSeries(tuple(f"rows.{gauge}" for gauge in GAUGES)),)
    findings = doubts_in(own_findings, by_hand, plate_load)
    computed = (
        Computed(table="rows", key="below_kpa", label="below plate", unit="kPa", decimals=0),
        Computed(table="rows", key="mean_mm", label="mean", unit="mm", decimals=2),
        Computed(table="rows", key="tilt_mm", label="tilt", unit="mm", decimals=2),
    )
    Readings = PlateIncrementalReadings
    Settings = PlateIncrementalSettings
    Context = PlateIncrementalContext
    mistakes = MISTAKES
    limits = (
        "The plate judges the ground to about two plate widths below it; softer layers further down are not seen.",
        "Minutes to hours of loading say nothing of consolidation in clay.",
        (
            "A small plate is not a footing: scale, a base disturbed by digging and a rising water table change both"
            " pressure and settlement."
        ),
    )
    equations = (
        SourceNote(
            gives="double tangent",
            equation=(
                "s = a + b σ through the beginning and through the end; qu where they meet, averaged over divisions"
            ),
            source="IS 1888 clause 6",
        ),
        SourceNote(
            gives="two lines in logarithms",
            equation="log s = a + b log σ, below and above the yield",
            source="De Beer (1967); IS 1888 clause 6",
        ),
        SourceNote(gives="by width", equation="σ at s = 0.1 Bp", source="EN 1997-2 annex K"),
        SourceNote.of(footing_ultimate_kpa),
        SourceNote.of(settlement_ratio),
        SourceNote.of(creep_line),
    )
    steps = (
        ProcedureStep(
            text="Dig the pit five plate widths wide to the footing's level; keep the base undisturbed and shored.",
            readings=["pit_width_m", "depth_m", "water_below_m"],
        ),
        ProcedureStep(
            text=(
                "Bed the plate, set up two to four gauges on a datum that stands free; seat with 7 kPa, release, zero."
            ),
            readings=["seating_kpa", "seating_released"],
        ),
        ProcedureStep(
            text="Load a fifth of the safe estimate; read at 1, 2.25, 4, 6.25, 9, 16, 25 min, then hourly.",
            readings=["estimate_kpa", "rows"],
        ),
        ProcedureStep(
            text="Next load when the rate is below the rule; to 25 mm, failure or three times the design pressure.",
            readings=["rows", "ended"],
        ),
        ProcedureStep(text="Unload in steps and read the rebound.", readings=["rows"]),
        ProcedureStep(
            text="Type the width of the footing, never of the pit, and the kind of ground.",
            readings=["footing_width_m", "soil"],
        ),
    )
    cautions = (
        "A loaded platform can come down: on cribs, level, nobody under it, load added evenly.",
        "Pit sides: shore or slope them, ladder at hand, spoil a metre from the edge, never alone in the pit.",
        "A jack that stands askew can fly out: plumb, centred, stand clear while pumping.",
        "Mind the headroom under beams and platform.",
        DEFER,
    )

    def loaded_area_m2(self, settings: PlateIncrementalSettings) -> float:
        return settings.area_m2

    def work_out(
        self, readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, context: PlateIncrementalContext
    ) -> Reduction:
        return reduce_plate_incremental(readings, settings)

    def run_view(
        self, readings: PlateIncrementalReadings, settings: PlateIncrementalSettings, context: PlateIncrementalContext
    ) -> dict[str, Any]:
        made = stages(in_pressure(readings, settings))
        hand = made[-1] if made else None
        before = hand.pressure_kpa if hand else 0.0
        over = readings.ended is not None or (hand is not None and hand.unloading)
        return plate_view(
            PlateRun(
                table="rows",
                figure="creep",
                gauges=[(name, f"gauge {name.split('_')[1].upper()}") for name in _gauges_in_use(readings)],
                keeps={"elapsed_min": "minutes"},
                started_at=iso(readings.stage_started_at),
                dues=list(settings.minutes),
                then_every=_HOUR,
                applied=applied(settings.area_m2, readings.piston_cm2),
                step_kpa=increment_kpa(readings.estimate_kpa, settings, before) if readings.estimate_kpa else None,
                doubles=settings.increments == Increments.DOUBLING,
                ends=labels_of(Ended),
                back=list(REBOUND),
                decision=hold_words(made, settings) if hand and hand.rows and not over else "",
                may_go=hand is None or over or hand.may_go_on(settings.rate, settings.least_hold_min),
            )
        )

    def timetable(self, readings: PlateIncrementalReadings, settings: PlateIncrementalSettings) -> list[Operation]:
        made = stages(readings)
        loaded = bool(made)
        ended = readings.ended is not None
        return [
            Operation(
                key="set-up",
                what="Dig, bed the plate, reaction, datum, seat and release",
                due_min=0,
                tolerance_min=240,
                hands_on_min=90,
                resource="plate",
                holds_min=600,
                done=readings.seating_kpa is not None or loaded,
                cell="seating_kpa",
            ),
            Operation(
                key="load",
                what="Load in increments, each held to the rule",
                due_min=90,
                tolerance_min=240,
                hands_on_min=360,
                done=ended,
                cell="rows.0.pressure_kpa",
            ),
            Operation(
                key="unload",
                what="Unload and read the rebound",
                due_min=450,
                tolerance_min=240,
                hands_on_min=30,
                done=any(stage.unloading for stage in made),
                cell="ended",
            ),
        ]

    def at_time(
        self, hidden: PlateIncrementalReadings, so_far: PlateIncrementalReadings, path: str, minutes: float
    ) -> float | None:
        """Return a gauge so far into the stage whose pressure stands on the sheet: between the virtual readings of it,
        and beyond the last of them as the ground went before."""
        table, number, name = (*path.split("."), "", "")[:3]
        if table != "rows" or name not in GAUGES or minutes <= 0:
            return None
        pressures = [row.pressure_kpa for row in so_far.rows[: int(number) + 1] if row.pressure_kpa is not None]
        known = [stage for stage in stages(hidden) if stage.rows]
        if not pressures or not known:
            return None
        back = pressures[-1] < max(pressures)
        alike = [stage for stage in known if stage.unloading == back]

        def shown(stage: Stage) -> float:
            values = [getattr(hidden.rows[i], name) for i in stage.rows]
            return float(np.interp(np.sqrt(minutes), np.sqrt(stage.minutes), values))

        held = min(alike, key=lambda stage: abs(stage.pressure_kpa - pressures[-1]))
        beyond = pressures[-1] - held.pressure_kpa
        if back or beyond <= 0 or held is not alike[-1] or len(alike) < 2:
            return shown(held)
        before = alike[-2]
        return shown(held) + beyond * (shown(held) - shown(before)) / (held.pressure_kpa - before.pressure_kpa)

    def virtual(
        self,
        soil: YieldingPlateSoil,
        settings: PlateIncrementalSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> PlateIncrementalReadings:
        return a_test(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: YieldingPlateSoil, settings: PlateIncrementalSettings) -> dict[str, float]:
        key = "ultimate_double_tangent_kpa" if soil.law == "straight" else "ultimate_logarithms_kpa"
        return {key: soil.yield_kpa}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_yielding_plate_soil(rng)


def _gauges_in_use(readings: PlateIncrementalReadings) -> list[str]:
    """Return the gauges that were read so far, one that was left out of a row too; all four before the first row."""
    return [name for name in GAUGES if any(getattr(row, name) is not None for row in readings.rows)] or list(GAUGES)
