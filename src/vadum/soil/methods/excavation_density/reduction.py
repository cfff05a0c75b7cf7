"""From a hole and its soil to the two dry densities, of the whole and of the fine earth."""

from dataclasses import dataclass

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.bench.phases import DensityContext, Phases, phase_diagram, unit_weights
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import Leant
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.excavation_density.findings import (
    DRIED_HEAVIER,
    FINES_ON_STONES,
    MOIST_BELOW_DRY,
    PARTS_FAR_HEAVIER,
    PARTS_FAR_LOST,
    PARTS_HEAVIER,
    PARTS_LOST,
    UNWASHED,
    VERY_STONY,
    WASHED_HEAVIER,
)
from vadum.soil.methods.excavation_density.hole import hole_findings, hole_volume_cm3
from vadum.soil.methods.excavation_density.readings import ExcavationReadings, ExcavationSettings, Hole, Leads
from vadum.soil.methods.excavation_density.results import (
    BULK_DENSITY,
    DRY_DENSITY,
    FINE_EARTH_DENSITY,
    STONES_MASS_PERCENT,
    STONES_VOLUME_PERCENT,
    WATER_CONTENT,
)
from vadum.soil.physics.phases import WATER

BASIS = "ASTM D5030"
_FOLLOWED = {Hole.LINER: ["ASTM D5030"], Hole.SAND_CONE: ["ASTM D1556"], Hole.MEASURED: ["ISO 11272"]}
_STONY = 50.0
_DUST_STOP = 5.0
# Of their mass fat clays hold in the air.
_AIR_DRY_PERCENT = 10.0


@dataclass(frozen=True)
class Earth:
    """Dry masses in g: stones above 2 mm, None where nobody split them off; the rest; the fines washed off stones."""

    stones: float | None
    fine: float
    washed_off: float

    @property
    def total(self) -> float:
        return (self.stones or 0.0) + self.fine


def dry_earth(readings: ExcavationReadings, settings: ExcavationSettings, water_percent: float | None) -> Earth | None:
    """Return the dry masses: of the whole by its water content where nothing was split, else of stones and fine earth.

    None while one of them is not known.
    """
    if not readings.is_split:
        moist = readings.mass_moist_g
        return None if not moist or water_percent is None else Earth(None, moist / (1 + water_percent / 100), 0.0)
    unwashed = readings.mass_coarse_unwashed_g
    stones = readings.mass_coarse_g
    if stones is None and unwashed is not None:
        stones = unwashed / (1 + settings.stone_water_percent / 100)
        unwashed = None
    if stones is None:
        return None
    # Washed off and dried with the stones' own water: what clung counts as fine earth.
    clung = max(0.0, (unwashed or stones) - stones)
    if readings.mass_fine_dry_g is not None:
        air_dry = 1 + (water_percent or 0.0) / 100
        return Earth(stones, readings.mass_fine_dry_g + clung / air_dry, clung / air_dry)
    if readings.mass_fine_air_dry_g is None or water_percent is None:
        return None
    air_dry = 1 + water_percent / 100
    return Earth(stones, (readings.mass_fine_air_dry_g + clung) / air_dry, clung / air_dry)


def reduce_excavation(readings: ExcavationReadings, settings: ExcavationSettings, context: DensityContext) -> Reduction:
    """Return all that hole and soil say so far."""
    readings, dried = until_constant(readings, "tins", settings.tins_dried, context.tins)
    waters = {i: w for i, tin in enumerate(readings.tins) if (w := tin.water_content(context.tins)) is not None}
    used = [w for i, w in waters.items() if readings.tins[i].used]
    left = sum(used) / len(used) if used else None
    volume, earth = hole_volume_cm3(readings, settings), dry_earth(readings, settings, left)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    result = Reduction(
        findings=weighing_findings("tins", readings.tins, context.tins)
        + hole_findings(readings, settings)
        + _soil_findings(readings, settings),
        computed={f"tins.{i}.water_content_percent": w for i, w in waters.items()},
        derivation=[
            readings.tins[i].weighing_step(context.tins, w, f"tin {readings.tins[i].tin or i + 1}")
            for i, w in waters.items()
        ],
        school=_school(readings, settings, gs),
        follows=_FOLLOWED[settings.hole],
        leads="fine_earth_density" if settings.leads == Leads.FINE and readings.is_split else "",
    )
    if volume and readings.mass_moist_g:
        result.parameters.append(BULK_DENSITY.of(readings.mass_moist_g / volume))
    phases = None
    stones_volume = 0.0
    if volume and earth and earth.total > 0:
        stones_volume = 100 * (earth.stones or 0.0) / settings.stone_density_g_cm3 / volume
        phases = _densities(result, readings, settings, volume, earth, stones_volume, gs.value)
        result.findings += assumed_note(gs)
        moist = readings.mass_moist_g
        result.parameters += unit_weights(moist / volume if moist else None, earth.total / volume)
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
    result.parameters.insert(0, DRY_DENSITY.of(total))
    if earth.stones is None:
        result.derivation.append(_total_step(f"{earth.fine:.1f} / {volume:.1f}", total))
    else:
        _split_densities(result, settings, volume, earth, earth.stones, stones_volume)
    w = 100 * (readings.mass_moist_g - earth.total) / earth.total if readings.mass_moist_g else None
    # The grains as a whole: stones and fine earth each with their own density.
    grain = earth.total / ((earth.stones or 0.0) / settings.stone_density_g_cm3 + earth.fine / (gs * WATER)) / WATER
    phases = Phases(total, w or 0.0, grain)
    if w is not None and w < 0:
        result.findings.append(
            MOIST_BELOW_DRY.at("mass_moist_g", mass_moist_g=readings.mass_moist_g, total=earth.total)
        )
    elif w is not None:
        result.parameters.append(WATER_CONTENT.of(w))
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


