"""What would be read of soil in a box whose strength is known."""

from typing import Any

import numpy as np

from vadum.soil.methods.direct_shear.readings import DirectShearReadings, Screws
from vadum.soil.methods.direct_shear.settings import DirectShearSettings, ForceRead
from vadum.soil.methods.direct_shear.specimens import GRAVITY
from vadum.soil.virtual.box_soil import BoxSoil

MISTAKES = {
    "screws-forgotten": "the screws of the box are left in at the second specimen",
    "hanger-forgotten": "the hanger is not weighed",
    "peak-not-passed": "the third specimen is stopped before its peak",
    "force-in-kg": "the force is written in kg",
    "zero-not-taken": "the load cell is not zeroed",
    "loose-one": "the first specimen is filled looser",
    "two-only": "only two specimens are sheared",
    "loads-close": "the loads lie close together",
    "vertical-reversed": "the vertical gauge counts down as positive",
    "pass-too-few": "with reversals, the third specimen is pushed back once only",
}
_SIDE, _LEVER, _HANGER, _CAP, _HEIGHT = 60.0, 10.0, 4.51, 0.86, 20.0
_STRESSES = (50.0, 100.0, 200.0)
_TRAVEL = np.concatenate([np.arange(0.0, 2.0, 0.05), np.arange(2.0, 7.01, 0.1)])
_AGAIN = np.concatenate([np.arange(0.0, 1.0, 0.1), np.arange(1.0, 7.01, 0.5)])
_PASSES = 5
_RING = (1.25, 1.25, 2.5)
_DENSITY, _WATER = 1.62, 0.04


def a_shear_box(
    soil: BoxSoil, settings: DirectShearSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> DirectShearReadings:
    """Return the readings of three specimens, sheared again where the settings ask for reversals."""
    area = _SIDE**2 / 1e6
    stresses = [100.0, 120.0, 140.0] if "loads-close" in mistakes else list(_STRESSES)
    if "two-only" in mistakes:
        stresses = stresses[:2]
    specimens, after, record = [], [], []
    for k, normal in enumerate(stresses, 1):
        dead = round((normal * 1000 * area / GRAVITY - _HANGER - _CAP) / _LEVER, 3)
        normal = (dead * _LEVER + _HANGER + _CAP) * GRAVITY / area / 1000
        mass = _DENSITY * _SIDE**2 * _HEIGHT / 1000 * (0.94 if "loose-one" in mistakes and k == 1 else 1.0)
        before = round(float(rng.uniform(380, 420)), 2)
        specimens.append(
            {
                "dead_mass_kg": dead,
                "mass_before_g": before,
                "mass_after_g": round(before - mass, 2),
                "height_mm": _HEIGHT,
            }
            | ({"ring_n_div": _RING[k - 1]} if settings.force_read == ForceRead.DIVISIONS else {})
        )
        after.append({"mass_dry_g": round(mass / (1 + _WATER), 2)})
        ring = _RING[k - 1] if settings.force_read == ForceRead.DIVISIONS else None
        for h in _TRAVEL:
            tau = soil.shear_kpa(float(h), normal)
            if "screws-forgotten" in mistakes and k == 2 and 0 < h <= 0.1:
                tau += 0.8 * normal
            if "peak-not-passed" in mistakes and k == 3 and h > 0.7 * soil.peak_mm:
                continue
            record.append(_line(k, float(h), tau * 1000 * area, ring, soil, rng, mistakes))
        passes = 2 if "pass-too-few" in mistakes and k == 3 else _PASSES
        for n in range(2, passes + 1) if settings.reversals else ():
            for h in _AGAIN:
                tau = soil.again_kpa(n, float(h), normal)
                record.append(_line(k, float(h), tau * 1000 * area, ring, soil, rng, mistakes))
    return DirectShearReadings.model_validate(
        {
            "side_mm": _SIDE,
            "lever": _LEVER,
            "hanger_kg": None if "hanger-forgotten" in mistakes else _HANGER,
            "cap_kg": _CAP,
            "specimens": specimens,
            "record": record,
            "after": after,
            "rate_mm_min": 1.0,
            "screws": Screws.REMOVED,
            "soil": "sand",
            "particle_density": 2.66,
        }
    )


def _line(
    k: int,
    travel: float,
    force: float,
    ring: float | None,
    soil: BoxSoil,
    rng: np.random.Generator,
    mistakes: frozenset[str],
) -> dict[str, Any]:
    force += 25.0 if "zero-not-taken" in mistakes else 0.0
    in_kg = "force-in-kg" in mistakes
    read = force / (GRAVITY if in_kg else 1.0) + float(rng.normal(0, 0.03))
    return {
        "specimen": k,
        "horizontal_mm": round(travel, 3),
        "vertical_mm": round((-1 if "vertical-reversed" in mistakes else 1) * soil.rise_mm(travel), 3),
    } | ({"force_n": round(read, 2 if in_kg else 1)} if ring is None else {"force_div": round(read / ring, 1)})
