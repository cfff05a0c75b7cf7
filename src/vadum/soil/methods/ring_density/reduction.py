"""From a ring of soil to densities and phases."""

from math import pi

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.bench.phases import DensityContext, Phases, phase_diagram
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.ring_density.findings import (
    BAG_HEAVIER,
    HEADSPACE_ABOVE_RING,
    RING_SHAPE,
    SOIL_LOST,
    SURFACE_NOT_FLAT,
)
from vadum.soil.methods.ring_density.readings import RingDensityReadings, RingDensitySettings
from vadum.soil.methods.ring_density.results import BULK_DENSITY, DRY_DENSITY, WATER_CONTENT
from vadum.soil.physics.phases import dry_density

BASIS = "ASTM D7263"


def ring_volume_cm3(diameter_mm: float, height_mm: float, headspace_mm: float) -> float:
    """Return the volume of soil in a ring, pi/4 d^2 (h - headspace), cm3; lengths in mm. Source: ASTM D7263 (2021),
    clause 10."""
    return pi / 4 * diameter_mm**2 * (height_mm - headspace_mm) / 1000.0


def reduce_ring(readings: RingDensityReadings, settings: RingDensitySettings, context: DensityContext) -> Reduction:
    """Return all that the ring says so far."""
    readings, dried = until_constant(readings, "tins", settings.tins_dried, context.tins)
    gaps = [row.headspace_mm for row in readings.headspaces if row.used and row.headspace_mm is not None]
    headspace = sum(gaps) / len(gaps) if gaps else 0.0 if settings.headspaces_needed == 0 else None
    waters = [w for tin in readings.tins if tin.used and (w := tin.water_content(context.tins)) is not None]
    w = sum(waters) / len(waters) if waters else None
    findings = weighing_findings("tins", readings.tins, context.tins) + _ring_findings(readings, settings, gaps)
    result = Reduction(
        findings=findings,
        computed={
            f"tins.{i}.water_content_percent": w_
            for i, tin in enumerate(readings.tins)
            if (w_ := tin.water_content(context.tins)) is not None
        },
        derivation=[
            tin.weighing_step(context.tins, w_, f"tin {tin.tin or i + 1}")
            for i, tin in enumerate(readings.tins)
            if tin.used and (w_ := tin.water_content(context.tins)) is not None
        ],
    )
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    result.school = f"driven ring, Gs {gs.value:g} ({gs.source})"
    fits = readings.height_mm is not None and all(gap < readings.height_mm for gap in gaps)
    volume = _volume(readings, headspace) if fits else None
    mass = _mass(readings)
    if w is not None:
        result.parameters.append(WATER_CONTENT.of(w))
    phases = None
    if volume is not None and mass is not None:
        bulk = mass / volume
        result.derivation += _volume_steps(readings, headspace or 0.0, volume, mass)
        result.parameters.insert(0, BULK_DENSITY.of(bulk))
        if w is not None:
            rho_d = dry_density(bulk, w)
            phases = Phases(rho_d, w, gs.value)
            result.parameters.insert(0, DRY_DENSITY.of(rho_d))
            result.derivation.append(
                Step.of(dry_density, put_in=f"{bulk:.4f} / (1 + {w / 100:.4f})", result=f"{rho_d:.4f}", unit="g/cm³")
            )
            result.findings += phases.findings(
                "particle_density" if readings.particle_density else "mass_bag_wet_g"
            ) + assumed_note(gs)
            if phases.void_ratio > 0:
                result.parameters += phases.parameters(BASIS)
                result.derivation += phases.steps(BASIS)
    result.figures = [phase_diagram(phases)]
    result.complete = phases is not None
    result.next_step = _next(readings, settings, gaps, w)
    dried.judge(result)
    return result


def _volume(readings: RingDensityReadings, headspace_mm: float | None) -> float | None:
    if readings.diameter_mm is None or readings.height_mm is None or headspace_mm is None:
        return None
    return ring_volume_cm3(readings.diameter_mm, readings.height_mm, headspace_mm)


def _mass(readings: RingDensityReadings) -> float | None:
    if readings.mass_bag_wet_g is None or readings.mass_bag_g is None or readings.mass_bag_wet_g <= readings.mass_bag_g:
        return None
    return readings.mass_bag_wet_g - readings.mass_bag_g


def _volume_steps(readings: RingDensityReadings, headspace_mm: float, volume: float, mass: float) -> list[Step]:
    return [
        Step(
            symbol="V",
            formula="V = π/4 d² (h − headspace)",
            put_in=f"π/4 {readings.diameter_mm:g}² ({readings.height_mm:g} − {headspace_mm:.2f}) / 1000",
            result=f"{volume:.2f}",
            unit="cm³",
            basis=BASIS,
        ),
        Step(
            symbol="ρ",
            formula="ρ = M / V",
            put_in=f"{mass:.1f} / {volume:.2f}",
            result=f"{mass / volume:.4f}",
            unit="g/cm³",
            basis=BASIS,
        ),
    ]


def _ring_findings(readings: RingDensityReadings, settings: RingDensitySettings, gaps: list[float]) -> list[Finding]:
    findings: list[Finding] = []
    height, diameter = readings.height_mm, readings.diameter_mm
    for i, row in enumerate(readings.headspaces):
        if row.used and row.headspace_mm is not None and height is not None and row.headspace_mm >= height:
            findings.append(
                HEADSPACE_ABOVE_RING.at(f"headspaces.{i}.headspace_mm", headspace_mm=row.headspace_mm, height=height)
            )
    gaps = [gap for gap in gaps if height is None or gap < height]
    if len(gaps) > 1 and max(gaps) - min(gaps) > settings.headspace_spread_mm:
        findings.append(SURFACE_NOT_FLAT.at(mm=max(gaps) - min(gaps)))
    if height is not None and diameter is not None and not 0.2 <= height / diameter <= 4:
        findings.append(RING_SHAPE.at("diameter_mm", diameter=diameter, height=height))
    bag, full = readings.mass_bag_g, readings.mass_bag_wet_g
    if bag is not None and full is not None and full <= bag:
        findings.append(BAG_HEAVIER.at("mass_bag_wet_g", full=full, bag=bag))
    if readings.lost_soil == "yes":
        findings.append(SOIL_LOST.at("lost_soil"))
    return findings


def _next(readings: RingDensityReadings, settings: RingDensitySettings, gaps: list[float], w: float | None) -> str:
    if readings.diameter_mm is None or readings.height_mm is None:
        return "Measure the ring: inside diameter and height."
    if len(gaps) < settings.headspaces_needed:
        return (
            f"Measure the headspace at angle {len(gaps) + 1} of {settings.headspaces_needed}, from the rim to the soil."
        )
    if readings.mass_bag_wet_g is None or readings.mass_bag_g is None:
        return "Push all soil of the ring into a weighed bag, close it, weigh it."
    if w is None:
        return "Take a tin from the middle of the soil, weigh it moist, dry it, weigh it dry."
    return ""
