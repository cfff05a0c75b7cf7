"""Direct shear as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract import by_hand
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Counted, Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.direct_shear import findings as own_findings
from vadum.soil.methods.direct_shear import results as own_results
from vadum.soil.methods.direct_shear.readings import (
    MOST_SPECIMENS,
    DirectShearContext,
    DirectShearReadings,
    DirectShearSettings,
    Screws,
)
from vadum.soil.methods.direct_shear.reduction import reduce_direct_shear
from vadum.soil.methods.direct_shear.specimens import GRAVITY, area_left
from vadum.soil.physics.envelope import envelope
from vadum.soil.virtual.box_soil import BoxSoil, a_box_soil

_SIDE, _LEVER, _HANGER, _CAP, _HEIGHT = 60.0, 10.0, 4.51, 0.86, 20.0
_STRESSES = (50.0, 100.0, 200.0)
_TRAVEL = np.concatenate([np.arange(0.0, 2.0, 0.05), np.arange(2.0, 7.01, 0.1)])


class DirectShear(Method[DirectShearReadings, DirectShearSettings, DirectShearContext]):
    """Strength on a plane through a box of soil, drained, under several loads."""

    code = "direct-shear"
    title = "Direct shear"
    version = "2"
    place = 140
    mark = "φ′"
    basis = ("ASTM D3080", "ISO 17892-10")
    folds = {"record": "specimen"}
    headline = ("friction_peak", "cohesion_peak", "friction_end", "cohesion_end", "dilation", "r_squared")
    results = results_in(own_results)
    neighbours = (
        Counted("log.specimen", MOST_SPECIMENS),
        Rising("record.horizontal_mm", group="specimen", level=True),
        Smooth("record.force_n", "horizontal_mm", group="specimen"),
    )
    findings = doubts_in(own_findings, by_hand)
    computed = (
        Computed(table="specimens", key="normal_kpa", label="σ", unit="kPa"),
        Computed(table="specimens", key="density", label="ρ", unit="g/cm³", decimals=3),
        Computed(table="specimens", key="peak_kpa", label="τ peak", unit="kPa"),
        Computed(table="record", key="shear_kpa", label="τ", unit="kPa"),
    )
    Readings = DirectShearReadings
    Settings = DirectShearSettings
    Context = DirectShearContext
    mistakes = {
        "screws-forgotten": "the screws of the box are left in at the second specimen",
        "hanger-forgotten": "the hanger is not weighed",
        "peak-not-passed": "the third specimen is stopped before its peak",
        "force-in-kg": "the force is written in kg",
        "zero-not-taken": "the load cell is not zeroed",
        "loose-one": "the first specimen is filled looser",
        "two-only": "only two specimens are sheared",
        "loads-close": "the loads lie close together",
        "vertical-reversed": "the vertical gauge counts down as positive",
    }
    equations = (
        SourceNote(
            gives="normal stress",
            equation="σ = (dead mass × lever + hanger + cap) g / A",
            source="ISO 17892-10 clause 6",
        ),
        SourceNote(
            gives="shear stress",
            equation="τ = F / A, A constant or shortened by the travel",
            source="ASTM D3080 clause 11",
        ),
        SourceNote.of(area_left),
        SourceNote.of(envelope),
        SourceNote(gives="dilation", equation="ψ = atan(rise / travel) around the peak", source="Bolton (1986)"),
        SourceNote(gives="rate in clay", equation="travel to failure / (50 t50)", source="ASTM D3080 clause 9"),
    )
    steps = (
        ProcedureStep(
            text="Weigh hanger and cap; measure the box; fill each specimen to the same mass and height.",
            readings=["hanger_kg", "cap_kg", "side_mm", "specimens"],
        ),
        ProcedureStep(
            text="Load, let it settle (clay: to the end of consolidation, read t50).",
            readings=["specimens.dead_mass_kg", "t50_min"],
        ),
        ProcedureStep(
            text="Take the screws out, lift the upper half by a grain, zero everything.", readings=["screws"]
        ),
        ProcedureStep(
            text="Shear at the set rate past the peak, to a tenth of the box at least.",
            readings=["rate_mm_min", "record"],
        ),
        ProcedureStep(text="At least three loads, the largest twice the smallest.", readings=["specimens"]),
    )
    cautions = (
        "Weights on a lever: feet away, hang them one by one, nobody leans on the frame.",
        "Fingers out of the box while the motor runs.",
        DEFER,
    )

    def work_out(
        self, readings: DirectShearReadings, settings: DirectShearSettings, context: DirectShearContext
    ) -> Reduction:
        return reduce_direct_shear(readings, settings)

    def soil_needed(self, settings: DirectShearSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=600, spent=False, note="three specimens of a 60 mm box")

    def timetable(self, readings: DirectShearReadings, settings: DirectShearSettings) -> list[Operation]:
        logged = readings.log.specimen if readings.log is not None else []
        recorded = {row.specimen for row in readings.record if row.specimen is not None} | {int(k) for k in logged}
        return [
            Operation(
                key=f"shear-{k}",
                what=f"Fill, load and shear specimen {k}",
                due_min=90.0 * (k - 1),
                tolerance_min=480,
                hands_on_min=40,
                resource="shear box",
                holds_min=30,
                done=k in recorded,
                cell=f"specimens.{k - 1}.dead_mass_kg",
            )
            for k in (1, 2, 3)
        ]

    def virtual(
        self,
        soil: BoxSoil,
        settings: DirectShearSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> DirectShearReadings:
        mistakes = self.plant(mistakes)
        reversed_ = "vertical-reversed" in mistakes
        area = _SIDE**2 / 1e6
        stresses = [100.0, 120.0, 140.0] if "loads-close" in mistakes else list(_STRESSES)
        if "two-only" in mistakes:
            stresses = stresses[:2]
        specimens, record = [], []
        for k, normal in enumerate(stresses, 1):
            dead = round((normal * 1000 * area / GRAVITY - _HANGER - _CAP) / _LEVER, 3)
            normal = (dead * _LEVER + _HANGER + _CAP) * GRAVITY / area / 1000
            mass = 1.62 * _SIDE**2 * _HEIGHT / 1000 * (0.94 if "loose-one" in mistakes and k == 1 else 1.0)
            before = round(float(rng.uniform(380, 420)), 2)
            specimens.append(
                {
                    "dead_mass_kg": dead,
                    "mass_before_g": before,
                    "mass_after_g": round(before - mass, 2),
                    "height_mm": _HEIGHT,
                }
            )
            for h in _TRAVEL:
                tau = soil.shear_kpa(float(h), normal)
                if "screws-forgotten" in mistakes and k == 2 and 0 < h <= 0.1:
                    tau += 0.8 * normal
                force = tau * 1000 * area + (25.0 if "zero-not-taken" in mistakes else 0.0)
                if "peak-not-passed" in mistakes and k == 3 and h > 0.7 * soil.peak_mm:
                    continue
                record.append(
                    {
                        "specimen": k,
                        "horizontal_mm": round(float(h), 3),
                        "vertical_mm": round((-1 if reversed_ else 1) * soil.rise_mm(float(h)), 3),
                        "force_n": round(
                            force / (GRAVITY if "force-in-kg" in mistakes else 1.0) + float(rng.normal(0, 0.03)),
                            1 if "force-in-kg" not in mistakes else 2,
                        ),
                    }
                )
        return DirectShearReadings.model_validate(
            {
                "side_mm": _SIDE,
                "lever": _LEVER,
                "hanger_kg": None if "hanger-forgotten" in mistakes else _HANGER,
                "cap_kg": _CAP,
                "specimens": specimens,
                "record": record,
                "rate_mm_min": 1.0,
                "screws": Screws.REMOVED,
                "soil": "sand",
            }
        )

    def truth(self, soil: BoxSoil, settings: DirectShearSettings) -> dict[str, float]:
        return {"friction_peak": soil.friction_peak_deg, "friction_end": soil.friction_end_deg}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_box_soil(rng)
