"""The vane as a method."""

from typing import Any

import numpy as np

from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SourceNote
from vadum.soil.contract.neighbours import Alike, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.vane import findings as own_findings
from vadum.soil.methods.vane import results as own_results
from vadum.soil.methods.vane.equations import (
    failures_correction,
    plasticity_correction,
    strength_from_balance_kpa,
    strength_from_torque_kpa,
    vane_constant_m3,
)
from vadum.soil.methods.vane.readings import Instrument, VaneContext, VaneReadings, VaneSettings
from vadum.soil.methods.vane.reduction import reduce_vane
from vadum.soil.virtual.soft_clay import SoftClay, a_soft_clay

_DEPTHS = 10
_BALANCE_STEP = 0.5
_TORQUE_STEP = 0.1
_SIZE_MM = (65.0, 130.0)


class Vane(Method[VaneReadings, VaneSettings, VaneContext]):
    """Undrained strength of soft ground from a cross of blades turned in it."""

    code = "vane"
    title = "Vane shear"
    known_as = ("vane test", "undrained shear strength", "field vane", "sensitivity")
    place = 170
    curve_is = "strength profile"
    made_with = {"vane": {}}
    basis = ("ASTM D2573", "ISO 22476-9", "BS 1377-9")
    applies_to = "location"
    set_up = ("services_located", "pin_drawn", "constant", "diameter_mm", "height_mm", "full_scale")
    headline = (
        "su_mean",
        "su_corrected_mean",
        "su_least",
        "su_most",
        "sensitivity",
        "sensitivity_class",
        "strength_class",
    )
    results = results_in(own_results)
    neighbours = (
        Smooth("profile.peak", "depth_m", group="vane", near_end=0.2),
        Smooth("profile.remoulded", "depth_m", group="vane"),
        Alike(("profile.friction",), ratio=3.0),
    )
    findings = doubts_in(own_findings)
    computed = (
        Computed(table="profile", key="su_kpa", label="su", unit="kPa", decimals=1),
        Computed(table="profile", key="sensitivity", label="St", decimals=1),
    )
    columns = {
        "profile": ("depth_m", "vane", "plasticity_index", "seconds_to_peak", "peak", "turns", "remoulded", "friction")
    }
    Readings = VaneReadings
    Settings = VaneSettings
    Context = VaneContext
    mistakes = {
        "exchanged": "peak and remoulded of the third depth are exchanged",
        "stone": "a stone lies against the vane at one depth",
        "sand": "the ground is sand",
        "too-strong": "the vane is too large for the ground",
        "depth-skipped": "a depth is skipped",
        "pin-left": "the pin is left in while driving",
        "too-fast": "the vane is turned within twenty seconds",
        "size-exchanged": "diameter and height of the vane are exchanged",
        "few-turns": "only three turns before the remoulded reading",
    }
    equations = (
        SourceNote.of(strength_from_torque_kpa),
        SourceNote.of(strength_from_balance_kpa),
        SourceNote(
            gives="sensitivity", equation="St = su undisturbed / su remoulded", source="Skempton and Northey (1952)"
        ),
        SourceNote.of(plasticity_correction),
        SourceNote.of(failures_correction),
    )
    steps = (
        ProcedureStep(
            text="Locate services; look at what the ground is: sand and gravel have no vane strength.",
            readings=["soil"],
        ),
        ProcedureStep(
            text="Choose the vane so that the peak falls between a tenth and nine tenths of full scale.",
            readings=["constant", "full_scale"],
        ),
        ProcedureStep(
            text="Draw the pin, push to the depth without turning.", readings=["pin_drawn", "profile.depth_m"]
        ),
        ProcedureStep(
            text="Turn at 6 to 12 degrees a minute; read the peak in about two minutes.",
            readings=["profile.peak", "profile.seconds_to_peak"],
        ),
        ProcedureStep(
            text="Turn ten full turns, read the remoulded strength.", readings=["profile.turns", "profile.remoulded"]
        ),
        ProcedureStep(text="Read the rods alone, push on by 0.2 m.", readings=["profile.friction"]),
    )
    cautions = (
        "Cables and pipes: located before anything is pushed into the ground.",
        "Hammer and driving head: fingers away, eye protection.",
        "Pull rods with the legs or a jack, never with the back.",
        DEFER,
    )
    limits = (
        "Undrained strength of soft to firm clay only; sand lenses, roots, shells and fissures spoil it.",
        "The measured strength is not a design strength: correct it and compare it with other tests.",
    )

    def work_out(self, readings: VaneReadings, settings: VaneSettings, context: VaneContext) -> Reduction:
        return reduce_vane(readings, settings, context)

    def timetable(self, readings: VaneReadings, settings: VaneSettings) -> list[Operation]:
        read = any(row.peak is not None for row in readings.profile)
        return [
            Operation(
                key="set-up",
                what="Locate services, set up the vane",
                due_min=0,
                tolerance_min=120,
                hands_on_min=20,
                done=read or readings.soil is not None,
                cell="soil",
            ),
            Operation(
                key="profile",
                what="Vane every 0.2 m",
                due_min=20,
                tolerance_min=120,
                hands_on_min=90,
                done=read,
                cell="profile.0.depth_m",
            ),
        ]

    def virtual(
        self, soil: SoftClay, settings: VaneSettings, rng: np.random.Generator, mistakes: frozenset[str] = frozenset()
    ) -> VaneReadings:
        mistakes = self.plant(mistakes)
        depths = [round(settings.step_m * (k + 3), 2) for k in range(_DEPTHS)]
        strongest = max(soil.undrained_kpa(z) for z in depths)
        balance = settings.instrument == Instrument.BALANCE
        # A vane with which the strongest depth stands at seven tenths of full scale.
        full, step = (100.0, _BALANCE_STEP) if balance else (100.0, _TORQUE_STEP)
        per_kpa = float(f"{0.7 * full / strongest:.3g}") if balance else 1000 * vane_constant_m3(*_SIZE_MM)
        if not balance:
            full = max(20.0, 10 * np.ceil(per_kpa * strongest / 7))
        if "too-strong" in mistakes:
            full *= 0.75
        rods = 1.0 if balance else 0.3
        rows: list[dict[str, Any]] = []
        for z in depths:
            peak, left = per_kpa * soil.undrained_kpa(z), per_kpa * soil.undrained_kpa(z) / soil.sensitivity
            rows.append(
                {
                    "depth_m": z,
                    "peak": _step(peak + rods, step),
                    "remoulded": _step(left + rods, step),
                    "friction": rods,
                    "seconds_to_peak": 20.0 if "too-fast" in mistakes else round(float(rng.uniform(95, 150))),
                    "turns": 3 if "few-turns" in mistakes else 10,
                }
            )
        if "exchanged" in mistakes:
            rows[2]["peak"], rows[2]["remoulded"] = rows[2]["remoulded"], rows[2]["peak"]
        if "stone" in mistakes:
            rows[6]["peak"] = _step(3.2 * rows[6]["peak"], step)
        if "depth-skipped" in mistakes:
            del rows[4]
        return VaneReadings.model_validate(
            {
                "constant": per_kpa if balance else None,
                "full_scale": full * (4 if "stone" in mistakes else 1),
                "diameter_mm": _SIZE_MM[1 if "size-exchanged" in mistakes else 0],
                "height_mm": _SIZE_MM[0 if "size-exchanged" in mistakes else 1],
                "profile": rows,
                "soil": "sand" if "sand" in mistakes else "clay",
                "pin_drawn": "no" if "pin-left" in mistakes else "yes",
                "plasticity_index": round(soil.plasticity_index),
            }
        )

    def truth(self, soil: SoftClay, settings: VaneSettings) -> dict[str, float]:
        depths = [round(settings.step_m * (k + 3), 2) for k in range(_DEPTHS)]
        strengths = [soil.undrained_kpa(z) for z in depths]
        return {"su_mean": sum(strengths) / len(strengths), "sensitivity": soil.sensitivity}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_soft_clay(rng)


def _step(value: float, step: float) -> float:
    return round(round(value / step) * step, 6)
