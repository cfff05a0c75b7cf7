"""The hydrometer analysis as a method."""

from datetime import timedelta
from typing import Any

import numpy as np

from vadum.soil.bench import particle
from vadum.soil.bench.grading import fractions, joint
from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.logged import Logged
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.neighbours import Alike, Rising, Smooth
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.contract.still import Moves
from vadum.soil.methods.hydrometer import findings as own_findings
from vadum.soil.methods.hydrometer.equations import (
    composite_correction,
    effective_depth_cm,
    own_depth_cm,
    stokes_diameter_mm,
)
from vadum.soil.methods.hydrometer.readings import HydrometerReadings, HydrometerSettings
from vadum.soil.methods.hydrometer.reduction import reduce_hydrometer
from vadum.soil.methods.hydrometer.stagger import MOST_CYLINDERS
from vadum.soil.methods.hydrometer.virtual import a_cylinder
from vadum.soil.physics.water import water_density, water_viscosity
from vadum.soil.virtual.grain_soil import GrainSoil, a_grain_soil

# Sixteen hours of soaking and the mixing come before the clock.
_START_MIN = 968.0


class Hydrometer(Method[HydrometerReadings, HydrometerSettings, GradingContext]):
    """Shares of silt and clay sizes from their settling in water."""

    code = "hydrometer"
    title = "Hydrometer analysis"
    known_as = ("sedimentation", "grain size", "particle size", "gradation", "clay fraction", "silt")
    version = "3"
    place = 50
    mark = "fines"
    curve_is = "fine grading"
    includes = ("sieve",)
    made_with = {"hydrometer": {}, "cylinder": {}}
    basis = ("ASTM D7928", "ASTM D422", "ISO 17892-4")
    run_together = MOST_CYLINDERS
    followed_at = 60
    clocked = ("sedimentation",)
    headline = ("clay_percent", "fines_percent", "d50_mm", "d60_mm", "d30_mm", "d10_mm")
    results = results_in(fractions)
    neighbours = (
        Alike(("corrections.temperature_c", "sedimentation.temperature_c"), apart=7.0),
        Smooth("sedimentation.hydrometer", "elapsed_min", x_else="due_min", log_x=True),
        Rising("sedimentation.elapsed_min"),
        Moves("sedimentation.hydrometer", log="log", least=8),
        Logged("sedimentation", goes_on="elapsed_min"),
    )
    findings = doubts_in(own_findings, particle, joint)
    computed = (
        Computed(table="sedimentation", key="depth_cm", label="L", unit="cm"),
        Computed(table="sedimentation", key="diameter_mm", label="D", unit="mm", decimals=4),
        Computed(table="sedimentation", key="finer_percent", label="finer", unit="%"),
    )
    Readings = HydrometerReadings
    Settings = HydrometerSettings
    Context = GradingContext
    mistakes = {
        "late": "the second reading is taken half as late again as planned",
        "seconds": "the first six times are typed in seconds",
        "read-wrongly": "one reading is higher than the one before",
        "mass-halved": "half the dry mass is written",
        "no-correction": "the dispersant solution is not read",
        "cold-night": "the last reading is taken far outside the corrections",
        "flocculated": "a clear layer stands on top",
    }
    equations = (
        SourceNote.of(effective_depth_cm),
        SourceNote.of(own_depth_cm),
        SourceNote.of(stokes_diameter_mm),
        SourceNote(
            gives="percent finer, 152H",
            equation="P = 100 a (R − F) / M, a = 1.65 Gs / (2.65 (Gs − 1))",
            source="ASTM D422 clause 14",
        ),
        SourceNote(
            gives="percent finer, 151H", equation="P = 100000/M × Gs/(Gs − 1) × (R − R0)", source="ASTM D422 clause 14"
        ),
        SourceNote.of(composite_correction),
        SourceNote(
            gives="whole sample",
            equation="P × share passing the sieve that fed the specimen / 100",
            source="ASTM D7928 clause 12",
        ),
        SourceNote.of(water_viscosity),
        SourceNote.of(water_density),
    )
    steps = (
        ProcedureStep(
            text="Weigh about 50 g dry soil (100 g if sandy), add 125 mL dispersant of 40 g/L, soak 16 h.",
            readings=["mass_dry_g"],
        ),
        ProcedureStep(
            text="Read the hydrometer in the dispersant solution at two temperatures around the test's.",
            readings=["corrections"],
        ),
        ProcedureStep(
            text=(
                "Mix, wash into the cylinder, fill to one litre, turn 60 times in a minute, set down, start the clock."
            ),
            readings=["started_at", "soil_on_wall"],
        ),
        ProcedureStep(
            text=(
                "Insert the hydrometer 20 to 30 s before a reading, read the top of the meniscus, take it out gently,"
                " spin it clean."
            ),
            readings=["sedimentation.hydrometer"],
        ),
        ProcedureStep(
            text="Read the temperature with every reading.", readings=["sedimentation.temperature_c", "clear_layer"]
        ),
        ProcedureStep(text="Wash the soil out over 0.075 mm, dry and sieve it.", readings=[]),
    )
    cautions = (
        "A one-litre glass cylinder breaks: carry it with both hands, no cracked rims.",
        "Dispersant powder irritates eyes and lungs: weigh it without stirring up dust, wash hands.",
        "Keep the mixer's paddle covered and its switch off while the cup is changed.",
        DEFER,
    )

    def work_out(
        self, readings: HydrometerReadings, settings: HydrometerSettings, context: GradingContext
    ) -> Reduction:
        return reduce_hydrometer(readings, settings, context)

    def begin(self, settings: HydrometerSettings, largest_particle_mm: float | None) -> dict[str, Any]:
        return {"sedimentation": [{"due_min": due} for due in settings.times]}

    def replanned(
        self, readings: dict[str, Any], before: HydrometerSettings, after: HydrometerSettings
    ) -> dict[str, Any]:
        if before.times == after.times or not after.times:
            return readings
        rows = readings.get("sedimentation", [])
        touched = max((i for i, row in enumerate(rows) if row.keys() - {"due_min"}), default=-1) + 1
        last = max((row.get("elapsed_min") or row.get("due_min") or 0.0 for row in rows[:touched]), default=0.0)
        coming = [{"due_min": due} for due in after.times if due > last]
        return readings | {"sedimentation": rows[:touched] + coming}

    def soil_needed(self, settings: HydrometerSettings, largest_particle_mm: float | None) -> SoilNeed:
        return SoilNeed(mass_g=120, spent=True, note="dispersed; taken from what passes the specimen's sieve")

    def timetable(self, readings: HydrometerReadings, settings: HydrometerSettings) -> list[Operation]:
        begun = readings.started_at
        rows = {row.due_min: (i, row) for i, row in enumerate(readings.sedimentation) if row.due_min}
        taken = any(row.hydrometer is not None for row in readings.sedimentation) or readings.log is not None
        operations = [
            Operation(
                key="soak",
                what="Soil into dispersant",
                due_min=0,
                tolerance_min=60,
                hands_on_min=10,
                resource="jar",
                holds_min=960,
                done=readings.mass_dry_g is not None or begun is not None or taken,
                cell="mass_dry_g",
            ),
            Operation(
                key="mix",
                what="Mix, wash into the cylinder, turn 60 times",
                due_min=960,
                tolerance_min=480,
                hands_on_min=8,
                resource="mixer",
                done=begun is not None or taken,
            ),
            Operation(
                key="start",
                what="Set down, start the clock",
                due_min=_START_MIN,
                tolerance_min=5,
                hands_on_min=0.5,
                resource="cylinder",
                holds_min=1440,
                done=begun is not None or taken,
                at=begun,
                cell="started_at",
            ),
        ]
        for due in sorted(rows) or settings.times:
            i, row = rows.get(due, (0, None))
            done = row is not None and row.hydrometer is not None
            at = begun + timedelta(minutes=row.minutes or due) if begun and row is not None and done else None
            operations.append(
                Operation(
                    key=f"read-{due:g}",
                    what=f"Read at {due:g} min",
                    due_min=_START_MIN + due,
                    tolerance_min=0.1 * due,
                    hands_on_min=1,
                    resource="hydrometer",
                    after="start",
                    done=done,
                    at=at,
                    cell=f"sedimentation.{i}.hydrometer",
                )
            )
        return operations

    def run_view(
        self, readings: HydrometerReadings, settings: HydrometerSettings, context: GradingContext
    ) -> dict[str, Any]:
        known = [c.hydrometer for c in readings.corrections if c.used and c.hydrometer is not None]
        return {
            "cylinder": {
                "startedAt": readings.started_at.isoformat() if readings.started_at else "",
                "readings": [
                    {
                        "row": i,
                        "due": row.due_min or row.elapsed_min,
                        "taken": row.elapsed_min,
                        "reading": row.hydrometer,
                        "temperature": row.temperature_c,
                    }
                    for i, row in enumerate(readings.sedimentation)
                    if row.due_min or row.elapsed_min
                ],
                "lowest": min(known) if known else None,
                "instrument": settings.instrument,
                "latePercent": settings.late_percent,
            }
        }

    def virtual(
        self,
        soil: GrainSoil,
        settings: HydrometerSettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> HydrometerReadings:
        return a_cylinder(soil, settings, rng, self.plant(mistakes))

    def truth(self, soil: GrainSoil, settings: HydrometerSettings) -> dict[str, float]:
        return {"clay_percent": soil.finer(0.002), "d50_mm": soil.diameter(50), "d60_mm": soil.diameter(60)}

    def at_time(
        self, hidden: HydrometerReadings, so_far: HydrometerReadings, path: str, minutes: float
    ) -> float | None:
        table, _, name = (*path.split("."), "", "")[:3]
        if table != "sedimentation" or name not in ("hydrometer", "temperature_c") or minutes <= 0:
            return None
        taken = sorted((row.minutes, getattr(row, name)) for row in hidden.sedimentation if row.minutes)
        return float(np.interp(np.log(minutes), np.log([at for at, _ in taken]), [value for _, value in taken]))

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_grain_soil(rng)