def _split_densities(
    result: Reduction, settings: ExcavationSettings, volume: float, earth: Earth, stones: float, stones_volume: float
) -> None:
    """Add the density of the fine earth and the stones' shares."""
    total, room = earth.total / volume, volume * (1 - stones_volume / 100)
    result.derivation.append(_total_step(f"({earth.fine:.1f} + {stones:.1f}) / {volume:.1f}", total))
    if room > 0:
        fine = earth.fine / room
        result.parameters.append(FINE_EARTH_DENSITY.of(fine))
        result.derivation.append(
            Step(
                symbol="ρd fine",
                formula="dry fines / (V − stones / ρ stones)",
                put_in=f"{earth.fine:.1f} / ({volume:.1f} − {stones:.1f} / {settings.stone_density_g_cm3:g})",
                result=f"{fine:.4f}",
                unit="g/cm³",
                about="soil below 2 mm in the room the stones leave",
            )
        )
    result.parameters.append(STONES_MASS_PERCENT.of(100 * stones / earth.total))
    result.parameters.append(STONES_VOLUME_PERCENT.of(stones_volume))
    if stones_volume > _STONY:
        result.findings.append(VERY_STONY.at("mass_coarse_g", stones_volume=stones_volume))


def _total_step(put_in: str, total: float) -> Step:
    return Step(
        symbol="ρd total", formula="dry soil / V", put_in=put_in, result=f"{total:.4f}", unit="g/cm³", basis=BASIS
    )


def _school(readings: ExcavationReadings, settings: ExcavationSettings, gs: Leant) -> str:
    parts = (
        f"total dry density and fine-earth density, stones {settings.stone_density_g_cm3:g} g/cm³"
        if readings.is_split
        else "dry density of all soil by its water content, stones not split off"
    )
    return f"{settings.hole}; {parts}, Gs {gs.value:g} ({gs.source})"


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
    if unwashed is not None and washed is None and (fine is not None or readings.mass_fine_dry_g is not None):
        findings.append(UNWASHED.at("mass_coarse_unwashed_g"))
    coarse = unwashed if unwashed is not None else washed
    if dry is not None and coarse is not None and fine is None and readings.mass_fine_dry_g is not None:
        findings += _dried_apart(dry, coarse, readings.mass_fine_dry_g, settings)
    if dry is not None and coarse is not None and fine is not None:
        lost = 100 * (dry - coarse - fine) / dry if dry else 0.0
        if abs(lost) > settings.dust_percent:
            far = abs(lost) > _DUST_STOP
            lighter, heavier = (PARTS_FAR_LOST, PARTS_FAR_HEAVIER) if far else (PARTS_LOST, PARTS_HEAVIER)
            doubt = lighter if lost > 0 else heavier
            found = doubt.at("mass_fine_air_dry_g", parts=coarse + fine, whole=dry, percent=abs(lost))
            findings.append(found)
    return findings


def _dried_apart(whole: float, coarse: float, fine_dry: float, settings: ExcavationSettings) -> list[Finding]:
    """Return that stones and oven-dry fine earth are not the air-dry soil they came from: what is lacking is no more
    than what air-dry soil holds and what may be lost."""
    lost = 100 * (whole - coarse - fine_dry) / whole if whole else 0.0
    if -settings.dust_percent <= lost <= settings.dust_percent + _AIR_DRY_PERCENT:
        return []
    doubt = PARTS_FAR_LOST if lost > 0 else PARTS_FAR_HEAVIER
    return [doubt.at("mass_fine_dry_g", parts=coarse + fine_dry, whole=whole, percent=abs(lost))]


def _next(readings: ExcavationReadings, settings: ExcavationSettings, volume: float | None, left: float | None) -> str:
    if readings.mass_moist_g is None:
        return "Dig the hole, keep every grain in a closed bag and weigh it at once."
    if volume is None:
        return {
            Hole.LINER: "Line the hole, fill it with weighed water to the brim and write what was poured.",
            Hole.SAND_CONE: "Pour sand through the cone, weigh the jar before and after.",
            Hole.MEASURED: "Measure length, width and depth of the hole at several places.",
        }[settings.hole]
    if not readings.is_split:
        if left is None:
            return "Dry a tin of the moist soil, or with stones dry all of it in air and split it at 2 mm."
        return ""
    for names, ask in (
        (("mass_air_dry_g",), "Dry all soil in air, break the clods and weigh it."),
        (("mass_coarse_g", "mass_coarse_unwashed_g"), "Split at 2 mm; wash the stones, dry and weigh them."),
        (("mass_fine_air_dry_g", "mass_fine_dry_g"), "Weigh the fine earth, air-dry or oven-dry."),
    ):
        if all(getattr(readings, name) is None for name in names):
            return ask
    if left is None and readings.mass_fine_dry_g is None:
        return "Oven-dry a tin of the fine earth: it still holds a little water."
    return ""
