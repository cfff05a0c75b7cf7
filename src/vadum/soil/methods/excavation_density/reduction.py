"""From a hole and its soil to the two dry densities, of the whole and of the fine earth."""

from dataclasses import dataclass

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.bench.phases import DensityContext, Phases, phase_diagram
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.excavation_density.findings import (
    DRIED_HEAVIER,
    FINES_ON_STONES,
    HOLE_EMPTY,
    MOIST_BELOW_DRY,
    PARTS_FAR_HEAVIER,
    PARTS_FAR_LOST,
    PARTS_HEAVIER,
    PARTS_LOST,
    SAND_GAINED,
    TEMPERATURE_ASSUMED,
    VERY_STONY,
    WASHED_HEAVIER,
)
from vadum.soil.methods.excavation_density.readings import ExcavationReadings, ExcavationSettings, Hole
from vadum.soil.methods.excavation_density.results import (
    DRY_DENSITY,
    FINE_EARTH_DENSITY,
    STONES_MASS_PERCENT,
    STONES_VOLUME_PERCENT,
    WATER_CONTENT,
)
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.water import REFERENCE_C, water_density

BASIS = "ASTM D5030"
_STONY = 50.0
_DUST_STOP = 5.0


@dataclass(frozen=True)
class Earth:
    """Dry masses in g: all of it, stones above 2 mm, fine earth; ``washed_off`` are the fines that clung to stones."""

    stones: float
    fine: float
    washed_off: float

    @property
    def total(self) -> float:
        return self.stones + self.fine


def hole_volume_cm3(readings: ExcavationReadings, settings: ExcavationSettings) -> float | None:
    """Return the volume of the hole by the way it was measured; None while a reading is missing or cannot be."""
    if settings.hole == Hole.LINER:
        if not readings.mass_water_g:
            return None
        at = REFERENCE_C if readings.temperature_c is None else readings.temperature_c
        return readings.mass_water_g / float(water_density(at)) + (readings.volume_liner_cm3 or 0.0)
    if settings.hole == Hole.SAND_CONE:
        before, after, cone, density = (
            readings.mass_sand_before_g,
            readings.mass_sand_after_g,
            readings.mass_sand_cone_g,
            readings.sand_density_g_cm3,
        )
        if before is None or after is None or cone is None or not density or before - after <= cone:
            return None
        return (before - after - cone) / density
    sides = (readings.length_mm, readings.width_mm, readings.depth_mm)
    if any(side is None for side in sides):
        return None
    return float(sides[0] * sides[1] * sides[2]) / 1000.0  # type: ignore[operator]


def dry_earth(readings: ExcavationReadings, water_percent: float | None) -> Earth | None:
    """Return the dry masses, once stones, fine earth and its water are known."""
    stones, fine = readings.mass_coarse_g, readings.mass_fine_air_dry_g
    if stones is None or fine is None or water_percent is None:
        return None
    # Washed off and dried with the stones' own water: what clung counts as fine earth.
    clung = max(0.0, (readings.mass_coarse_unwashed_g or stones) - stones)
    air_dry = 1 + water_percent / 100
    return Earth(stones, (fine + clung) / air_dry, clung / air_dry)


def reduce_excavation(readings: ExcavationReadings, settings: ExcavationSettings, context: DensityContext) -> Reduction:
    """Return all that hole and soil say so far."""
    readings, dried = until_constant(readings, "tins", settings.tins_dried, context.tins)
    waters = {i: w for i, tin in enumerate(readings.tins) if (w := tin.water_content(context.tins)) is not None}
    used = [w for i, w in waters.items() if readings.tins[i].used]
    left = sum(used) / len(used) if used else None
    volume, earth = hole_volume_cm3(readings, settings), dry_earth(readings, left)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    result = Reduction(
        findings=weighing_findings("tins", readings.tins, context.tins)
        + _hole_findings(readings, settings)
        + _soil_findings(readings, settings),
        computed={f"tins.{i}.water_content_percent": w for i, w in waters.items()},
        derivation=[
            readings.tins[i].weighing_step(context.tins, w, f"tin {readings.tins[i].tin or i + 1}")
            for i, w in waters.items()
        ],
        school=(
            f"{settings.hole}; total dry density and fine-earth density, stones {settings.stone_density_g_cm3:g} g/cm³,"
            f" Gs {gs.value:g} ({gs.source})"
        ),
    )
    phases = None
    stones_volume = 0.0
    if volume and earth and earth.total > 0:
        stones_volume = 100 * earth.stones / settings.stone_density_g_cm3 / volume
        phases = _densities(result, readings, settings, volume, earth, stones_volume, gs.value)
        result.findings += assumed_note(gs)
    result.figures = [phase_diagram(phases, stones_volume, water_known=bool(readings.mass_moist_g))]
    result.complete = phases is not None
    result.next_step = _next(readings, settings, volume, left)
    dried.judge(result)
    return result


