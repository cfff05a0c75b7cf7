"""The driven ring as a method."""

from typing import Any

import numpy as np

from vadum.soil.bench import constant_mass, one_soil, particle, phases, weighing
from vadum.soil.bench.constant_mass import DRIED_IN_OVEN, weighed_once_more
from vadum.soil.bench.drying import tins_dried
from vadum.soil.bench.one_soil import tins_agree
from vadum.soil.bench.phases import DensityContext
from vadum.soil.contract.finding import doubts_in
from vadum.soil.contract.method import DEFER, Computed, Method, Operation, ProcedureStep, SoilNeed, SourceNote
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import results_in
from vadum.soil.methods.ring_density import findings as own_findings
from vadum.soil.methods.ring_density import results as own_results
from vadum.soil.methods.ring_density.readings import RingDensityReadings, RingDensitySettings, Way
from vadum.soil.methods.ring_density.reduction import reduce_ring, ring_volume_cm3
from vadum.soil.physics.immersion import waxed_volume_cm3
from vadum.soil.physics.phases import dry_density, saturation_percent, void_ratio
from vadum.soil.physics.water import water_density
from vadum.soil.virtual.packed_soil import PackedSoil, a_packed_soil
from vadum.soil.virtual.plastic_soil import tin_names, tin_of_soil, weigh


class RingDensity(Method[RingDensityReadings, RingDensitySettings, DensityContext]):
    """Density in place of soil that stands in a driven ring."""

    code = "ring-density"
    title = "Density, driven ring"
    known_as = ("core cutter", "drive cylinder", "bulk density", "unit weight")
    version = "2"
    place = 70
    mark = "ring"
    made_with = {"ring": {}, "oven": DRIED_IN_OVEN}
    basis = ("ASTM D2937", "ASTM D7263", "ISO 17892-2")
    headline = ("dry_density", "bulk_density", "water_content", "saturation_percent", "void_ratio", "air_percent")
    results = results_in(own_results, phases)
    neighbours = (*tins_agree("tins"),)
    findings = doubts_in(own_findings, constant_mass, weighing, one_soil, particle, phases)
    computed = (Computed(table="tins", key="water_content_percent", label="w", unit="%"),)
    columns = {"tins": ("tin", "mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g")}
    Readings = RingDensityReadings
    Settings = RingDensitySettings
    Context = DensityContext
    mistakes = {
        "uneven": "the surface in the ring slopes by 6 mm",
        "headspace-in-cm": "the ring's height is typed in cm",
        "soil-lost": "soil falls out of the ring",
        "wrong-tin": "the tin's dry mass is far too low",
    }
    equations = (
        SourceNote(gives="volume", equation="V = π/4 d² (h − mean headspace)", source="ASTM D7263 clause 10"),
        SourceNote.of(waxed_volume_cm3),
        SourceNote(gives="bulk density", equation="ρ = M / V", source="ASTM D7263 clause 10"),
        SourceNote.of(dry_density),
        SourceNote.of(void_ratio),
        SourceNote(gives="porosity", equation="n = e / (1 + e)", source="ASTM D7263 clause 10"),
        SourceNote.of(saturation_percent),
        SourceNote(gives="air content", equation="100 − solids − water, of the volume", source="from the phases"),
    )
    steps = (
        ProcedureStep(text="Measure the ring.", readings=["diameter_mm", "height_mm"]),
        ProcedureStep(
            text="Level the ground, drive the ring straight without rocking, dig it out, trim the lower face.",
            readings=["lost_soil"],
        ),
        ProcedureStep(text="Measure the headspace at several angles.", readings=["headspaces"]),
        ProcedureStep(
            text="A piece of a core instead: calipers all round, or wax it and weigh it in air and under water.",
            readings=["calipers", "mass_waxed_g", "mass_in_water_g", "temperature_c"],
        ),
        ProcedureStep(text="Push the soil into a weighed bag and weigh it.", readings=["mass_bag_g", "mass_bag_wet_g"]),
        ProcedureStep(text="Dry a tin from each end: of one alone nothing tells a wrong mass.", readings=["tins"]),
    )
    cautions = (
        "Locate buried services before digging or driving.",
        "Hammering: eye protection, fingers away from the driver; lift with bent knees.",
        "Stay out of unsupported pits deeper than the local rules allow.",
        DEFER,
    )

    def work_out(
        self, readings: RingDensityReadings, settings: RingDensitySettings, context: DensityContext
    ) -> Reduction:
        return reduce_ring(readings, settings, context)

    def soil_needed(self, settings: RingDensitySettings, largest_particle_mm: float | None) -> SoilNeed | None:
        return None

    def timetable(self, readings: RingDensityReadings, settings: RingDensitySettings) -> list[Operation]:
        return [
            Operation(
                key="drive",
                what="Drive, measure and weigh the ring",
                due_min=0,
                tolerance_min=60,
                hands_on_min=25,
                done=readings.mass_bag_wet_g is not None,
                cell="mass_bag_wet_g",
            ),
            *tins_dried("tins", readings.tins, 60, tins="Tin", weigh="Weigh the dry tin"),
        ]

    def virtual(
        self,
        soil: PackedSoil,
        settings: RingDensitySettings,
        rng: np.random.Generator,
        mistakes: frozenset[str] = frozenset(),
    ) -> RingDensityReadings:
        mistakes = self.plant(mistakes)
        diameter, height = 100.0, 120.0
        if settings.way != Way.RING:
            return _a_lump(soil, settings, rng)
        gaps = [round(8 + float(rng.uniform(-1, 1)), 1) for _ in range(max(3, settings.headspaces_needed))]
        if "uneven" in mistakes:
            gaps[:3] = [4.0, 7.0, 10.0]
        volume = ring_volume_cm3(diameter, height, sum(gaps) / len(gaps))
        bag = weigh(float(rng.uniform(8, 12)), 0.1)
        tins = _two_tins(soil, rng)
        if "wrong-tin" in mistakes:
            tins[0]["mass_tin_dry_g"] = weigh(float(tins[0]["mass_tin_g"]) - 1.0)
        return RingDensityReadings.model_validate(
            {
                "diameter_mm": diameter,
                "height_mm": height / 10 if "headspace-in-cm" in mistakes else height,
                "headspaces": [{"headspace_mm": gap} for gap in gaps],
                "mass_bag_g": bag,
                "mass_bag_wet_g": weigh(bag + volume * soil.bulk_density, 0.1),
                "tins": tins,
                "reweighings": weighed_once_more(tins, settings.tins_dried),
                "particle_density": round(soil.particle_density, 3),
                "lost_soil": "yes" if "soil-lost" in mistakes else "no",
            }
        )

    def truth(self, soil: PackedSoil, settings: RingDensitySettings) -> dict[str, float]:
        return {"dry_density": soil.dry_density, "water_content": soil.water_content}

    def a_soil(self, rng: np.random.Generator) -> Any:
        return a_packed_soil(rng)


