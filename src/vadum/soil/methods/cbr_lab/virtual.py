"""What would be read of a mould of soil whose bearing ratio is known."""

from dataclasses import replace
from typing import Any

import numpy as np

from vadum.soil.bench.plunger.readings import ForceRead, planned_rows, shown_as
from vadum.soil.methods.cbr_lab.mould import SIZE_MM, standard_volume_cm3
from vadum.soil.methods.cbr_lab.readings import CbrLabReadings, CbrLabSettings, Finished, Scheme, Soaking
from vadum.soil.physics.bearing import seating_force_n
from vadum.soil.physics.phases import saturated_dry_density
from vadum.soil.virtual.plastic_soil import tin_names, tin_of_soil, weigh
from vadum.soil.virtual.plunger_soil import PlungerSoil, linear_ring_n_div

MISTAKES = {
    "collar-on": "the mould is weighed with its collar",
    "too-wet": "the soil is 2 % wetter than wanted",
    "stopped-early": "the top is stopped at 4 mm",
    "reading-missed": "one reading of the top is missed",
    "turn-miscounted": "one reading is a whole turn of the dial too low",
    "turn-twice": "from 3 mm on a turn of the dial is counted twice",
    "not-zeroed": "the ring is not set to zero after seating",
    "seated-hard": "the plunger is seated with 1 kN",
    "stone-broke": "a stone breaks under the plunger",
    "too-fast": "the press runs at 1.5 mm/min",
}
_ENDS = 0.03
_SWELL_MM = 1.2


def a_mould(
    soil: PlungerSoil, settings: CbrLabSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> CbrLabReadings:
    """Return the readings of a whole test; top and bottom differ by a few percent."""
    ratio = soil.ratio_percent(2.5, 13.2)
    factor = linear_ring_n_div(1.1 * soil.force_kn(7.5))
    wanted = round(float(rng.uniform(9, 18)), 1)
    w = wanted + (2.0 if "too-wet" in mistakes else float(rng.uniform(-0.2, 0.2)))
    dry = saturated_dry_density(wanted, 2.70, 6.0)
    mould = 6480.0
    volume, height = standard_volume_cm3(settings.school), SIZE_MM[settings.school][1]
    mass = mould + volume * dry * (1 + w / 100) + (1450.0 if "collar-on" in mistakes else 0.0)
    top = _run(soil, factor, settings, mistakes)
    bottom = _run(
        replace(soil, stiffness_kn_mm=soil.stiffness_kn_mm * (1 + float(rng.uniform(-_ENDS, _ENDS)))),
        factor,
        settings,
        frozenset(),
    )
    hours = (0.0, 1.0, 4.0, 24.0, 48.0, 72.0, 96.0)
    start = round(float(rng.uniform(0.5, 2.0)), 2)
    grown = _SWELL_MM * float(rng.uniform(0.2, 1.5))
    swell = [{"elapsed_h": h, "dial_mm": round(start + grown * (1 - float(np.exp(-h / 20))), 2)} for h in hours]
    # Under water the pores of the swollen soil fill almost whole.
    room = (1 + grown / height) / dry - 1 / (2.70 * 0.9982)
    w_soaked = max(w + 0.3, 97.0 * room)
    soaked: dict[str, Any] = {}
    effort = {"blows": 30, "layers": 5, "rammer_kg": 4.5} if settings.scheme == Scheme.ANOTHER else {}
    if settings.soaking == Soaking.SOAKED:
        after = mould + volume * dry * (1 + w_soaked / 100) + (1450.0 if "collar-on" in mistakes else 0.0)
        tins = [tin_of_soil(rng.spawn(1)[0], name, w_soaked, 50.0) for name in ("S-1", "S-2")]
        soaked = {"mass_soaked_g": weigh(after, 1.0), "tins_soaked": tins}
    return CbrLabReadings.model_validate(
        soaked
        | effort
        | {
            "mass_mould_g": mould,
            "mass_mould_soil_g": weigh(mass, 1.0),
            "volume_mould_cm3": round(volume),
            "removed_percent": round(float(rng.uniform(0, 8)), 1),
            "ring_factor_n_div": factor if settings.force_read == ForceRead.RING else None,
            "seating_n": 1000.0 if "seated-hard" in mistakes else seating_force_n(ratio, settings.school),
            "top": top,
            "bottom": bottom,
            "tins": [tin_of_soil(rng, name, w, float(rng.uniform(40, 70))) for name in tin_names(rng, 2)],
            "swell": swell if settings.soaking == Soaking.SOAKED else [],
            "water_content_target_percent": wanted,
            "surcharge_kg": 4.5,
            "height_specimen_mm": round(height, 1),
            "rate_measured_mm_min": 1.5 if "too-fast" in mistakes else settings.rate,
            "particle_density": 2.70,
            "finished": Finished.BOTH,
        }
    )


def _run(soil: PlungerSoil, factor: float, settings: CbrLabSettings, mistakes: frozenset[str]) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = []
    for row in planned_rows():
        x = row["penetration_mm"]
        force = soil.force_kn(x)
        if "stone-broke" in mistakes and x > 3.9:
            force *= 0.8
        rows.append(row | shown_as(force, factor, settings))
    if "stopped-early" in mistakes:
        rows = rows[:17]
    if "reading-missed" in mistakes:
        rows[7] = {"penetration_mm": rows[7]["penetration_mm"]}
    if "turn-miscounted" in mistakes and "ring_div" in rows[9]:
        rows[9]["ring_div"] = max(0.0, rows[9]["ring_div"] - 100.0)
    if "turn-twice" in mistakes:
        turn = max(60.0 * factor / 1000, 0.04 * soil.force_kn(7.5))
        for row in rows[12:]:
            row |= shown_as(soil.force_kn(row["penetration_mm"]) + turn, factor, settings)
    if "not-zeroed" in mistakes:
        for row in rows:
            stood = soil.force_kn(row["penetration_mm"]) + 0.05 * soil.force_kn(7.5)
            row |= shown_as(stood, factor, settings)
    return rows
