"""The dynamic cone as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.dynamic_cone import findings as own_findings
from vadum.soil.methods.dynamic_cone import results as own_results
from vadum.soil.methods.dynamic_cone.readings import (
    DynamicConeContext,
    DynamicConeReadings,
    DynamicConeSettings,
    Ended,
    Rule,
)
from vadum.soil.methods.dynamic_cone.reduction import reduce_dynamic_cone
from vadum.soil.physics.dynamic_cone import HAMMER_FACTOR, cone_ratio_percent
from vadum.soil.virtual.layered_ground import LayeredGround, a_layered_ground

_ROW_MM = 25.0


class DynamicCone(Method[DynamicConeReadings, DynamicConeSettings, DynamicConeContext]):
    """A cone driven by a falling hammer: layers by their penetration per blow, and a bearing ratio of each."""

    code = "dynamic-cone"
    title = "Dynamic cone"
    known_as = ("penetrometer", "dcp", "cone penetration", "probing")
    version = "2"
    place = 113
    mapped_as = "bearing"
    made_with = {"dynamic cone": {}}
    basis = ("ASTM D6951", "Overseas Road Note 8", "Kleyn (1975)")
    applies_to = "location"
    set_up = ("services_located", "start_m", "zero_mm", "cone_mm")
    headline = ("cbr_softest", "layers", "depth_reached")
    results = results_in(own_results)
    findings = doubts_in(own_findings)
    computed = (
        Computed(table="blows", key="depth_m", label="depth", unit="m", decimals=2),
        Computed(table="blows", key="per_blow_mm", label="a blow", unit="mm", decimals=1),
    )
    Readings = DynamicConeReadings
    Settings = DynamicConeSettings
    Context = DynamicConeContext
    mistakes = {
        "miscounted": "half the blows of one row are forgotten",
        "rule-slipped": "the rule is knocked down by 60 mm",
        "centimetres": "the rule is typed in centimetres",
        "services": "nobody located the services",
        "worn": "the cone is worn",
        "leaning": "the rod leans",
        "coarse": "the rule is read each 150 mm",
    }
    equations = (
        SourceNote.of(cone_ratio_percent),
        SourceNote(gives="penetration per blow", equation="slope of depth over blows, by layer", source="ASTM D6951"),
        SourceNote(gives="hammer", equation="d (8 kg) = 2 d (4.6 kg)", source="ASTM D6951 clause 4"),
    )
    steps = (
        ProcedureStep(
            text="Locate services; look at the cone: sharp, at least 18 mm across.",
            readings=["services_located", "cone_mm"],
        ),
        ProcedureStep(
            text="Set the cone in to its shoulder with light blows, hold the rod plumb, read the rule.",
            readings=["start_m", "zero_mm"],
        ),
        ProcedureStep(
            text="Lift the hammer to its stop, let it fall free; count, read the rule each 10 to 50 mm.",
            readings=["blows.blows", "blows.rule_mm"],
        ),
        ProcedureStep(text="Say why it ended; go in again a metre beside a stone.", readings=["ended", "upright"]),
    )
    cautions = (
        "Cables and pipes: located before anything is driven into the ground.",
        "Fingers away from anvil and hammer; one holds the rod, the other lifts: agree who counts.",
        "Back straight: lift the hammer with the legs, change over, gloves and ear protection on hard ground.",
        "Traffic: cones, vest, a second person who watches.",
        DEFER,
    )
    limits = (
        "The bearing ratio is that of the ground as it is: wetter ground is softer.",
        "Relations to CBR scatter by half their value; stones above 50 mm and cemented layers are not tested this way.",
    )

    def work_out(
        self, readings: DynamicConeReadings, settings: DynamicConeSettings, context: DynamicConeContext
    ) -> Reduction:
        return reduce_dynamic_cone(readings, settings)

    def timetable(self, readings: DynamicConeReadings, settings: DynamicConeSettings) -> list[Operation]:
        driven = any(row.rule_mm is not None for row in readings.blows)
        return [
            Operation(
                key="drive",
                what="Locate services, drive the cone, count and read",
                due_min=0,
                tolerance_min=120,
                hands_on_min=25,
                done=driven and readings.ended is not None,
                cell="blows.0.blows",
            )
        ]

    def virtual(
        self,
        soil: LayeredGround,
        settings: DynamicConeSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> DynamicConeReadings:
        mistakes = self.plant(mistakes)
        factor, way = HAMMER_FACTOR[settings.hammer], 1.0 if settings.rule == Rule.UP else -1.0
        zero = float(round(float(rng.uniform(20, 90)))) + (0.0 if way > 0 else 1000.0)
        wanted = 150.0 if "coarse" in mistakes else _ROW_MM
        rows: list[dict[str, Any]] = []
        depth, per_blow = 0.0, soil.layers[0][1] / factor
        while depth < soil.deep_mm - 0.6 * _ROW_MM:
            blows = max(1, round(wanted / per_blow))
            before = depth
            for _ in range(blows):
                depth = soil.after(depth, factor)
            per_blow = (depth - before) / blows
            rows.append({"blows": blows, "rule_mm": float(round(zero + way * depth))})
        if "miscounted" in mistakes and len(rows) > 2:
            # Where two rows count many blows, a slip of the count is of one row.
            k = max(range(1, len(rows) - 1), key=lambda k: min(row["blows"] for row in rows[k - 1 : k + 2]))
            rows[k]["blows"] = max(1, round(rows[k]["blows"] / 3))
        if "rule-slipped" in mistakes:
            for row in rows[len(rows) // 2 :]:
                row["rule_mm"] -= way * 60
        if "centimetres" in mistakes:
            zero, rows = zero / 10, [row | {"rule_mm": row["rule_mm"] / 10} for row in rows]
        return DynamicConeReadings.model_validate(
            {
                "services_located": "no" if "services" in mistakes else "yes",
                "start_m": 0.0,
                "zero_mm": zero,
                "cone_mm": 16.5 if "worn" in mistakes else 19.8,
                "blows": rows,
                "upright": "no" if "leaning" in mistakes else "yes",
                "ended": Ended.DEPTH,
            }
        )

    def truth(self, soil: LayeredGround, settings: DynamicConeSettings) -> dict[str, float]:
        softest = max(per_blow for _, per_blow in soil.layers)
        return {"cbr_softest": cone_ratio_percent(softest, settings.relation)}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_layered_ground(rng)
