"""Unconfined compression as a method."""

from math import pi
from typing import Any

import numpy as np

from vadum.soil.bench import one_soil, weighing
from vadum.soil.bench.cylinder import specimen
from vadum.soil.bench.cylinder.begins import BEGUN_LATE, ZERO_NOT_TAKEN
from vadum.soil.bench.cylinder.failure import Failure
from vadum.soil.bench.drying import tins_dried
from vadum.soil.bench.one_soil import tins_agree
from vadum.soil.bench.peak import LOAD_TAKEN_OFF, PEAK_UNREAD
from vadum.soil.contract import by_hand
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.logged import Logged
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.still import Moves
from vadum.soil.methods.unconfined import findings as own_findings
from vadum.soil.methods.unconfined import results as own_results
from vadum.soil.methods.unconfined.readings import UnconfinedContext, UnconfinedReadings, UnconfinedSettings
from vadum.soil.methods.unconfined.reduction import reduce_unconfined
from vadum.soil.physics.compression import corrected_area_mm2, peak, secant_modulus_mpa, toe_percent
from vadum.soil.physics.phases import WATER
from vadum.soil.virtual.clay_cylinder import ClayCylinder, a_clay_cylinder
from vadum.soil.virtual.plastic_soil import tin_names, tin_of_soil, weigh

_DIAMETER, _LENGTH = 50.0, 108.0
_LOADED_PERCENT = (
    0.1,
    0.2,
    0.4,
    0.6,
    0.8,
    1.0,
    1.5,
    2.0,
    2.5,
    3.0,
    3.5,
    4.0,
    4.5,
    5.0,
    5.5,
    6.0,
    7.0,
    8.0,
    9.0,
    10.0,
    11.0,
    12.0,
    13.0,
    14.0,
    15.0,
    16.0,
)


