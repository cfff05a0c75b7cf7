"""From a ring of soil to densities and phases."""

from math import pi
from statistics import mean, median, stdev

from vadum.soil.bench.constant_mass import until_constant
from vadum.soil.bench.cylinder.specimen import specimen_of
from vadum.soil.bench.particle import assumed_note, particle_density
from vadum.soil.bench.phases import DensityContext, Phases, phase_diagram, unit_weights
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.ring_density.findings import (
    BAG_HEAVIER,
    CALIPERS_APART,
    HEADSPACE_ABOVE_RING,
    ODD_HEADSPACE,
    RING_SHAPE,
    SOIL_LOST,
    SURFACE_NOT_FLAT,
)
from vadum.soil.methods.ring_density.immersion import lump_findings, lump_volume
from vadum.soil.methods.ring_density.readings import RingDensityReadings, RingDensitySettings, Way
from vadum.soil.methods.ring_density.results import BULK_DENSITY, DRY_DENSITY, WATER_CONTENT
from vadum.soil.physics.phases import dry_density

_FOLLOWED = {Way.RING: "ASTM D2937", Way.CALIPERS: "ASTM D7263 method B", Way.IMMERSION: "ASTM D7263 method A"}
_FEWEST_HEADSPACES, _STANDS_OUT = 3, 2.0
# A diameter off by so much of the others moves a volume by as much again; a piece trimmed by hand is truer.
_TRUE = 0.05
BASIS = "ASTM D7263"


def ring_volume_cm3(diameter_mm: float, height_mm: float, headspace_mm: float) -> float:
    """Return the volume of soil in a ring, pi/4 d^2 (h - headspace), cm3; lengths in mm. Source: ASTM D7263 (2021),
    clause 10."""
    return pi / 4 * diameter_mm**2 * (height_mm - headspace_mm) / 1000.0


def reduce_ring(readings: RingDensityReadings, settings: RingDensitySettings, context: DensityContext) -> Reduction:
    """Return all that the ring says so far."""
    readings, dried = until_constant(readings, "tins", settings.tins_dried, context.tins)
    ringed = settings.way == Way.RING
    gaps = [row.headspace_mm for row in readings.headspaces if row.used and row.headspace_mm is not None]
    headspace = sum(gaps) / len(gaps) if gaps else 0.0 if settings.headspaces_needed == 0 else None
    waters = [w for tin in readings.tins if tin.used and (w := tin.water_content(context.tins)) is not None]
    w = sum(waters) / len(waters) if waters else None
    mass = _mass(readings)
    findings = weighing_findings("tins", readings.tins, context.tins) + _soil_findings(readings)
    findings += _ring_findings(readings, settings, gaps) if ringed else []
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
    result.school = f"{settings.way}, Gs {gs.value:g} ({gs.source})"
    result.follows = [_FOLLOWED[settings.way]]
    volume, steps = _volume(readings, settings, headspace, mass)
    result.findings += lump_findings(readings, settings, mass) if settings.way == Way.IMMERSION else []
    result.findings += _caliper_findings(readings) if settings.way == Way.CALIPERS else []
    if w is not None:
        result.parameters.append(WATER_CONTENT.of(w))
    phases = None
    if volume is not None and mass is not None:
        bulk = mass / volume
        result.derivation += [*steps, _bulk_step(volume, mass)]
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
        result.parameters += unit_weights(bulk, None if w is None else dry_density(bulk, w))
    result.figures = [phase_diagram(phases)]
    result.complete = phases is not None
    result.next_step = _next(readings, settings, gaps, w, volume)
    dried.judge(result)
    return result


def _volume(
    readings: RingDensityReadings, settings: RingDensitySettings, headspace_mm: float | None, mass: float | None
) -> tuple[float | None, list[Step]]:
    """Return the volume of the soil in cm3 and how it was found; None while a reading is missing or cannot be."""
    if settings.way == Way.CALIPERS:
        specimen = specimen_of(None, readings.calipers, [], {})
        area, length = specimen.area_mm2, specimen.length_mm
        if area is None or length is None or not specimen.diameter_mm:
            return None, []
        volume = area * length / 1000
        put_in = f"π/4 {specimen.diameter_mm:.2f}² × {length:.2f} / 1000"
        return volume, [_volume_step("V = π/4 d² L", put_in, volume)]
    if settings.way == Way.IMMERSION:
        return lump_volume(readings, settings, mass)
    diameter, height = readings.diameter_mm, readings.height_mm
    if diameter is None or height is None or headspace_mm is None or headspace_mm >= height:
        return None, []
    volume = ring_volume_cm3(diameter, height, headspace_mm)
    put_in = f"π/4 {diameter:g}² ({height:g} − {headspace_mm:.2f}) / 1000"
    return volume, [_volume_step("V = π/4 d² (h − headspace)", put_in, volume)]


