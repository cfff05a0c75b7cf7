"""From flasks to the particle density."""

import numpy as np

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.particle_density.equations import specific_gravity
from vadum.soil.methods.particle_density.findings import (
    DETERMINATIONS_APART,
    FLASK_ODD,
    GS_HIGH,
    GS_IMPOSSIBLE,
    GS_LOW,
    MASS_SMALL,
    SOIL_NOT_ABOVE_WATER,
    WATER_NOT_ABOVE_FLASK,
)
from vadum.soil.methods.particle_density.readings import (
    Determination,
    Minerals,
    ParticleDensityContext,
    ParticleDensityReadings,
    ParticleDensitySettings,
    with_flasks,
)
from vadum.soil.methods.particle_density.results import GRAIN_DENSITY_G_CM3, PARTICLE_DENSITY, SPREAD
from vadum.soil.numbers.scatter import of_mean
from vadum.soil.physics.phases import WATER
from vadum.soil.physics.water import water_density

BASIS = "ASTM D854"
# Grains of quartz, feldspar and clay minerals.
_USUAL = (2.5, 2.9)
_KNOWN = (("mass_empty_g", "g"), ("volume_cm3", "cm³"))
# Flasks that are made, and how far one may hold more or less (the neck is filled to a mark, a stopper to its bore).
_FLASKS_CM3, _FLASK_WITHIN = (25.0, 50.0, 100.0, 200.0, 250.0, 500.0, 1000.0, 2000.0), 0.06


def _flask_words(readings: ParticleDensityReadings, context: ParticleDensityContext) -> str:
    """Return the flasks that the register brought, with what it knows of them: the sheet must be recomputable."""
    used = sorted({row.pycnometer for row in readings.determinations if row.pycnometer in context.flasks})
    known = [
        " ".join([name, *(f"{flask[key]:g} {unit}" for key, unit in _KNOWN if key in flask)])
        for name, flask in ((name, context.flasks[name]) for name in used)
    ]
    return f"; flasks of the register: {', '.join(known)}" if known else ""


def reduce_particle_density(
    readings: ParticleDensityReadings, settings: ParticleDensitySettings, context: ParticleDensityContext
) -> Reduction:
    """Return all that the flasks say so far."""
    readings = with_flasks(readings, context.flasks)
    values = {i: gs for i, row in enumerate(readings.determinations) if row.used and (gs := _of(row)) is not None}
    sound = [gs for gs in values.values() if np.isfinite(gs) and gs > 1]
    result = Reduction(
        findings=[
            f
            for i, row in enumerate(readings.determinations)
            if row.used
            for f in _findings(i, row, values.get(i), settings, readings.minerals)
        ],
        computed={f"determinations.{i}.particle_density": gs for i, gs in values.items() if np.isfinite(gs)},
        derivation=[_step(i, readings.determinations[i], gs) for i, gs in values.items() if np.isfinite(gs)],
        follows=[BASIS],
        school=f"water pycnometer, at 20 °C, within {settings.spread:g}{_flask_words(readings, context)}",
        complete=len(sound) >= 2,
    )
    if sound:
        mean = float(np.mean(sound))
        result.parameters = [PARTICLE_DENSITY.of(mean, doubt=of_mean(sound)), GRAIN_DENSITY_G_CM3.of(mean * WATER)]
    if len(sound) > 1:
        spread = max(sound) - min(sound)
        result.parameters.append(SPREAD.of(spread))
        if spread > settings.spread + 1e-9:
            result.findings.append(DETERMINATIONS_APART.at(spread=spread, settings_spread=settings.spread))
    result.next_step = _next(readings, len(sound))
    return result


def _of(row: Determination) -> float | None:
    full, at = row.filled or (None, None)
    parts = (row.dry_g, row.mass_empty_g, full, at, row.mass_soil_water_g, row.temperature_c)
    if any(part is None for part in parts):
        return None
    return float(specific_gravity(*parts))  # type: ignore[arg-type]


def _findings(
    i: int, row: Determination, gs: float | None, settings: ParticleDensitySettings, minerals: Minerals | None
) -> list[Finding]:
    path, name = f"determinations.{i}", f"Flask {row.pycnometer or i + 1}"
    empty, both = row.mass_empty_g, row.mass_soil_water_g
    full, at = row.filled or (row.mass_water_g, None)
    if empty is not None and full is not None and full <= empty:
        return [WATER_NOT_ABOVE_FLASK.at(f"{path}.mass_water_g", name=name, full=full, empty=empty)]
    if full is not None and both is not None and both <= full:
        return [SOIL_NOT_ABOVE_WATER.at(f"{path}.mass_soil_water_g", name=name, both=both, full=full)]
    findings = []
    if empty is not None and full is not None and at is not None:
        volume = (full - empty) / float(water_density(at))
        if not any(abs(volume - made) <= _FLASK_WITHIN * made for made in _FLASKS_CM3):
            findings.append(FLASK_ODD.at(f"{path}.mass_empty_g", f"{path}.mass_water_g", name=name, volume=volume))
    dry, dry_cell = row.dry_g, f"{path}.{'mass_dry_g' if row.mass_dry_g is not None else 'mass_dish_dry_g'}"
    if dry is not None and dry < settings.least_mass_g:
        findings.append(MASS_SMALL.at(dry_cell, name=name, mass_dry_g=dry, least_mass_g=settings.least_mass_g))
    if gs is None:
        return findings
    if not np.isfinite(gs) or gs < 1.5 or gs > 5:
        findings.append(GS_IMPOSSIBLE.at(dry_cell, name=name))
    elif gs < _USUAL[0] and minerals != Minerals.LIGHT:
        findings.append(GS_LOW.at(dry_cell, name=name, gs=gs))
    elif gs > _USUAL[1] and minerals != Minerals.HEAVY:
        findings.append(GS_HIGH.at(dry_cell, name=name, gs=gs))
    return findings


def _step(i: int, row: Determination, gs: float) -> Step:
    full, at = row.filled or (0.0, 0.0)
    return Step.of(
        specific_gravity,
        put_in=f"Ms {row.dry_g:g}, Me {row.mass_empty_g:g}, Mw {full:g} at {at:g}"
        f" °C, Msw {row.mass_soil_water_g:g} at {row.temperature_c:g} °C",
        result=f"{gs:.4f}",
        about=f"flask {row.pycnometer or i + 1}",
    )


def _next(readings: ParticleDensityReadings, sound: int) -> str:
    asks = (
        ("mass_empty_g", "Weigh {} dry and empty."),
        ("mass_water_g", "Fill {} with de-aired water, weigh it and read the temperature."),
        ("temperature_water_c", "Read the temperature of the water in {}."),
        ("mass_soil_water_g", "Soil into {}, remove the air for 2 h, fill up, weigh and read the temperature."),
        ("temperature_c", "Read the temperature in {}."),
        ("mass_dry_g", "Dry the soil of {} at 110 °C and weigh it."),
    )
    for i, row in enumerate(readings.determinations):
        for field, ask in asks:
            given = row.dry_g if field == "mass_dry_g" else getattr(row, field)
            by_volume = field in ("mass_water_g", "temperature_water_c") and row.filled is not None
            if row.used and given is None and not by_volume:
                return ask.format(f"flask {row.pycnometer or i + 1}")
    if sound < 2:
        return f"Weigh flask {sound + 1} of 2 dry and empty."
    return ""
