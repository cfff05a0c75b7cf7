"""What would be read of clay whose strength is known, stage by stage."""

from math import pi
from typing import Any

import numpy as np

from vadum.soil.methods.triaxial.readings import TriaxialReadings
from vadum.soil.methods.triaxial.settings import AreaRule, TriaxialSettings
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.phases import WATER
from vadum.soil.virtual.cell_clay import CellClay

MISTAKES = {
    "not-saturated": "the first specimen is consolidated at B 0.88",
    "cell-below-back": "the back pressure of the second specimen is above its cell pressure",
    "leaking": "the membrane leaks",
    "too-fast": "the clay is sheared far too fast",
    "stopped-early": "the third specimen is stopped before its peak",
    "one-disturbed": "the second specimen is disturbed and weak",
    "pressures-close": "the cell pressures lie close together",
    "short": "the first specimen is a short one",
}
_DIAMETER, _LENGTH, _BACK = 50.0, 100.0, 300.0
_MINORS = (50.0, 100.0, 200.0)
_STRAINS = np.concatenate([np.arange(0, 2, 0.2), np.arange(2, 15.6, 0.25)])
_MINUTES = (0.0, 0.25, 1.0, 2.25, 4.0, 9.0, 16.0, 36.0, 64.0, 120.0, 240.0, 480.0, 900.0, 1440.0)
_MEMBRANE = 0.3
_WATER, _DENSITY, _GRAINS = 0.27, 1.98, 2.70


def a_triaxial(
    soil: CellClay, settings: TriaxialSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> TriaxialReadings:
    """Return the readings of three specimens in the settings' kind of test."""
    minors = (100.0, 115.0, 130.0) if "pressures-close" in mistakes else _MINORS
    consolidated = settings.kind != "UU"
    specimens: list[dict[str, Any]] = []
    calipers: list[dict[str, Any]] = []
    tins: list[dict[str, Any]] = []
    lengths = []
    after: list[dict[str, Any]] = []
    saturation: list[dict[str, Any]] = []
    consolidation: list[dict[str, Any]] = []
    shearing: list[dict[str, Any]] = []
    for k, minor in enumerate(minors, 1):
        length = 80.0 if "short" in mistakes and k == 1 else _LENGTH
        lengths.append(length)
        dry = _DENSITY / (1 + _WATER)
        volume = pi / 4 * _DIAMETER**2 * length / 1000
        out = round(volume * soil.volume_percent / 100 * (minor / 100) ** 0.4, 2) if consolidated else 0.0
        short = round(length * out / volume / 3, 2)
        calipers += [
            {
                "specimen": k,
                "top_mm": _DIAMETER + off,
                "middle_mm": _DIAMETER,
                "bottom_mm": _DIAMETER - off,
                "length_mm": length + off,
            }
            for off in (0.03, -0.03)
        ]
        wet = round(float(rng.uniform(40, 60)), 2)
        tins.append(
            {
                "specimen": k,
                "mass_tin_g": 18.4,
                "mass_tin_wet_g": round(18.4 + wet, 2),
                "mass_tin_dry_g": round(18.4 + wet / (1 + _WATER), 2),
            }
        )
        final: dict[str, Any] = {"mass_dry_g": round(dry * volume, 2)}
        if settings.area == AreaRule.FINAL and consolidated:
            # Full of water when it comes out: what is not grain is water.
            voids = volume - out - dry * volume / (_GRAINS * WATER)
            final["mass_wet_g"] = round(dry * volume + voids * WATER, 2)
        after.append(final)
        specimen: dict[str, Any] = {
            "mass_g": round(_DENSITY * volume, 2),
            "cell_kpa": minor + (_BACK if consolidated else 100.0),
        }
        if consolidated:
            back = _BACK + 400 if "cell-below-back" in mistakes and k == 2 else _BACK
            specimen |= {"back_kpa": back, "out_cm3": out, "shortened_mm": short}
            b = 0.88 if "not-saturated" in mistakes and k == 1 else 0.97
            saturation += [
                {"specimen": k, "cell_kpa": 250.0, "pore_kpa": 240.0},
                {"specimen": k, "cell_kpa": 310.0, "pore_kpa": round(240 + 60 * b, 1)},
            ]
            consolidation += [
                {"specimen": k, "elapsed_min": t, "out_cm3": round(out * soil.out_share(t), 2)} for t in _MINUTES
            ]
        specimens.append(specimen)
        stopped = 0.75 * soil.failure_percent if "stopped-early" in mistakes and k == 3 else 99.0
        weak = 0.72 if "one-disturbed" in mistakes and k == 2 else 1.0
        shearing += _shearing(soil, settings, k, minor, (volume, out, length, short), stopped, weak)
    length = min(lengths)
    slow = 0.04 * length / _failure_minutes(soil, settings) if consolidated else 1.0
    return TriaxialReadings.model_validate(
        {
            "membrane_mm": _MEMBRANE,
            "rate_mm_min": float(f"{slow * (40 if 'too-fast' in mistakes and consolidated else 1):.3g}"),
            "specimens": specimens,
            "calipers": calipers,
            "tins": tins,
            "saturation": saturation,
            "consolidation": consolidation,
            "shearing": shearing,
            "after": after,
            "particle_density": _GRAINS,
            "leak_cm3_h": 0.6 if "leaking" in mistakes else 0.01,
            "patched": "no",
        }
    )


def _failure_minutes(soil: CellClay, settings: TriaxialSettings) -> float:
    t100 = 1.6 * soil.t100_min
    return tx.failure_minutes(t100, settings.kind, side_drains=settings.side_drains, ends=settings.ends)


def _shearing(
    soil: CellClay,
    settings: TriaxialSettings,
    k: int,
    minor: float,
    size: tuple[float, float, float, float],
    stopped: float,
    weak: float,
) -> list[dict[str, Any]]:
    """Return the lines of one specimen: the forward model of area, membrane and drains that the reduction takes off."""
    volume, out, length, short = size
    area, tall = tx.consolidated_area_mm2(volume, out, length, short), length - short
    failing = {
        "UU": 2 * soil.undrained_kpa,
        "CU": soil.undrained_deviator_kpa(minor),
        "CD": soil.drained_deviator_kpa(minor),
    }[settings.kind] * weak
    rows = []
    for e in _STRAINS:
        if e > stopped:
            break
        shortening = round(float(e) / 100 * tall, 2)
        strain = shortening / tall
        share = soil.share(100 * strain)
        water = soil.volume_percent * (1 - float(np.exp(-100 * strain / 4))) if settings.kind == "CD" else 0.0
        water_cm3 = round(water / 100 * area * tall / 1000, 2)
        q = failing * share + float(
            tx.membrane_kpa(strain, float(np.sqrt(4 * area / pi)), _MEMBRANE, settings.membrane_modulus_kpa)
        )
        q += settings.filter_kpa * min(1.0, strain / 0.02)
        force = q * float(tx.sheared_area_mm2(area, strain, water_cm3 * 1000 / (area * tall))) / 1000
        row: dict[str, Any] = {"specimen": k, "shortening_mm": shortening, "force_n": round(force, 1)}
        if settings.kind == "CU":
            row["pore_kpa"] = round(_BACK + soil.pore_coefficient * failing * share, 1)
        if settings.kind == "CD":
            row["volume_cm3"] = water_cm3
        rows.append(row)
    return rows
