"""The triaxial test as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import one_soil, particle, weighing
from vadum.soil.bench.cylinder import begins, specimen
from vadum.soil.bench.cylinder.preparing import MOUNT_FROM_MIN, membrane_operations, stones_operations
from vadum.soil.bench.one_soil import OneSoil, tins_agree
from vadum.soil.bench.peak import LOAD_TAKEN_OFF, PEAK_UNREAD
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.logged import Logged
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Counted, Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.rows import Parts
from vadum.soil.contract.still import Moves
from vadum.soil.methods.triaxial import findings as own_findings
from vadum.soil.methods.triaxial import results as own_results
from vadum.soil.methods.triaxial.readings import MOST_SPECIMENS, TriaxialReadings
from vadum.soil.methods.triaxial.reduction import reduce_triaxial
from vadum.soil.methods.triaxial.settings import TriaxialContext, TriaxialSettings
from vadum.soil.methods.triaxial.virtual import MISTAKES, a_triaxial
from vadum.soil.physics.consolidation import log_time, root_time
from vadum.soil.physics.triaxial import (
    area_alike_mm2,
    consolidated_area_mm2,
    consolidation_coefficient_m2_year,
    envelope_by_st,
    failure_minutes,
    final_area_mm2,
    membrane_kpa,
    pore_pressure_coefficient,
    saturated_cm3,
    secant_friction_deg,
    sheared_area_mm2,
)
from vadum.soil.virtual.cell_clay import CellClay, a_cell_clay


class Triaxial(Method[TriaxialReadings, TriaxialSettings, TriaxialContext]):
    """Strength of cylinders held by the pressure of a cell: undrained, or with pore pressure or volume measured."""

    code = "triaxial"
    title = "Triaxial compression"
    known_as = ("shear strength", "effective stress", "undrained", "consolidated")
    version = "7"
    place = 160
    mark = "c′ φ′"
    made_with = {"press": {}, "triaxial cell": {}, "load ring": {}, "gauge": {}, "pressure gauge": {}}
    basis = ("ASTM D2850", "ASTM D4767", "ASTM D7181", "ISO 17892-8", "ISO 17892-9")
    folds = {"saturation": "specimen", "consolidation": "specimen", "shearing": "specimen"}
    recorded = ("shearing",)
    parts = Parts("specimens", "specimen", ("times", "after"))
    headline = (
        "friction_effective",
        "cohesion_effective",
        "cu",
        "cu_spread",
        "friction_total",
        "cohesion_total",
        "r_squared",
        *(f"secant_{number}" for number in range(1, MOST_SPECIMENS + 1)),
    )
    results = results_in(own_results)
    neighbours = (
        Counted("log.specimen", MOST_SPECIMENS),
        Logged("shearing", goes_on="shortening_mm", group="specimen", trembles=0.05),
        Moves("shearing.shortening_mm", group="specimen", log="log"),
        Moves("shearing.force_n", group="specimen", log="log", beside="shortening_mm"),
        # Undrained, every load on the specimen moves its water, until it fails.
        Moves("shearing.pore_kpa", "specimen", "log", zero_is_blank=True, beside="force_n", most=0.1),
        Rising("shearing.shortening_mm", group="specimen"),
        Smooth("shearing.force_n", "shortening_mm", group="specimen"),
        Smooth("shearing.pore_kpa", "shortening_mm", group="specimen"),
        OwnSeries(("shearing.force_n",), group="specimen", log="log", unless=("kind", "UU")),
        OwnSeries(("consolidation.out_cm3",), group="specimen"),
        Rising("consolidation.elapsed_min", group="specimen"),
        Smooth("consolidation.out_cm3", "elapsed_min", group="specimen", log_x=True),
        Rising("consolidation.out_cm3", group="specimen", level=True, slack=0.1),
        *tins_agree("tins", group="specimen"),
        OneSoil("tins", within=0.4),  # the specimens are of one sample, if not as alike as two tins of one
    )
    findings = doubts_in(own_findings, weighing, one_soil, specimen, begins, particle, (LOAD_TAKEN_OFF, PEAK_UNREAD))
    columns = {
        "calipers": ("specimen", "top_mm", "middle_mm", "bottom_mm", "length_mm"),
        "tins": ("specimen", "tin", "mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g"),
    }
    computed = (
        Computed(table="specimens", key="density", label="ρ", unit="g/cm³", decimals=2),
        Computed(table="specimens", key="b", label="B", decimals=2),
        Computed(table="tins", key="water_content", label="w", unit="%"),
        Computed(table="tins", key="dry_density", label="ρd", unit="g/cm³", decimals=2),
        Computed(table="calipers", key="mean_mm", label="mean D", unit="mm", decimals=2),
        Computed(table="saturation", key="b", label="B", decimals=2),
        Computed(table="after", key="area_mm2", label="A", unit="mm²", decimals=0),
        Computed(table="after", key="length_mm", label="L", unit="mm"),
        Computed(table="after", key="water_content", label="w", unit="%"),
        Computed(table="after", key="dry_density", label="ρd", unit="g/cm³", decimals=2),
        Computed(table="after", key="void_ratio", label="e", decimals=2),
        Computed(table="shearing", key="deviator_kpa", label="q", unit="kPa"),
    )
    Readings = TriaxialReadings
    Settings = TriaxialSettings
    Context = TriaxialContext
    mistakes = MISTAKES
    equations = (
        SourceNote.of(pore_pressure_coefficient),
        SourceNote.of(saturated_cm3),
        SourceNote.of(consolidated_area_mm2),
        SourceNote.of(area_alike_mm2),
        SourceNote.of(final_area_mm2),
        SourceNote.of(sheared_area_mm2),
        SourceNote.of(membrane_kpa),
        SourceNote.of(root_time),
        SourceNote.of(log_time),
        SourceNote.of(failure_minutes),
        SourceNote.of(consolidation_coefficient_m2_year),
        SourceNote.of(envelope_by_st),
        SourceNote.of(secant_friction_deg),
        SourceNote(gives="pore-pressure coefficient", equation="Af = Δu / Δ(σ1 − σ3)", source="Skempton (1954)"),
    )
    steps = (
        ProcedureStep(text="The day before: put the membrane into water, for as long as the settings say."),
        ProcedureStep(
            text="Lay out: stones and filter papers, membrane and its stretcher, four O-rings, caps, side drains, wire"
            " saw and mitre box, calipers, balance, two tins, de-aired water, grease, plaster for voids."
        ),
        ProcedureStep(text="Boil the stones 10 min, cool, ultrasonic bath, keep de-aired.", readings=["membrane_mm"]),
        ProcedureStep(
            text="Trim to L/D 2; calipers top, middle, bottom, both ways; weigh; patch voids of stones and say so.",
            readings=["calipers", "tins", "specimens", "patched"],
        ),
        ProcedureStep(
            text="Saturate by steps of back pressure, the cell always above it; measure B.", readings=["saturation"]
        ),
        ProcedureStep(
            text="Consolidate; read water out against time; find t100 and the rate.",
            readings=["consolidation", "specimens.out_cm3", "rate_mm_min"],
        ),
        ProcedureStep(text="Hold everything and look for a leak.", readings=["leak_cm3_h"]),
        ProcedureStep(
            text="Shear to a peak or 15 %; read force, shortening, pore pressure or volume.", readings=["shearing"]
        ),
        ProcedureStep(
            text="Take the specimen out at once, blot and weigh it whole, sketch its failure; dry and weigh it again.",
            readings=["after"],
        ),
        ProcedureStep(text="Three specimens at different pressures.", readings=["specimens"]),
    )
    cautions = (
        (
            "A cell under pressure: look for scratches in the acrylic, stay below its rated pressure, fill it with"
            " water and never with air."
        ),
        "Hot stones: tongs, let them cool before the membrane.",
        "Blades and wire saws: cut away from the hand.",
        DEFER,
    )

    def work_out(self, readings: TriaxialReadings, settings: TriaxialSettings, context: TriaxialContext) -> Reduction:
        return reduce_triaxial(readings, settings, context)

    def soil_needed(self, settings: TriaxialSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=1500, spent=False, note="three undisturbed cylinders with trimmings")

    def timetable(self, readings: TriaxialReadings, settings: TriaxialSettings) -> list[Operation]:
        sheared = bool(readings.shearing) or readings.log is not None
        # What was prepared is ticked by hand; a specimen that was sheared had its stones and its membrane.
        soaking = 60 * settings.soak_h
        mount = max(MOUNT_FROM_MIN, soaking)
        measured = bool(readings.specimens)
        operations = [
            *membrane_operations(soaking, done=sheared),
            *stones_operations(mount - MOUNT_FROM_MIN, done=sheared),
            Operation(
                key="trim",
                what="Trim, measure and mount",
                due_min=mount,
                tolerance_min=120,
                hands_on_min=60,
                resource="triaxial cell",
                holds_min=60 if settings.kind == "UU" else 4320,
                done=measured,
                cell="specimens.0.diameter_mm",
            ),
        ]
        begun = mount + 60.0
        if settings.kind != "UU":
            operations += [
                Operation(
                    key="saturate",
                    what="Saturate by steps, measure B",
                    due_min=begun,
                    tolerance_min=240,
                    hands_on_min=60,
                    done=bool(readings.saturation),
                    cell="saturation.0.cell_kpa",
                ),
                Operation(
                    key="consolidate",
                    what="Consolidate, read water out",
                    due_min=begun + 1440,
                    tolerance_min=480,
                    hands_on_min=45,
                    done=bool(readings.consolidation),
                    cell="consolidation.0.elapsed_min",
                ),
            ]
            begun += 2880
        operations.append(
            Operation(
                key="shear",
                what="Shear",
                due_min=begun,
                tolerance_min=480,
                hands_on_min=30,
                done=sheared,
                cell="shearing.0.shortening_mm",
            )
        )
        return operations

    def virtual(
        self,
        soil: CellClay,
        settings: TriaxialSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> TriaxialReadings:
        return a_triaxial(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: CellClay, settings: TriaxialSettings) -> dict[str, float]:
        if settings.kind == "UU":
            return {"cu": soil.undrained_kpa}
        return {"friction_effective": soil.friction_deg, "cohesion_effective": soil.cohesion_kpa}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_cell_clay(rng)