def _caliper_findings(readings: RingDensityReadings) -> list[Finding]:
    """Return the diameter and the length that stand apart from the others of their piece."""
    rounds = [(i, row) for i, row in enumerate(readings.calipers) if row.used]
    across = ("top_mm", "middle_mm", "bottom_mm")
    found = []
    for what, names in (("A diameter of", across), ("A length of", ("length_mm",))):
        read = [(f"calipers.{i}.{name}", value) for i, row in rounds for name in names if (value := getattr(row, name))]
        if len(read) < 2:
            continue
        near = median(value for _, value in read)
        cell, odd = max(read, key=lambda one: abs(one[1] - near))
        if abs(odd - near) > _TRUE * near:
            percent = 100 * abs(odd - near) / near
            found.append(CALIPERS_APART.at(cell, what=what, odd=odd, near=near, percent=percent))
    return found


def _volume_step(formula: str, put_in: str, volume: float) -> Step:
    return Step(symbol="V", formula=formula, put_in=put_in, result=f"{volume:.2f}", unit="cm³", basis=BASIS)


def _bulk_step(volume: float, mass: float) -> Step:
    return Step(
        symbol="ρ",
        formula="ρ = M / V",
        put_in=f"{mass:.1f} / {volume:.2f}",
        result=f"{mass / volume:.4f}",
        unit="g/cm³",
        basis=BASIS,
    )


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
    odd = _odd_headspace(readings, settings)
    if odd is not None:
        i, near = odd
        mm = readings.headspaces[i].headspace_mm
        findings.append(ODD_HEADSPACE.at(f"headspaces.{i}.headspace_mm", mm=mm, near=near))
    elif len(gaps) > 1 and height is not None:
        error = 100 * stdev(gaps) / len(gaps) ** 0.5 / (height - mean(gaps))
        if error > settings.volume_doubt_percent:
            findings.append(SURFACE_NOT_FLAT.at(percent=error))
    if height is not None and diameter is not None and not 0.2 <= height / diameter <= 4:
        findings.append(RING_SHAPE.at("diameter_mm", diameter=diameter, height=height))
    return findings


def _odd_headspace(readings: RingDensityReadings, settings: RingDensitySettings) -> tuple[int, float] | None:
    """Return the one headspace that is far from the middle of the others, where these agree; and their middle."""
    taken = [(i, r.headspace_mm) for i, r in enumerate(readings.headspaces) if r.used and r.headspace_mm is not None]
    if len(taken) < _FEWEST_HEADSPACES:
        return None
    for i, gap in taken:
        others = [other for k, other in taken if k != i]
        spread, off = max(others) - min(others), abs(gap - median(others))
        if spread <= settings.headspace_spread_mm < off and off > _STANDS_OUT * spread:
            return i, median(others)
    return None


def _soil_findings(readings: RingDensityReadings) -> list[Finding]:
    findings: list[Finding] = []
    bag, full = readings.mass_bag_g, readings.mass_bag_wet_g
    if bag is not None and full is not None and full <= bag:
        findings.append(BAG_HEAVIER.at("mass_bag_wet_g", full=full, bag=bag))
    if readings.lost_soil == "yes":
        findings.append(SOIL_LOST.at("lost_soil"))
    return findings


def _next(
    readings: RingDensityReadings,
    settings: RingDensitySettings,
    gaps: list[float],
    w: float | None,
    volume: float | None,
) -> str:
    if settings.way == Way.RING:
        if readings.diameter_mm is None or readings.height_mm is None:
            return "Measure the ring: inside diameter and height."
        if len(gaps) < settings.headspaces_needed:
            at = f"angle {len(gaps) + 1} of {settings.headspaces_needed}"
            return f"Measure the headspace at {at}, from the rim to the soil."
    elif settings.way == Way.CALIPERS and volume is None:
        return "Measure diameter at top, middle and bottom, and the length, by calipers."
    if readings.mass_bag_wet_g is None or readings.mass_bag_g is None:
        if settings.way == Way.RING:
            return "Push all soil of the ring into a weighed bag, close it, weigh it."
        return "Weigh the trimmed piece in a weighed dish."
    if volume is None:
        return "Brush it with wax, weigh it in air, then hanging under water; read the water's temperature."
    if w is None:
        return "Take a tin from the middle of the soil, weigh it moist, dry it, weigh it dry."
    return ""
