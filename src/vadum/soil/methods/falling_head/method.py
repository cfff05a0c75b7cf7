"""The falling head as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import infiltrating
from vadum.soil.bench.levels import Series, iso, levels_view, read_of
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.logged import Logged
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote, TakesWater
from vadum.soil.contract.neighbours import Alike, Counted, Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.rows import Parts, numbered
from vadum.soil.methods.falling_head import findings as own_findings
from vadum.soil.methods.falling_head import results as own_results
from vadum.soil.methods.falling_head.readings import (
    MOST_CYLINDERS,
    FallingHeadContext,
    FallingHeadReadings,
    FallingHeadSettings,
)
from vadum.soil.methods.falling_head.reduction import reduce_falling_head
from vadum.soil.methods.falling_head.virtual import MISTAKES, a_falling_head
from vadum.soil.physics.falling_fit import fit_falling_head
from vadum.soil.physics.falling_head import Cylinder, geometric_mean, water_deficit
from vadum.soil.virtual.thirsty_ground import ThirstyGround, a_thirsty_ground


class FallingHead(Method[FallingHeadReadings, FallingHeadSettings, FallingHeadContext]):
    """Conductivity of the ground from water falling in cylinders driven into it."""

    code = "falling-head"
    title = "Infiltration, falling head"
    known_as = ("infiltrometer", "permeability", "hydraulic conductivity")
    version = "3"
    place = 180
    mapped_as = "infiltration"
    takes_water = TakesWater("conductivity", ("ks_{number}",), "cylinders", "cylinder")
    made_with = {"cylinder": {}}
    basis = ("ASTM D8152",)
    applies_to = "location"
    set_up = ("services_located", "radius_mm", "embedded_mm", "sealed", "scour_plate")
    parts = Parts("cylinders", "cylinder")
    headline = ("ks_site", "spread", "design_mm_h", "judged", "ks_1", "suction_1", "ks_2", "ks_3")
    results = results_in(own_results)
    neighbours = (
        Counted("log.cylinder", MOST_CYLINDERS),
        Logged("heads", goes_on="elapsed_min", group="cylinder"),
        Alike(("cylinders.temperature_c",), apart=5.0),
        Alike(("cylinders.moisture_after",), ratio=1.7),
        Rising("heads.elapsed_min", group="cylinder"),
        Smooth("heads.head_mm", "elapsed_min", group="cylinder", log_x=True),
        OwnSeries(("heads.head_mm",), group="cylinder", log="log"),
    )
    findings = doubts_in(own_findings, infiltrating)
    computed = (
        Computed(table="cylinders", key="deficit_percent", label="Δθ", unit="%"),
        Computed(table="cylinders", key="ks_mm_h", label="Ks", unit="mm/h"),
        Computed(table="heads", key="residual_mm", label="off", unit="mm"),
    )
    folds = {"heads": "cylinder"}
    Readings = FallingHeadReadings
    Settings = FallingHeadSettings
    Context = FallingHeadContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(Cylinder.infiltrated_mm),
        SourceNote.of(Cylinder.rate_mm_min),
        SourceNote.of(fit_falling_head),
        SourceNote.of(water_deficit),
        SourceNote(gives="temperature", equation="Ks20 = Ks η(T)/η(20)", source="Kestin, Sokolov and Wakeham (1978)"),
        SourceNote.of(geometric_mean),
    )
    steps = (
        ProcedureStep(
            text="Locate services. Choose places without cracks, roots and stones; note each position at the start.",
            readings=["soil", "cylinders.latitude_deg", "cylinders.longitude_deg"],
        ),
        ProcedureStep(
            text="Drive the cylinder in by 50 mm, tight all around; lay the scour plate.",
            readings=["radius_mm", "embedded_mm", "sealed", "scour_plate"],
        ),
        ProcedureStep(
            text="Measure the moisture around it before any water.", readings=["porosity", "cylinders.moisture_before"]
        ),
        ProcedureStep(
            text=(
                "Fill to 300 mm or more at once; read the head at 0 min, then often, by hand or by a logger every 5 s."
            ),
            readings=["heads", "log", "cylinders.temperature_c"],
        ),
        ProcedureStep(
            text="When it is empty, measure the moisture right below.", readings=["cylinders.moisture_after"]
        ),
        ProcedureStep(text="Three cylinders or more for a site.", readings=["cylinders"]),
    )
    cautions = (
        "Cables and pipes: located before anything is driven into the ground.",
        "Driving plate and hammer: fingers away, eye protection.",
        "Water is heavy: carry 10 L at a time; mind traffic and the edge of pits.",
        DEFER,
    )
    limits = (
        "A point's value under a small cylinder; cracks, roots and layers below are not seen.",
        "Below 1 mm/h evaporation and the reading's step decide: use another test.",
    )

    def work_out(
        self, readings: FallingHeadReadings, settings: FallingHeadSettings, context: FallingHeadContext
    ) -> Reduction:
        return reduce_falling_head(readings, settings, context)

    def run_view(
        self, readings: FallingHeadReadings, settings: FallingHeadSettings, context: FallingHeadContext
    ) -> dict[str, Any]:
        """Return the cylinders for run mode, three at least, each with its clock."""
        found = []
        for k in range(1, max(3, len(readings.cylinders)) + 1):
            row = readings.cylinders[k - 1] if k <= len(readings.cylinders) else None
            mine = [(i, r) for i, n, r in numbered(readings.heads, "cylinder") if n == k and r.used]
            found.append(
                Series(
                    number=k,
                    name=f"cylinder {k}",
                    clock=f"cylinders.{k - 1}.started_at",
                    startedAt=iso(row.started_at if row else None),
                    read=read_of([(i, r.elapsed_min, r.head_mm) for i, r in mine]),
                    place=f"cylinders.{k - 1}.",
                )
            )
        return levels_view("heads", "cylinder", "head_mm", "head", "heads", found)

    def timetable(self, readings: FallingHeadReadings, settings: FallingHeadSettings) -> list[Operation]:
        begun = bool(readings.heads) or readings.log is not None
        before = any(row.moisture_before is not None for row in readings.cylinders)
        after = any(row.moisture_after is not None for row in readings.cylinders)
        return [
            Operation(
                key="drive",
                what="Drive the cylinders, measure the moisture",
                due_min=0,
                tolerance_min=120,
                hands_on_min=20,
                done=before,
                cell="cylinders.0.moisture_before",
            ),
            Operation(
                key="fill",
                what="Fill and read the head at 0 min",
                due_min=20,
                tolerance_min=60,
                hands_on_min=10,
                holds_min=120,
                done=begun,
                cell="heads.0.head_mm",
            ),
            Operation(
                key="after",
                what="Measure the moisture below the empty cylinders",
                due_min=140,
                tolerance_min=240,
                hands_on_min=10,
                done=after,
                cell="cylinders.0.moisture_after",
            ),
        ]

    def virtual(
        self,
        soil: ThirstyGround,
        settings: FallingHeadSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> FallingHeadReadings:
        return a_falling_head(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: ThirstyGround, settings: FallingHeadSettings) -> dict[str, float]:
        return {"ks_site": soil.ks_mm_h}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_thirsty_ground(rng)