def _two_tins(soil: PackedSoil, rng: np.random.Generator) -> list[dict[str, Any]]:
    """Return a tin from each end; the second is of a stream of its own, so that what is drawn later stays the same."""
    other = rng.spawn(1)[0]
    first = tin_names(rng, 1)[0]
    second = next(name for name in tin_names(other, 2) if name != first)
    drawn = ((first, rng), (second, other))
    return [tin_of_soil(by, name, soil.water_content, float(by.uniform(60, 90))) for name, by in drawn]


def _a_lump(soil: PackedSoil, settings: RingDensitySettings, rng: np.random.Generator) -> RingDensityReadings:
    """Return a trimmed cylinder, by calipers or by wax and water."""
    diameter, length = (round(float(rng.uniform(low, low + 3)), 2) for low in (37.0, 75.0))
    volume = np.pi / 4 * diameter**2 * length / 1000
    bare, wax = volume * soil.bulk_density, float(rng.uniform(6, 12))
    readings = {
        "mass_bag_g": 0.0,
        "mass_bag_wet_g": weigh(bare, 0.1),
        "tins": _two_tins(soil, rng),
        "particle_density": round(soil.particle_density, 3),
        "lost_soil": "no",
    }
    if settings.way == Way.CALIPERS:
        row = {"top_mm": diameter, "middle_mm": diameter, "bottom_mm": diameter, "length_mm": length}
        return RingDensityReadings.model_validate(readings | {"calipers": [row] * 3})
    at = round(float(rng.uniform(15, 24)), 1)
    pushed = (volume + wax / settings.wax_density_g_cm3) * float(water_density(at))
    return RingDensityReadings.model_validate(
        readings
        | {
            "mass_waxed_g": weigh(bare + wax, 0.1),
            "mass_in_water_g": weigh(bare + wax - pushed, 0.1),
            "temperature_c": at,
        }
    )
