"""The bearing ratio in the mould, as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import one_soil, weighing
from vadum.soil.bench.drying import tins_dried
from vadum.soil.bench.one_soil import tins_agree
from vadum.soil.bench.plunger import advice, report
from vadum.soil.bench.plunger.press import press_view, pressed_at
from vadum.soil.bench.plunger.readings import planned_rows, pressed
from vadum.soil.contract import by_hand
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.cbr_lab import findings as own_findings
from vadum.soil.methods.cbr_lab import results as own_results
from vadum.soil.methods.cbr_lab.readings import CbrLabContext, CbrLabReadings, CbrLabSettings, Finished, Soaking
from vadum.soil.methods.cbr_lab.reduction import reduce_cbr_lab
from vadum.soil.methods.cbr_lab.virtual import MISTAKES, a_mould
from vadum.soil.physics.bearing import bearing_ratio_percent, report_step, ring_force_kn, steepest_tangent
from vadum.soil.virtual.plunger_soil import PlungerSoil, a_plunger_soil

_SWELL_H = (0.0, 1.0, 4.0, 24.0, 48.0, 72.0, 96.0)
_RUN_MIN = 9.0


class CbrLab(Method[CbrLabReadings, CbrLabSettings, CbrLabContext]):
    """Force on a plunger in compacted soil, as a share of the force in crushed stone."""

    code = "cbr-lab"
    title = "CBR in the mould"
    known_as = ("bearing ratio", "soaked cbr", "swell")
    version = "6"
    place = 100
    mark = "CBR"
    mapped_as = "bearing"
    waits_for = (Before("compaction", "weigh-dry", "mould", "the mould is made at the optimum"),)
    made_with = {"mould": {}, "rammer": {}, "press": {}, "load ring": {}, "gauge": {}}
    basis = ("EN 13286-47", "BS 1377-4", "ASTM D1883")
    followed_at = 10
    clocked = ("top", "bottom", "rate_measured_mm_min", "finished")
    headline = (
        "cbr",
        "bulk_density",
        "dry_density",
        "relative_compaction",
        "water_content",
        "swell_percent",
        "zero_top_mm",
    )
    results = results_in(own_results, report)
    neighbours = (
        *pressed("top", "bottom"),
        Smooth("swell.dial_mm", "elapsed_h", log_x=True),
        Rising("swell.elapsed_h"),
        *tins_agree("tins"),
        *tins_agree("tins_soaked"),
    )
    findings = doubts_in(own_findings, weighing, one_soil, by_hand, advice)
    computed = (
        Computed(table="top", key="force_kn", label="F", unit="kN", decimals=3),
        Computed(table="bottom", key="force_kn", label="F", unit="kN", decimals=3),
    )
    Readings = CbrLabReadings
    Settings = CbrLabSettings
    Context = CbrLabContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(ring_force_kn),
        SourceNote.of(steepest_tangent),
        SourceNote.of(bearing_ratio_percent),
        SourceNote(
            gives="bearing ratio, pressures",
            equation="CBR = 100 F / (6.9 MPa × 1935 mm²) at 2.54 mm, 10.3 MPa at 5.08 mm",
            source="ASTM D1883 clause 11",
        ),
        SourceNote.of(report_step),
        SourceNote(
            gives="swell",
            equation="100 (dial at the end − at the start) / height of the specimen",
            source="ASTM D1883 clause 11",
        ),
    )
    steps = (
        ProcedureStep(
            text="Take out and weigh what is above 20 mm; mix the rest to the optimum, cover overnight.",
            readings=["removed_percent", "water_content_target_percent"],
        ),
        ProcedureStep(
            text="Weigh the mould without collar, compact in layers, strike off level, weigh again.",
            readings=["mass_mould_g", "mass_mould_soil_g", "volume_mould_cm3"],
        ),
        ProcedureStep(
            text="Soak four days under the surcharge; read the dial each day; drain 15 min.",
            readings=["surcharge_kg", "swell"],
        ),
        ProcedureStep(
            text="Seat the plunger with 10, 50 or 250 N by the ratio expected; zero ring and gauge.",
            readings=["seating_n"],
        ),
        ProcedureStep(
            text="Press at 1 mm/min without a pause; read the ring each 0.25 mm to 7.5 mm.", readings=["top.ring_div"]
        ),
        ProcedureStep(text="Turn the mould over and press the bottom.", readings=["bottom.ring_div"]),
        ProcedureStep(
            text="Dry tins of the soil as compacted, and from below the plunger.", readings=["tins", "tins_soaked"]
        ),
    )
    cautions = (
        "A falling rammer breaks fingers: guard on, hands on the guide, ear protection against the noise.",
        "A filled mould weighs 15 kg: lift with both arms, bench at hip height, safety shoes.",
        "Keep hands from between plunger and mould while the press moves; know its stop switch.",
        DEFER,
    )

    def work_out(self, readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext) -> Reduction:
        return reduce_cbr_lab(readings, settings, context)

    def begin(self, settings: CbrLabSettings, largest_particle_mm: float | None) -> dict[str, Any]:
        swell = [{"elapsed_h": h} for h in _SWELL_H] if settings.soaking == Soaking.SOAKED else []
        return {"top": planned_rows(), "bottom": planned_rows(), "swell": swell}

    def soil_needed(self, settings: CbrLabSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=6000, spent=False, note="one 152 mm mould of soil passing 20 mm")

    def run_view(self, readings: CbrLabReadings, settings: CbrLabSettings, context: CbrLabContext) -> dict[str, Any]:
        return press_view(settings, [("top", "Top"), ("bottom", "Bottom")])

    def at_time(self, hidden: CbrLabReadings, so_far: CbrLabReadings, path: str, minutes: float) -> float | None:
        """Return gauge or ring so far into the run."""
        table, _, column = (*path.split("."), "", "")[:3]
        if table not in ("top", "bottom"):
            return None
        return pressed_at(getattr(hidden, table), column, minutes, hidden.rate_measured_mm_min or 1.0)

    def timetable(self, readings: CbrLabReadings, settings: CbrLabSettings) -> list[Operation]:
        made = readings.mass_mould_soil_g is not None
        pressed = any(row.read is not None for row in readings.top)
        turned = any(row.read is not None for row in readings.bottom) or readings.finished == Finished.TOP_ONLY
        operations = [
            Operation(
                key="mould",
                what="Compact the mould and weigh it",
                due_min=0,
                tolerance_min=240,
                hands_on_min=40,
                resource="mould",
                holds_min=6000 if settings.soaking == Soaking.SOAKED else 60,
                done=made,
                cell="mass_mould_soil_g",
            )
        ]
        begun = 60.0
        if settings.soaking == Soaking.SOAKED:
            read = {row.elapsed_h: i for i, row in enumerate(readings.swell) if row.dial_mm is not None}
            for hours in _SWELL_H:
                what = "Into the water, read the dial" if hours == 0 else f"Swell dial at {hours:g} h"
                operations.append(
                    Operation(
                        key=f"swell-{hours:g}",
                        what=what,
                        due_min=begun + 60 * hours,
                        tolerance_min=max(10.0, 6 * hours),
                        hands_on_min=2,
                        resource="" if hours else "soak tank",
                        holds_min=0 if hours else 5760,
                        after="swell-0" if hours else None,
                        done=hours in read or (pressed and hours < 96),
                        cell=f"swell.{_SWELL_H.index(hours)}.dial_mm",
                    )
                )
            begun += 5760 + 15
        operations += [
            Operation(
                key="top",
                what="Press the top, 7.5 mm without a pause",
                due_min=begun,
                tolerance_min=240,
                hands_on_min=_RUN_MIN + 6,
                resource="press",
                done=pressed,
                cell="top.1.ring_div",
            ),
            Operation(
                key="bottom",
                what="Turn over, press the bottom",
                due_min=begun + 20,
                tolerance_min=120,
                hands_on_min=_RUN_MIN + 6,
                resource="press",
                done=turned,
                cell="bottom.1.ring_div",
            ),
            *tins_dried("tins", readings.tins, begun + 40),
        ]
        return operations

    def virtual(
        self,
        soil: PlungerSoil,
        settings: CbrLabSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> CbrLabReadings:
        return a_mould(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: PlungerSoil, settings: CbrLabSettings) -> dict[str, float]:
        return {"cbr": soil.ratio_percent(2.5, 13.2), "zero_top_mm": soil.bedding_mm}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_plunger_soil(rng)