class Unconfined(Method[UnconfinedReadings, UnconfinedSettings, UnconfinedContext]):
    """Strength of a clay cylinder that is pressed without being held at its sides."""

    code = "unconfined"
    title = "Unconfined compression"
    known_as = ("ucs", "unconfined compressive strength", "undrained shear strength", "cohesion")
    place = 150
    version = "3"
    mark = "qu"
    made_with = {"press": {}, "load ring": {}, "gauge": {}}
    basis = ("ASTM D2166", "ISO 17892-7")
    recorded = ("loading", "remoulded")
    headline = ("qu", "su", "e50", "strain_percent", "consistency", "sensitivity", "water_content")
    results = results_in(own_results, specimen)
    neighbours = (
        Logged("loading", goes_on="shortening_mm", trembles=0.05),
        Moves("loading.shortening_mm", log="log"),
        Moves("remoulded.shortening_mm"),
        Moves("loading.force_n", log="log", beside="shortening_mm"),
        Moves("remoulded.force_n", beside="shortening_mm"),
        Rising("loading.shortening_mm"),
        Smooth("loading.force_n", "shortening_mm"),
        Rising("remoulded.shortening_mm"),
        Smooth("remoulded.force_n", "shortening_mm"),
        OwnSeries(("loading.force_n", "remoulded.force_n")),
        *tins_agree("tins"),
    )
    findings = doubts_in(
        own_findings, weighing, one_soil, by_hand, specimen, (BEGUN_LATE, LOAD_TAKEN_OFF, PEAK_UNREAD, ZERO_NOT_TAKEN)
    )
    computed = (
        Computed(table="loading", key="strain_percent", label="ε", unit="%", decimals=2),
        Computed(table="loading", key="stress_kpa", label="σ", unit="kPa"),
        Computed(table="remoulded", key="strain_percent", label="ε", unit="%", decimals=2),
        Computed(table="remoulded", key="stress_kpa", label="σ", unit="kPa"),
    )
    Readings = UnconfinedReadings
    Settings = UnconfinedSettings
    Context = UnconfinedContext
    mistakes = {
        "stopped-early": "the run is stopped before the peak",
        "short": "the specimen is a short one",
        "ends-skew": "the ends are not parallel",
        "too-fast": "the press runs at 5 mm/min",
        "left-to-dry": "the specimen lies open for an hour",
        "bedded-in": "an uneven end beds in",
        "mass-tenfold": "the mass is another specimen's, ten times as much",
    }
    equations = (
        SourceNote.of(corrected_area_mm2),
        SourceNote.of(peak),
        SourceNote.of(secant_modulus_mpa),
        SourceNote.of(toe_percent),
        SourceNote(gives="sensitivity", equation="St = qu / qu remoulded", source="Skempton and Northey (1952)"),
    )
    steps = (
        ProcedureStep(
            text="Trim the specimen to L/D 2 to 2.5, ends square; keep it from drying.",
            readings=["minutes_since_cut", "patched"],
        ),
        ProcedureStep(
            text="Weigh; calipers at top, middle, bottom and along, each twice; trimmings into tins.",
            readings=["mass_g", "calipers", "tins"],
        ),
        ProcedureStep(
            text="Set the rate for this length, zero force and gauge, load at once.",
            readings=["rate_mm_min", "loading"],
        ),
        ProcedureStep(text="Go on until the force falls clearly or to the strain limit.", readings=["loading"]),
        ProcedureStep(
            text="Draw how it failed, measure a plane's angle.", readings=["failure", "plane_angle", "fissured"]
        ),
        ProcedureStep(
            text="For the sensitivity, remould at the same water content and load again.", readings=["remoulded"]
        ),
    )
    cautions = (
        "Blades and wire saws: cut away from the hand.",
        "Keep fingers from between platen and specimen while the press moves.",
        DEFER,
    )

    def work_out(
        self, readings: UnconfinedReadings, settings: UnconfinedSettings, context: UnconfinedContext
    ) -> Reduction:
        return reduce_unconfined(readings, settings, context)

    def soil_needed(self, settings: UnconfinedSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=600, spent=False, note="one undisturbed cylinder with its trimmings")

    def timetable(self, readings: UnconfinedReadings, settings: UnconfinedSettings) -> list[Operation]:
        loaded = bool(readings.loading) or readings.log is not None
        return [
            Operation(
                key="trim",
                what="Trim, weigh and measure the specimen",
                due_min=0,
                tolerance_min=120,
                hands_on_min=30,
                done=readings.mass_g is not None,
                cell="mass_g",
            ),
            Operation(
                key="load",
                what="Load before it dries",
                due_min=30,
                tolerance_min=settings.dry_min,
                hands_on_min=20,
                resource="press",
                done=loaded,
                cell="loading.0.shortening_mm",
            ),
            *tins_dried("tins", readings.tins, 55, tins="Trimmings"),
        ]

    def virtual(
        self,
        soil: ClayCylinder,
        settings: UnconfinedSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> UnconfinedReadings:
        mistakes = self.plant(mistakes)
        length = 70.0 if "short" in mistakes else _LENGTH
        rounds = [
            {
                "top_mm": _hundredth(_DIAMETER, rng),
                "middle_mm": _hundredth(_DIAMETER, rng),
                "bottom_mm": _hundredth(_DIAMETER, rng),
                "length_mm": _hundredth(length, rng),
            }
            for _ in range(2)
        ]
        if "ends-skew" in mistakes:
            rounds[1]["length_mm"] = round(rounds[1]["length_mm"] - 2.4, 2)
        area = pi / 4 * _DIAMETER**2
        gs = 2.70
        dry = gs * WATER / (1 + soil.water_content / 100 * gs / 0.985)
        mass = dry * (1 + soil.water_content / 100) * area * length / 1000
        late = 0.9 if "bedded-in" in mistakes else 0.0
        loaded = [e for e in _LOADED_PERCENT if "stopped-early" not in mistakes or e < 0.8 * soil.failure_percent]
        return UnconfinedReadings.model_validate(
            {
                "mass_g": weigh(mass * (10 if "mass-tenfold" in mistakes else 1), 0.01),
                "calipers": rounds,
                "tins": [
                    tin_of_soil(rng, name, soil.water_content, float(rng.uniform(25, 40))) for name in tin_names(rng, 2)
                ],
                "rate_mm_min": 5.0 if "too-fast" in mistakes else 1.1,
                "minutes_since_cut": 60.0 if "left-to-dry" in mistakes else 8.0,
                "loading": _loading(soil, loaded, length, area, 1.0, late),
                "remoulded": _loading(
                    soil, [e for e in _LOADED_PERCENT if e >= 1], length, area, 1 / soil.sensitivity, 0.0
                ),
                "particle_density": gs,
                "failure": Failure.BULGE,
                "fissured": "no",
                "patched": "no",
            }
        )

    def truth(self, soil: ClayCylinder, settings: UnconfinedSettings) -> dict[str, float]:
        return {"qu": soil.compressive_kpa, "sensitivity": soil.sensitivity}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_clay_cylinder(rng)


def _hundredth(value: float, rng: np.random.Generator) -> float:
    return round(value + float(rng.normal(0, 0.015)), 2)


def _loading(
    soil: ClayCylinder, strains: list[float], length: float, area: float, share: float, late: float
) -> list[dict[str, float]]:
    """Return shortening and force, to a hundredth and a tenth, the first half percent soft where an end beds in."""
    rows = []
    for e in strains:
        short = round(e / 100 * length, 2)
        true = 100 * short / length
        if late:
            true = max(0.0, true - late) + 0.04 * min(true, late)
        force = share * soil.stress_kpa(true) / 1000 * area / (1 - short / length)
        rows.append({"shortening_mm": short, "force_n": round(force, 1)})
    return rows