def _densities(
    result: Reduction,
    readings: ExcavationReadings,
    settings: ExcavationSettings,
    volume: float,
    earth: Earth,
    stones_volume: float,
    gs: float,
) -> Phases:
    """Add densities, stone content and phases to the result."""
    total = earth.total / volume
    by_mass = 100 * earth.stones / earth.total
    result.parameters.append(DRY_DENSITY.of(total))
    room = volume * (1 - stones_volume / 100)
    if room > 0:
        fine = earth.fine / room
        result.parameters.append(FINE_EARTH_DENSITY.of(fine))
        result.derivation += [
            Step(
                symbol="ρd fine",
                formula="dry fines / (V − stones / ρ stones)",
                put_in=f"{earth.fine:.1f} / ({volume:.1f} − {earth.stones:.1f} / {settings.stone_density_g_cm3:g})",
                result=f"{fine:.4f}",
                unit="g/cm³",
                about="soil below 2 mm in the room the stones leave",
            )
        ]
    result.derivation.insert(
        0,
        Step(
            symbol="ρd total",
            formula="(dry fines + stones) / V",
            put_in=f"({earth.fine:.1f} + {earth.stones:.1f}) / {volume:.1f}",
            result=f"{total:.4f}",
            unit="g/cm³",
            basis=BASIS,
        ),
    )
    result.parameters += [STONES_MASS_PERCENT.of(by_mass), STONES_VOLUME_PERCENT.of(stones_volume)]
    if stones_volume > _STONY:
        result.findings.append(VERY_STONY.at("mass_coarse_g", stones_volume=stones_volume))
    w = 100 * (readings.mass_moist_g - earth.total) / earth.total if readings.mass_moist_g else None
    # The grains as a whole: stones and fine earth each with their own density.
    grain = earth.total / (earth.stones / settings.stone_density_g_cm3 + earth.fine / (gs * WATER)) / WATER
    phases = Phases(total, w or 0.0, grain)
    if w is not None and w < 0:
        result.findings.append(
            MOIST_BELOW_DRY.at("mass_moist_g", mass_moist_g=readings.mass_moist_g, total=earth.total)
        )
    elif w is not None:
        result.parameters.insert(2, WATER_CONTENT.of(w))
        result.findings += phases.findings("mass_moist_g")
    elif phases.void_ratio <= 0:
        result.findings += phases.findings("mass_coarse_g")
    if phases.void_ratio > 0:
        keys = (
            ("void_ratio", "porosity_percent")
            if w is None
            else ("void_ratio", "porosity_percent", "saturation_percent", "air_percent")
        )
        result.parameters += [p for p in phases.parameters(BASIS) if p.key in keys]
    return phases


def _hole_findings(readings: ExcavationReadings, settings: ExcavationSettings) -> list[Finding]:
    before, after, cone = readings.mass_sand_before_g, readings.mass_sand_after_g, readings.mass_sand_cone_g
    if settings.hole == Hole.SAND_CONE and before is not None and after is not None:
        if after >= before:
            return [SAND_GAINED.at("mass_sand_after_g", before=before, after=after)]
        if cone is not None and before - after <= cone:
            return [HOLE_EMPTY.at("mass_sand_cone_g", grams=before - after, cone=cone)]
    if settings.hole == Hole.LINER and readings.mass_water_g and readings.temperature_c is None:
        return [TEMPERATURE_ASSUMED.at("temperature_c")]
    return []


def _soil_findings(readings: ExcavationReadings, settings: ExcavationSettings) -> list[Finding]:
    findings: list[Finding] = []
    dry, moist = readings.mass_air_dry_g, readings.mass_moist_g
    unwashed, washed, fine = readings.mass_coarse_unwashed_g, readings.mass_coarse_g, readings.mass_fine_air_dry_g
    if dry is not None and moist is not None and dry > moist:
        findings.append(DRIED_HEAVIER.at("mass_air_dry_g", dry=dry, moist=moist))
    if unwashed is not None and washed is not None and washed > unwashed:
        findings.append(WASHED_HEAVIER.at("mass_coarse_g", washed=washed, unwashed=unwashed))
    elif unwashed and washed is not None and 100 * (unwashed - washed) / unwashed > 10:
        findings.append(FINES_ON_STONES.at("mass_coarse_unwashed_g", grams=unwashed - washed))
    coarse = unwashed if unwashed is not None else washed
    if dry is not None and coarse is not None and fine is not None:
        lost = 100 * (dry - coarse - fine) / dry if dry else 0.0
        if abs(lost) > settings.dust_percent:
            far = abs(lost) > _DUST_STOP
            lighter, heavier = (PARTS_FAR_LOST, PARTS_FAR_HEAVIER) if far else (PARTS_LOST, PARTS_HEAVIER)
            doubt = lighter if lost > 0 else heavier
            found = doubt.at("mass_fine_air_dry_g", parts=coarse + fine, whole=dry, percent=abs(lost))
            findings.append(found)
    return findings


def _next(readings: ExcavationReadings, settings: ExcavationSettings, volume: float | None, left: float | None) -> str:
    if readings.mass_moist_g is None:
        return "Dig the hole, keep every grain in a closed bag and weigh it at once."
    if volume is None:
        return {
            Hole.LINER: "Line the hole, fill it with weighed water to the brim and write what was poured.",
            Hole.SAND_CONE: "Pour sand through the cone, weigh the jar before and after.",
            Hole.MEASURED: "Measure length, width and depth of the hole at several places.",
        }[settings.hole]
    for name, ask in (
        ("mass_air_dry_g", "Dry all soil in air, break the clods and weigh it."),
        ("mass_coarse_g", "Split at 2 mm; wash the stones, dry and weigh them."),
        ("mass_fine_air_dry_g", "Weigh the fine earth, air-dry."),
    ):
        if getattr(readings, name) is None:
            return ask
    if left is None:
        return "Oven-dry a tin of the fine earth: it still holds a little water."
    return ""
