"""Repeated plate loading as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import plate_load
from vadum.soil.bench.plate_load import LoadAs
from vadum.soil.bench.plate_run import PlateRun, applied, iso, plate_view
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.limit import Limit
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.plate_static import findings as own_findings
from vadum.soil.methods.plate_static import results as own_results
from vadum.soil.methods.plate_static.readings import (
    PRELOAD_KPA,
    PRELOAD_S,
    UNLOADING,
    Bedding,
    PlateStaticContext,
    PlateStaticReadings,
    PlateStaticSettings,
    Runs,
    Wanted,
    planned_stages,
)
from vadum.soil.methods.plate_static.reduction import exempted, reduce_plate_static
from vadum.soil.physics.plate import (
    deformation_modulus_mpa,
    jack_force_kn,
    me_mpa,
    plate_area_m2,
    plate_settlement_mm,
    pump_pressure_bar,
    secant_modulus_mpa,
    settlement_curve,
    subgrade_modulus_mn_m3,
)
from vadum.soil.virtual.plate_soil import ElasticPlateSoil, an_elastic_plate_soil

_PISTON_CM2 = 38.5


def _applied(kpa: float, settings: PlateStaticSettings) -> dict[str, float]:
    """Return how a pressure is read at the jack, where it is not typed as such."""
    force = jack_force_kn(kpa, plate_area_m2(settings.size_mm))
    if settings.load_as == LoadAs.FORCE:
        return {"force_kn": round(force, 2)}
    return {"pump_bar": round(pump_pressure_bar(force, _PISTON_CM2), 1)} if settings.load_as == LoadAs.PUMP else {}


def _gauges(shown: float, settings: PlateStaticSettings) -> dict[str, float]:
    """Return what the gauges in use show; those at the edge a little less and more than the middle."""
    off = {"one": (0.0,), "two": (-0.02, 0.02), "three": (-0.02, 0.02, 0.0)}[settings.gauges.value]
    return {f"gauge{number}_mm": round(shown + o, 2) for number, o in zip(("", "_2", "_3"), off, strict=False)}


class PlateStatic(Method[PlateStaticReadings, PlateStaticSettings, PlateStaticContext]):
    """Settlement of a plate under rising pressure, twice: how stiff the ground is, and how well it is compacted."""

    code = "plate-static"
    title = "Plate, repeated loading"
    known_as = ("plate load", "plate bearing", "deformation modulus", "subgrade reaction", "ev2")
    version = "2"
    place = 120
    mapped_as = "bearing"
    made_with = {"plate": {}, "gauge": {}, "pressure gauge": {}}
    basis = ("DIN 18134", "ÖNORM B 4417", "SN 670 317", "ASTM D1195")
    applies_to = "location"
    followed_at = 60
    clocked = ("stages",)
    set_up = (
        "services_located",
        "largest_particle_mm",
        "bedding",
        "reaction_m",
        "datum_m",
        "lever_plate_mm",
        "lever_gauge_mm",
    )
    limits_asked = (
        Limit(("ev2",), "required_ev2_mpa", "least"),
        Limit(("ratio",), "required_ratio", "most", excused=exempted),
    )
    headline = ("ev2", "ev1", "ratio", "judgement", "me1", "me2", "ev2_secant", "ev1_secant", "ks")
    results = results_in(own_results)
    neighbours = (OwnSeries(("stages.gauge_mm", "stages.gauge_2_mm", "stages.gauge_3_mm")),)
    findings = doubts_in(own_findings, plate_load)
    computed = (
        Computed(table="stages", key="jack_kn", label="jack", unit="kN"),
        Computed(table="stages", key="pump_bar", label="pump", unit="bar", decimals=0),
        Computed(table="stages", key="settlement_mm", label="s", unit="mm", decimals=2),
    )
    Readings = PlateStaticReadings
    Settings = PlateStaticSettings
    Context = PlateStaticContext
    mistakes = {
        "kn-typed": "the third stage is typed in kN",
        "stage-short": "the fourth stage is held 40 s",
        "turn-miscounted": "one gauge reading is a millimetre too low",
        "no-unloading": "the plate is not unloaded",
        "reloaded-too-far": "the second loading goes to the last stage",
        "gypsum-soft": "the gypsum has not set",
        "few-stages": "only four stages of first loading",
        "divisions": "the gauge is written in divisions",
        "coarse": "the plate is small for the grains",
        "dip": "the pump lost pressure at the fourth stage",
        "in-bar": "the sixth stage is typed in bar",
    }
    equations = (
        SourceNote.of(plate_settlement_mm),
        SourceNote.of(settlement_curve),
        SourceNote.of(deformation_modulus_mpa),
        SourceNote.of(secant_modulus_mpa),
        SourceNote.of(me_mpa),
        SourceNote.of(subgrade_modulus_mn_m3),
        SourceNote(gives="jack and pump", equation="F = σ A; p = F / A piston", source="statics"),
    )
    steps = (
        ProcedureStep(
            text="Level the ground, bed the plate (thin sand or gypsum), check grains against the plate.",
            readings=["largest_particle_mm", "bedding"],
        ),
        ProcedureStep(
            text="Reaction and datum at their distances; measure a beam's lever.",
            readings=["reaction_m", "datum_m", "lever_plate_mm", "lever_gauge_mm"],
        ),
        ProcedureStep(text="Preload 10 kPa at least 30 s, zero the gauge.", readings=["preload_kpa", "preload_s"]),
        ProcedureStep(
            text="Load in at least six stages, hold each to the end of the clock, read.", readings=["stages.gauge_mm"]
        ),
        ProcedureStep(text="Unload at 50, 25 and 2 %, read each.", readings=["stages.gauge_mm"]),
        ProcedureStep(text="Load again to the last but one stage.", readings=["stages.gauge_mm"]),
    )
    cautions = (
        "A jack that stands askew can fly out: plumb, extensions screwed tight, stand clear while pumping.",
        "Excavator or lorry as reaction: brakes on, engine off, nobody under it or in the bucket's reach.",
        "Hoses under pressure: no cracked hoses, gloves and eye protection.",
        DEFER,
    )

    def loaded_area_m2(self, settings: PlateStaticSettings) -> float:
        return plate_area_m2(settings.size_mm)

    def work_out(
        self, readings: PlateStaticReadings, settings: PlateStaticSettings, context: PlateStaticContext
    ) -> Reduction:
        return reduce_plate_static(readings, settings, guards=context.guarded)

    def begin(self, settings: PlateStaticSettings, largest_particle_mm: float | None) -> dict[str, Any]:
        return {"stages": planned_stages(settings)}

    def replanned(
        self, readings: dict[str, Any], before: PlateStaticSettings, after: PlateStaticSettings
    ) -> dict[str, Any]:
        """Return the stages planned anew while none of them was read."""
        stages, planned = readings.get("stages") or [], planned_stages(before)
        untouched = [stage for stage in stages if stage.keys() == {"planned_kpa"}] == planned == stages
        return readings | {"stages": planned_stages(after)} if untouched else readings

    def run_view(
        self, readings: PlateStaticReadings, settings: PlateStaticSettings, context: PlateStaticContext
    ) -> dict[str, Any]:
        plan = [row["planned_kpa"] for row in planned_stages(settings)]
        begun = any(stage.gauge_mm is not None for stage in readings.stages)
        same = plan == [stage.planned_kpa for stage in readings.stages]
        return plate_view(
            PlateRun(
                table="stages",
                figure="plate",
                gauges=[("gauge_mm", "gauge")],
                keeps={"hold_s": "seconds"},
                started_at=iso(readings.stage_started_at),
                dues=[settings.hold_s / 60],
                hold_min=settings.hold_s / 60,
                applied=applied(plate_area_m2(settings.size_mm), readings.piston_cm2),
                planned=[] if begun or same else plan,
                unloading=list(UNLOADING),
                preload_kpa=PRELOAD_KPA,
                preload_s=PRELOAD_S,
            )
        )

    def timetable(self, readings: PlateStaticReadings, settings: PlateStaticSettings) -> list[Operation]:
        read = [s.gauge_mm is not None for s in readings.stages if s.used]
        minutes = len(readings.stages or planned_stages(settings)) * (settings.hold_s / 60 + 1.0)
        return [
            Operation(
                key="set-up",
                what="Bed the plate, reaction, datum, preload",
                due_min=0,
                tolerance_min=120,
                hands_on_min=30,
                resource="plate",
                holds_min=minutes,
                done=readings.preload_kpa is not None or any(read),
                cell="preload_kpa",
            ),
            Operation(
                key="load",
                what="Load, unload, load again",
                due_min=30,
                tolerance_min=120,
                hands_on_min=minutes,
                done=bool(read) and all(read),
                cell="stages.0.gauge_mm",
            ),
        ]

    def virtual(
        self,
        soil: ElasticPlateSoil,
        settings: PlateStaticSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> PlateStaticReadings:
        mistakes = self.plant(mistakes)
        plan = [row["planned_kpa"] for row in planned_stages(settings)]
        top = plan.index(max(plan))
        largest = plan[top]
        soil = soil.loaded_to(largest)
        bedded = soil.first_mm(PRELOAD_KPA)
        sign, start = (1.0, 0.0) if settings.gauge_runs == Runs.UP else (-1.0, 30.0)
        lever = (1200.0, 1200.0) if settings.gauge == "direct" else (1160.0, 1000.0)
        stages: list[dict[str, Any]] = []
        for i, kpa in enumerate(plan):
            if i <= top:
                s = soil.first_mm(kpa)
            elif i <= top + 3:
                s = soil.back_mm(kpa, largest) if i < top + 3 else soil.again_mm(kpa)
            else:
                s = soil.again_mm(kpa)
            # The gauge is set to zero under the preload.
            way = (s - bedded) * lever[1] / lever[0] + float(rng.normal(0, 0.002))
            stages.append({"planned_kpa": kpa} | _applied(kpa, settings) | _gauges(start + sign * way, settings))
        if settings.wanted == Wanted.SUBGRADE:
            stages = [stage | {"last_minute_mm": 0.01} for stage in stages]
        if "reloaded-too-far" in mistakes:
            way = (soil.again_mm(largest) - bedded) * lever[1] / lever[0]
            stages.append(
                {"planned_kpa": largest} | _applied(largest, settings) | _gauges(start + sign * way, settings)
            )
        if "kn-typed" in mistakes:
            stages[2]["pressure_kpa"] = round(stages[2]["planned_kpa"] * np.pi / 4 * (settings.size_mm / 1000) ** 2, 1)
        if "stage-short" in mistakes:
            stages[3]["hold_s"] = 40.0
        if "turn-miscounted" in mistakes:
            stages[4]["gauge_mm"] = round(stages[4]["gauge_mm"] - 1.0, 2)
        if "dip" in mistakes:
            stages[3]["pressure_kpa"] = round(0.6 * plan[2])
        if "in-bar" in mistakes:
            stages[5]["pressure_kpa"] = plan[5] / 100
        if "no-unloading" in mistakes:
            stages = stages[: top + 1]
        if "few-stages" in mistakes:
            stages = stages[: top + 1 : 2] + stages[top + 1 :]
        if "divisions" in mistakes:
            stages = [s | {"gauge_mm": round(100 * s["gauge_mm"])} for s in stages]
        return PlateStaticReadings.model_validate(
            {
                "lever_plate_mm": lever[0],
                "lever_gauge_mm": lever[1],
                "piston_cm2": _PISTON_CM2,
                "gauge_start_mm": start or None,
                "preload_kpa": 10.0,
                "preload_s": 40.0,
                "largest_particle_mm": 120.0 if "coarse" in mistakes else 32.0,
                "stages": stages,
                "depth_m": 0.4,
                "datum_m": 1.6,
                "reaction_m": 1.4,
                "bedding": Bedding.GYPSUM_SOFT if "gypsum-soft" in mistakes else Bedding.SAND,
                "tilted": "no",
                "reaction_lifted": "no",
            }
        )

    def truth(self, soil: ElasticPlateSoil, settings: PlateStaticSettings) -> dict[str, float]:
        radius, largest = settings.size_mm / 2, settings.last_kpa
        return {"ev1": soil.modulus_mpa(1, radius, largest), "ev2": soil.modulus_mpa(2, radius, largest)}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return an_elastic_plate_soil(rng)
