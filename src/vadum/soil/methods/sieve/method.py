"""The sieve analysis as a method."""

from math import ceil
from typing import Any

import numpy as np

from vadum.soil.bench.grading import fractions, joint
from vadum.soil.bench.grading.context import GradingContext
from vadum.soil.bench.grading.fractions import Convention, fines_bound_mm
from vadum.soil.bench.grading.sieves import STACKS, least_specimen_g, most_on_sieve_g
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Before, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.sieve import findings as own_findings
from vadum.soil.methods.sieve import results as own_results
from vadum.soil.methods.sieve.readings import Clods, Entry, SieveReadings, SieveSettings, Split, Washing
from vadum.soil.methods.sieve.reduction import reduce_sieve
from vadum.soil.physics.grading import curvature, uniformity
from vadum.soil.virtual.grain_soil import GrainSoil, a_grain_soil
from vadum.soil.virtual.plastic_soil import weigh

# Where a virtual technician splits, and what is riffled out below it.
_SPLIT_MM, _RIFFLED_G = 4.75, 800.0


class Sieve(Method[SieveReadings, SieveSettings, GradingContext]):
    """Shares of grain sizes down to the finest sieve."""

    code = "sieve"
    title = "Sieve analysis"
    known_as = ("grain size", "particle size", "gradation", "grading", "sieving", "wash")
    version = "3"
    place = 40
    mark = "grading"
    curve_is = "coarse grading"
    waits_for = (Before("water-content", "oven-in", "oven-in", "the natural water content before the soil is dried"),)
    made_with = {"sieve": {}, "oven": {}}
    basis = ("ASTM D6913", "ASTM C136", "ASTM D1140", "ISO 17892-4")
    headline = ("fines_percent", "sand_percent", "gravel_percent", "d60_mm", "d10_mm", "uniformity", "curvature")
    results = results_in(own_results, fractions)
    findings = doubts_in(own_findings, joint)
    computed = (
        Computed(table="sieves", key="name", label="sieve"),
        Computed(table="sieves", key="retained_percent", label="ret.", unit="%"),
        Computed(table="sieves", key="finer_percent", label="finer", unit="%"),
    )
    Readings = SieveReadings
    Settings = SieveSettings
    Context = GradingContext
    mistakes = {
        "soil-lost": "5 % of the soil is lost between sieve and balance",
        "overloaded": "far too much soil goes through the stack at once",
        "out-of-order": "two sieves change places",
        "mass-twice": "one mass is written on two sieves",
        "not-finished": "sieving stops while soil still passes",
        "clods-left": "clods are not broken down",
    }
    equations = (
        SourceNote(gives="percent finer", equation="P = 100 (1 − sum retained / M)", source="ASTM D6913 clause 12"),
        SourceNote(
            gives="D-values", equation="log d is linear in P between neighbouring points", source="ASTM D6913 clause 12"
        ),
        SourceNote.of(uniformity),
        SourceNote.of(curvature),
        SourceNote(
            gives="most on a sieve",
            equation="7 kg/m² below 4.75 mm, else 2.5 kg/m² per mm of opening",
            source="ASTM C136 clause 8.3",
        ),
    )
    steps = (
        ProcedureStep(
            text="Dry at 110 °C, break clods with a rubber pestle, weigh.",
            readings=["mass_dry_g", "clods", "largest_particle_mm"],
        ),
        ProcedureStep(
            text="Soak, wash over the finest sieve until the water is clear, dry, weigh.", readings=["mass_washed_g"]
        ),
        ProcedureStep(text="Stack the sieves coarsest on top, shake 10 to 15 min.", readings=["sieves.opening_mm"]),
        ProcedureStep(
            text="Sieve each by hand over a tray: less than 1 % may pass in a minute.",
            readings=["sieves.mass_passed_g"],
        ),
        ProcedureStep(
            text="Weigh sieve by sieve, then the pan.",
            readings=["sieves.mass_retained_g", "sieves.mass_cumulative_g", "mass_pan_g"],
        ),
    )
    cautions = (
        "Dry fines are dust that harms the lungs: extraction or a mask, wet wiping.",
        "A shaker is loud: ear protection, hood closed; stop it before reaching in.",
        "Loaded stacks and pans are heavy and come hot from the oven.",
        DEFER,
    )

    def work_out(self, readings: SieveReadings, settings: SieveSettings, context: GradingContext) -> Reduction:
        return reduce_sieve(readings, settings, context)

    def begin(self, settings: SieveSettings, largest_particle_mm: float | None) -> dict[str, Any]:
        openings = STACKS["by number" if settings.convention == Convention.UNIFIED else "in mm"]
        above = [d for d in openings if largest_particle_mm and d >= largest_particle_mm]
        return {"sieves": [{"opening_mm": d} for d in openings if not above or d <= above[-1]]}

    def soil_needed(self, settings: SieveSettings, largest_particle_mm: float | None) -> SoilNeed:
        mass = least_specimen_g(largest_particle_mm or 4.75, settings.specimen_rule)
        return SoilNeed(mass_g=mass, spent=True, note="oven-dried and washed")

    def timetable(self, readings: SieveReadings, settings: SieveSettings) -> list[Operation]:
        dry = Operation(
            key="dry",
            what="Specimen out of the oven, weigh",
            due_min=960,
            tolerance_min=480,
            hands_on_min=10,
            done=readings.mass_dry_g is not None,
            cell="mass_dry_g",
        )
        put = Operation(
            key="oven-in",
            what="Specimen into the oven",
            due_min=0,
            tolerance_min=60,
            hands_on_min=5,
            resource="oven",
            holds_min=960,
            done=dry.done,
        )
        shaken = readings.mass_pan_g is not None
        if settings.washing == Washing.DRY:
            return [
                put,
                dry,
                Operation(
                    key="shake",
                    what="Shake the stack and weigh",
                    due_min=990,
                    tolerance_min=480,
                    hands_on_min=40,
                    resource="shaker",
                    done=shaken,
                    cell="mass_pan_g",
                ),
            ]
        washed = readings.mass_washed_g is not None
        return [
            put,
            dry,
            Operation(
                key="wash",
                what="Soak and wash over the finest sieve, into the oven",
                due_min=980,
                tolerance_min=480,
                hands_on_min=30,
                resource="oven",
                holds_min=960,
                done=washed,
            ),
            Operation(
                key="dry-again",
                what="Washed soil out of the oven, weigh",
                due_min=1970,
                tolerance_min=960,
                hands_on_min=10,
                done=washed,
                cell="mass_washed_g",
            ),
            Operation(
                key="shake",
                what="Shake the stack and weigh",
                due_min=1990,
                tolerance_min=960,
                hands_on_min=40,
                resource="shaker",
                done=shaken,
                cell="mass_pan_g",
            ),
        ]

    def virtual(
        self, soil: GrainSoil, settings: SieveSettings, rng: np.random.Generator, mistakes: frozenset[str] = frozenset()
    ) -> SieveReadings:
        mistakes = self.plant(mistakes)
        stack = list(STACKS["by number" if settings.convention == Convention.UNIFIED else "in mm"])
        whole = [d for d in stack if soil.finer(d) >= 99.99]
        stack = [d for d in stack if not whole or d <= whole[-1]]
        grain = stack[0]
        mass = least_specimen_g(grain, settings.specimen_rule) * float(rng.uniform(1.05, 1.25))
        if "overloaded" in mistakes:
            mass = max(mass * 3, 4000.0)
        finer = np.array([soil.finer(d) for d in stack])
        retained = mass / 100 * -np.diff(finer, prepend=100.0)
        if "soil-lost" in mistakes:
            retained[np.argmax(retained)] -= min(0.05 * mass, retained.max())
        if "mass-twice" in mistakes:
            biggest = int(np.argmax(retained))
            retained[biggest - 1 if biggest else 1] = retained[biggest]
        resolution = 0.01 if mass < 500 else 0.1 if mass < 6000 else 1.0
        full = [m / most_on_sieve_g(d, settings.sieve_diameter_mm) for d, m in zip(stack, retained, strict=True)]
        # Below the split a riffled part goes through the stack and stands for all that passed.
        split: dict[str, float] = {}
        part = mass
        if settings.split == Split.RIFFLED:
            at = next((d for d in stack if d <= _SPLIT_MM), stack[0])
            below = mass / 100 * float(soil.finer(at))
            # What is riffled out is light enough for a finer balance.
            resolution = min(resolution, 0.1)
            part = weigh(min(below, _RIFFLED_G), resolution)
            split = {"split_mm": at, "mass_below_split_g": weigh(below, resolution), "mass_riffled_g": part}
            retained = np.where(np.array(stack) < at, retained * part / below, retained)
            finer = np.where(np.array(stack) < at, 100 * finer / soil.finer(at), finer)
        rows: list[dict[str, Any]] = [
            {"opening_mm": d, "mass_retained_g": weigh(float(m), resolution)}
            for d, m in zip(stack, retained, strict=True)
        ]
        washed_away = part * finer[-1] / 100 * 0.97 if settings.washing == Washing.WASHED else 0.0
        pan = part * finer[-1] / 100 - washed_away
        pan_empty = None
        if settings.entry == Entry.CUMULATIVE:
            so_far = 0.0
            for row in rows:
                so_far += row.pop("mass_retained_g")
                row["mass_cumulative_g"] = weigh(so_far, resolution)
            pan += so_far
        elif settings.entry == Entry.LOADED:
            pan_empty = 310.0
            for row in rows:
                row["mass_empty_g"] = weigh(float(rng.uniform(300, 450)), resolution)
                row["mass_loaded_g"] = weigh(row["mass_empty_g"] + row.pop("mass_retained_g"), resolution)
            pan += pan_empty
        if "out-of-order" in mistakes:
            rows[-2], rows[-3] = rows[-3], rows[-2]
        if "not-finished" in mistakes:
            heaviest = rows[int(np.argmax(retained))]
            heaviest["mass_passed_g"] = weigh(0.03 * float(retained.max()))
        return SieveReadings.model_validate(
            split
            | {
                "mass_dry_g": weigh(mass, resolution),
                "mass_washed_g": weigh(part - washed_away, resolution) if settings.washing == Washing.WASHED else None,
                "mass_pan_empty_g": pan_empty,
                "mass_pan_g": weigh(pan, resolution),
                "largest_particle_mm": grain,
                # A load that a balance rounds up is no overload.
                "loads": 1 if "overloaded" in mistakes else ceil(1.001 * max(full)),
                "clods": Clods.LEFT if "clods-left" in mistakes else Clods.NONE,
                "sieves": rows,
            }
        )

    def truth(self, soil: GrainSoil, settings: SieveSettings) -> dict[str, float]:
        fines = fines_bound_mm(settings.convention)
        shown = {f"d{n}_mm": soil.diameter(n) for n in (10, 30, 60) if soil.diameter(n) > fines}
        return {"fines_percent": soil.finer(fines)} | shown

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_grain_soil(rng)
