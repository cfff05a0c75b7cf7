"""Inspection of the percussion cup: fit, adjust or replace."""

from typing import Any

import numpy as np

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding, doubts_in
from vadum.soil.contract.method import Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.cup_inspection import findings as own_findings
from vadum.soil.methods.cup_inspection import results as own_results
from vadum.soil.methods.cup_inspection.findings import (
    BASE_REBOUND,
    BASE_WORN,
    CUP_LIFTS,
    CUP_SILENT,
    CUP_THIN,
    CUP_WORN,
    DROP_WRONG,
    FOOT_MISSING,
    GROOVE_WORN,
    TOOL_TIP,
    WALL_THIN,
)
from vadum.soil.methods.cup_inspection.readings import (
    CupInspectionContext,
    CupInspectionReadings,
    CupInspectionSettings,
    GaugeBlock,
    Wall,
    WornGroove,
)
from vadum.soil.methods.cup_inspection.results import DROP_HEIGHT, VERDICT

DROP_MM = 10.0
TOOL_TIP_MM, TOOL_TIP_TOLERANCE_MM = 2.0, 0.1
REBOUND_PERCENT = (77.0, 90.0)
BASIS = "ASTM D4318 clauses 6 and 11"
# What an inspection says, by the readings of which one is enough.
_REQUIRED = {
    ("gauge_block", "drop_height_mm"): (
        "Set the gauge block under the cup at the worn spot, turn the crank to and fro: does it ping, lift, or neither?"
    ),
    ("contact_spot_cup_mm",): "Measure the worn spot on the cup.",
    ("groove_in_cup",): "Run a finger along the inside of the cup: is a groove felt?",
    ("wall", "thickness_percent"): "Look at the cup's thinnest wall: more than half of a new one, or less?",
    ("feet",): "Count the feet under the base.",
    ("tool_tip_mm",): "Measure the tip of the grooving tool.",
}
_BY_BLOCK = {GaugeBlock.LIFTS: CUP_LIFTS, GaugeBlock.SILENT: CUP_SILENT}


