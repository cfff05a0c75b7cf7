"""Direct shear as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import particle
from vadum.soil.bench.peak import LOAD_TAKEN_OFF, PEAK_UNREAD
from vadum.soil.contract import by_hand
from vadum.soil.contract.copies import OwnSeries
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.logged import Logged
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Counted, Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.rows import Parts
from vadum.soil.contract.still import Moves
from vadum.soil.methods.direct_shear import findings as own_findings
from vadum.soil.methods.direct_shear import results as own_results
from vadum.soil.methods.direct_shear.readings import DirectShearReadings
from vadum.soil.methods.direct_shear.reduction import reduce_direct_shear
from vadum.soil.methods.direct_shear.settings import MOST_SPECIMENS, DirectShearContext, DirectShearSettings
from vadum.soil.methods.direct_shear.specimens import area_left
from vadum.soil.methods.direct_shear.states import relative_density_percent
from vadum.soil.methods.direct_shear.virtual import MISTAKES, a_shear_box
from vadum.soil.physics.envelope import envelope
from vadum.soil.virtual.box_soil import BoxSoil, a_box_soil


class DirectShear(Method[DirectShearReadings, DirectShearSettings, DirectShearContext]):
    """Strength on a plane through a box of soil, drained, under several loads."""

    code = "direct-shear"
    title = "Direct shear"
    known_as = ("shear box", "shear strength", "friction angle", "cohesion")
    version = "5"
    place = 140
    mark = "φ′"
    made_with = {"shear box": {}, "load ring": {}, "gauge": {}}
    basis = ("ASTM D3080", "ISO 17892-10")
    folds = {"record": "specimen"}
    recorded = ("record",)
    parts = Parts("specimens", "specimen", ("after",))
    headline = (
        "friction_peak",
        "cohesion_peak",
        "friction_residual",
        "cohesion_residual",
        "friction_end",
        "cohesion_end",
        "dilation",
        "r_squared",
    )
    results = results_in(own_results)
    neighbours = (
        Counted("log.specimen", MOST_SPECIMENS),
        # That it goes on is said with the reversals, where it may go back.
        Logged("record", group="specimen"),
        Moves("record.horizontal_mm", group="specimen", log="log"),
        # In its constant state a soil is sheared at one force, for a third of the way and in every pass.
        Moves("record.force_n", "specimen", "log", beside="horizontal_mm", most=0.5, unless="reversals"),
        Moves("record.force_div", "specimen", beside="horizontal_mm", most=0.5, unless="reversals"),
        Rising("record.horizontal_mm", group="specimen", level=True, unless="reversals"),
        OwnSeries(("record.force_n",), group="specimen", log="log"),
        OwnSeries(("record.force_div",), group="specimen"),
        Smooth("record.force_n", "horizontal_mm", group="specimen", unless="reversals"),
        Smooth("record.force_div", "horizontal_mm", group="specimen", unless="reversals"),
    )
    findings = doubts_in(own_findings, by_hand, particle, (LOAD_TAKEN_OFF, PEAK_UNREAD))
    computed = (
        Computed(table="specimens", key="normal_kpa", label="σ", unit="kPa"),
        Computed(table="specimens", key="density", label="ρ", unit="g/cm³", decimals=3),
        Computed(table="after", key="water_content", label="w", unit="%"),
        Computed(table="after", key="dry_density", label="ρd", unit="g/cm³", decimals=3),
        Computed(table="after", key="void_ratio", label="e", decimals=3),
        Computed(table="after", key="relative_density", label="Dr", unit="%", decimals=0),
        Computed(table="specimens", key="peak_kpa", label="τ peak", unit="kPa"),
        Computed(table="after", key="peak_mm", label="peak at", unit="mm", decimals=2),
        Computed(table="record", key="shear_kpa", label="τ", unit="kPa"),
    )
    Readings = DirectShearReadings
    Settings = DirectShearSettings
    Context = DirectShearContext
    mistakes = MISTAKES
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
        SourceNote.of(relative_density_percent),
        SourceNote(
            gives="residual strength",
            equation="τr: end of the last of the passes, when two end alike",
            source="BS 1377-7 clause 5",
        ),
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
        ProcedureStep(
            text="For the residual strength push the box back and shear again, until two passes end alike.",
            readings=["record"],
        ),
        ProcedureStep(text="Dry the whole specimen and weigh it: water content and void ratio.", readings=["after"]),
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
        return reduce_direct_shear(readings, settings, context)

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
        return a_shear_box(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: BoxSoil, settings: DirectShearSettings) -> dict[str, float]:
        known = {"friction_peak": soil.friction_peak_deg, "friction_end": soil.friction_end_deg}
        return known | ({"friction_residual": soil.friction_residual_deg} if settings.reversals else {})

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_box_soil(rng)
