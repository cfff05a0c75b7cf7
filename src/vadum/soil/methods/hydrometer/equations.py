"""Published relations of sedimentation: arrays in, arrays out."""

from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from vadum.soil.physics.published import published
from vadum.soil.physics.water import GRAVITY_CM_S2, REFERENCE_C, water_density, water_viscosity

Instrument = Literal["151H", "152H"]
_REFERENCE_DENSITY = float(water_density(REFERENCE_C))
Array = NDArray[np.float64]


@published("effective depth", "L = 16.3 − 264.5 (R − 1) (151H), 16.3 − 0.164 R (152H), cm", "ASTM D422 table 2")
def effective_depth_cm(reading: ArrayLike, instrument: Instrument) -> Array:
    """Return the depth at which the hydrometer measures.

    Arguments
    ---------
    reading : shape (n,), as read in the suspension: specific gravity (151H) or g/L (152H)

    Returns
    -------
    shape (n,), cm.

    Source: ASTM D422 (2007), table 2, for a 1000 mL cylinder of 27.8 cm2 and a bulb of 67 cm3, as straight lines.

    >>> round(float(effective_depth_cm(20, "152H")), 1)  # the table gives 13.0
    13.0
    """
    r = np.asarray(reading, dtype=float)
    return 16.3 - 264.5 * (r - 1.0) if instrument == "151H" else 16.3 - 0.164 * r


@published("effective depth, own geometry", "L = L1(R) + ½ (L2 − Vb / A)", "ASTM D7928 clause 9; BS 1377-2 clause 9.5")
def own_depth_cm(
    reading: ArrayLike,
    marks: tuple[float, float],
    stem_cm: tuple[float, float],
    bulb_length_cm: float,
    bulb_volume_cm3: float,
    cylinder_area_cm2: float,
) -> Array:
    """Return the depth at which a hydrometer of known geometry measures.

    Arguments
    ---------
    reading : shape (n,), at the level of the liquid
    marks : two marks of the scale
    stem_cm : distance of each from the top of the bulb, cm
    bulb_length_cm, bulb_volume_cm3 : of the bulb
    cylinder_area_cm2 : cross-section of the cylinder, whose water the bulb lifts

    Returns
    -------
    shape (n,), cm. Source: ASTM D7928 (2017), clause 9; BS 1377-2 (1990), clause 9.5.

    >>> round(float(own_depth_cm(30.0, (0.0, 60.0), (10.5, 2.3), 14.0, 67.0, 27.8)), 2)  # 6.4 + 0.5 (14 - 2.41)
    12.19
    """
    r = np.asarray(reading, dtype=float)
    (low, high), (far, near) = marks, stem_cm
    above = far + (near - far) * (r - low) / (high - low)
    return above + 0.5 * (bulb_length_cm - bulb_volume_cm3 / cylinder_area_cm2)


def stokes_constant(particle_density: float, temperature_c: ArrayLike) -> Array:
    """Return K in D = K sqrt(L/t), D in mm, L in cm, t in min.

    Arguments
    ---------
    particle_density : Gs at 20 degrees, plain number
    temperature_c : shape (n,), degrees Celsius

    Source: Stokes (1851); ASTM D422 (2007), table 3 (Gs 2.65: 0.01365 at 20 degrees, 0.01286 at 25).
    """
    poise = water_viscosity(temperature_c) / 100.0
    excess = particle_density * _REFERENCE_DENSITY - water_density(temperature_c)
    # cm from cm and s, then mm (factor 10) and minutes (60 s).
    return 10.0 * np.sqrt(18.0 * poise / (60.0 * GRAVITY_CM_S2 * excess))


@published("diameter", "D = √(18 η L / (g (ρs − ρw) t))", "Stokes; ASTM D7928 clause 12")
def stokes_diameter_mm(
    depth_cm: ArrayLike, elapsed_min: ArrayLike, particle_density: float, temperature_c: ArrayLike
) -> Array:
    """Return the largest grain still above the effective depth.

    Arguments
    ---------
    depth_cm, elapsed_min, temperature_c : shape (n,)
    particle_density : Gs, plain number

    Returns
    -------
    shape (n,), mm. Source: Stokes (1851), as ASTM D7928 (2017), clause 12.

    >>> round(float(stokes_diameter_mm(13.0, 2.0, 2.65, 20.0)), 4)  # K = 0.01365 in ASTM D422 table 3
    0.0348
    """
    return stokes_constant(particle_density, temperature_c) * np.sqrt(
        np.asarray(depth_cm, dtype=float) / np.asarray(elapsed_min, dtype=float)
    )


def density_factor(particle_density: float) -> float:
    """Return a, the correction of a 152H for grains that are not of Gs 2.65. Source: ASTM D422 (2007), table 1."""
    return 1.65 * particle_density / (2.65 * (particle_density - 1.0))


def percent_in_suspension(
    reading: ArrayLike, composite: ArrayLike, mass_dry_g: float, particle_density: float, instrument: Instrument
) -> Array:
    """Return the share of the specimen still in suspension at the effective depth.

    Arguments
    ---------
    reading : shape (n,), in the suspension
    composite : shape (n,), what the hydrometer reads in the dispersant solution at the same temperature
    mass_dry_g : dry mass in one litre of suspension, g
    particle_density : Gs, plain number

    Returns
    -------
    shape (n,), percent of the specimen. Source: ASTM D422 (2007), clause 14: 152H a Rc/M, 151H 100000/M Gs/(Gs-1)
    (R-R0).
    """
    corrected = np.asarray(reading, dtype=float) - np.asarray(composite, dtype=float)
    if instrument == "152H":
        return 100.0 * density_factor(particle_density) * corrected / mass_dry_g
    return 100_000.0 / mass_dry_g * particle_density / (particle_density - 1.0) * corrected


@published("composite correction", "linear between the measured temperatures", "ASTM D422 clause 7")
def composite_correction(temperature_c: ArrayLike, measured_c: ArrayLike, measured: ArrayLike) -> Array:
    """Return the composite correction, linear between the measured temperatures and beyond them by the same line.

    Arguments
    ---------
    temperature_c : shape (n,), degrees Celsius
    measured_c, measured : shape (m,), temperatures and readings in the dispersant solution, m at least 1

    Source: ASTM D422 (2007), clause 7.2.

    >>> float(composite_correction(20, [18, 22], [4.0, 3.0]))
    3.5
    """
    at, known = np.asarray(measured_c, dtype=float), np.asarray(measured, dtype=float)
    order = np.argsort(at)
    at, known = at[order], known[order]
    t = np.asarray(temperature_c, dtype=float)
    if len(at) == 1 or at[-1] - at[0] < 1e-9:
        return np.full(t.shape, known.mean())
    segment = np.clip(np.searchsorted(at, t) - 1, 0, len(at) - 2)
    slope = (known[segment + 1] - known[segment]) / np.maximum(at[segment + 1] - at[segment], 1e-9)
    return known[segment] + slope * (t - at[segment])