class CupInspection(Method[CupInspectionReadings, CupInspectionSettings, CupInspectionContext]):
    """Daily inspection of a liquid-limit device."""

    code = "cup-inspection"
    reported_as_found = True
    title = "Cup inspection"
    known_as = ("cup check", "drop height")
    place = 230
    inspects = "cup"
    basis = ("ASTM D4318",)
    applies_to = "equipment"
    headline = ("verdict", "drop_height")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    Readings = CupInspectionReadings
    Settings = CupInspectionSettings
    Context = CupInspectionContext
    mistakes = {
        "drop-too-high": "the drop stands at 10.6 mm",
        "lifts": "the cup lifts off the gauge block",
        "worn-cup": "a groove is felt in the cup",
        "foot-missing": "one foot is gone",
    }
    equations = (
        SourceNote(gives="drop", equation="10 ± 0.2 mm at the worn contact point", source="ASTM D4318 clause 11"),
        SourceNote(
            gives="wear", equation="contact spots ≤ 13 mm, wall ≥ half, no groove felt", source="ASTM D4318 clause 6"
        ),
    )
    steps = (
        ProcedureStep(
            text="Gauge block under the cup at the worn contact point, crank to and fro: it pings and does not lift.",
            readings=["gauge_block", "drop_height_mm"],
        ),
        ProcedureStep(
            text="Measure the worn spot on the cup, and on the base when it looks worn.",
            readings=["contact_spot_cup_mm", "contact_spot_base_mm"],
        ),
        ProcedureStep(
            text="Feel for a groove and look at the wall of the cup.",
            readings=["groove_in_cup", "wall", "thickness_percent"],
        ),
        ProcedureStep(
            text="Count the feet, measure the tool's tip; now and then check the base's rebound.",
            readings=["feet", "tool_tip_mm", "base_rebound_percent"],
        ),
    )
    cautions = (
        "Keep fingers from under the cup while the crank turns.",
        "Follow the laboratory's own rules for equipment out of order.",
    )

    def work_out(
        self, readings: CupInspectionReadings, settings: CupInspectionSettings, context: CupInspectionContext
    ) -> Reduction:
        worn, adjust = _wear(readings, settings), _adjustments(readings, settings)
        missing = [
            words for names, words in _REQUIRED.items() if all(getattr(readings, name) is None for name in names)
        ]
        result = Reduction(findings=[*worn, *adjust], complete=not missing or bool(worn))
        if worn:
            word = "replace"
        elif adjust:
            word = "adjust"
        else:
            word = "" if missing else "fit"
        if word:
            result.parameters.append(VERDICT.word(word))
        if readings.drop_height_mm is not None:
            result.parameters.append(DROP_HEIGHT.of(readings.drop_height_mm))
            result.derivation.append(
                Step(
                    symbol="h",
                    formula="10 ± tolerance",
                    put_in=f"10 ± {settings.drop_tolerance_mm:g} against {readings.drop_height_mm:g}",
                    result=(
                        "within"
                        if abs(readings.drop_height_mm - DROP_MM) <= settings.drop_tolerance_mm + 1e-9
                        else "outside"
                    ),
                    unit="mm",
                    basis=BASIS,
                )
            )
        result.next_step = missing[0] if missing else ""
        result.afterwards = "The cup is fit. Use it today."
        return result

    def timetable(self, readings: CupInspectionReadings, settings: CupInspectionSettings) -> list[Operation]:
        return [
            Operation(
                key="inspect",
                what="Inspect the cup before the first trial of the day",
                due_min=0,
                tolerance_min=0,
                hands_on_min=5,
                resource="cup",
            )
        ]

    def virtual(
        self,
        soil: Any,
        settings: CupInspectionSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> CupInspectionReadings:
        mistakes = self.plant(mistakes)
        drop = 10.6 if "drop-too-high" in mistakes else round(10 + float(rng.uniform(-0.1, 0.1)), 1)
        # The block or a measure: one of the two is enough, and one is what is done of a morning.
        by_block = "lifts" in mistakes
        return CupInspectionReadings(
            gauge_block=GaugeBlock.LIFTS if by_block else None,
            drop_height_mm=None if by_block else drop,
            contact_spot_cup_mm=round(float(rng.uniform(4, 10)) * 2) / 2,
            contact_spot_base_mm=round(float(rng.uniform(4, 10)) * 2) / 2,
            groove_in_cup=WornGroove.FELT if "worn-cup" in mistakes else WornGroove.NONE,
            wall=Wall.MORE,
            thickness_percent=round(float(rng.uniform(75, 98))),
            feet=3 if "foot-missing" in mistakes else 4,
            tool_tip_mm=2.0,
        )

    def a_soil(self, rng: np.random.Generator) -> None:
        """Return nothing: an inspection needs no soil."""


def _wear(readings: CupInspectionReadings, settings: CupInspectionSettings) -> list[Finding]:
    findings = []
    if readings.groove_in_cup == WornGroove.FELT:
        findings.append(GROOVE_WORN.at("groove_in_cup"))
    for name, worn in (("contact_spot_cup_mm", CUP_WORN), ("contact_spot_base_mm", BASE_WORN)):
        spot = getattr(readings, name)
        if spot is not None and spot > settings.widest_spot_mm:
            findings.append(worn.at(name, spot=spot, widest_spot_mm=settings.widest_spot_mm))
    thickness = readings.thickness_percent
    if thickness is not None and thickness < settings.least_thickness_percent:
        findings.append(CUP_THIN.at("thickness_percent", thickness=thickness))
    elif readings.wall == Wall.LESS:
        findings.append(WALL_THIN.at("wall"))
    return findings


def _adjustments(readings: CupInspectionReadings, settings: CupInspectionSettings) -> list[Finding]:
    findings = []
    drop = readings.drop_height_mm
    if drop is not None and abs(drop - DROP_MM) > settings.drop_tolerance_mm + 1e-9:
        findings.append(DROP_WRONG.at("drop_height_mm", drop=drop, drop_tolerance_mm=settings.drop_tolerance_mm))
    elif readings.gauge_block in _BY_BLOCK:
        findings.append(_BY_BLOCK[readings.gauge_block].at("gauge_block"))
    if readings.feet is not None and readings.feet < 4:
        findings.append(FOOT_MISSING.at("feet", feet=readings.feet))
    tip = readings.tool_tip_mm
    if tip is not None and abs(tip - TOOL_TIP_MM) > TOOL_TIP_TOLERANCE_MM + 1e-9:
        findings.append(TOOL_TIP.at("tool_tip_mm", tip=tip))
    rebound = readings.base_rebound_percent
    if rebound is not None and not REBOUND_PERCENT[0] <= rebound <= REBOUND_PERCENT[1]:
        findings.append(BASE_REBOUND.at("base_rebound_percent", rebound=rebound))
    return findings
