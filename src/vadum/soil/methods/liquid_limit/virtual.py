"""What a technician would read on a soil whose liquid limit is known, mistakes included."""

from collections.abc import Callable
from typing import Any

import numpy as np

from vadum.soil.bench.constant_mass import weighed_once_more
from vadum.soil.methods.liquid_limit.readings import Cone, LiquidLimitReadings, LiquidLimitSettings, School, Specimens
from vadum.soil.virtual.plastic_soil import STANDARD_CONE_MM, PlasticSoil, tin_names, tin_of_soil, weigh

Trials = list[dict[str, Any]]

# Counts a technician aims at, inside the ranges the school wants covered.
_TARGETS: dict[str, tuple[tuple[int, int], ...]] = {
    "three": ((29, 34), (23, 28), (16, 20)),
    "four": ((31, 35), (26, 29), (21, 24), (16, 19)),
}


def _counts(settings: LiquidLimitSettings, rng: np.random.Generator, mistakes: frozenset[str]) -> list[int]:
    low, high = settings.window
    if settings.school == School.ONE_POINT:
        counts = [31 if "one-point-count-outside" in mistakes else int(rng.integers(low + 1, high))]
        if settings.one_point_specimens == Specimens.TWO:
            counts.append(int(rng.integers(low + 1, high)))
        return counts
    if settings.school == School.REPLICATED:
        return [int(n) for n in rng.integers(20, 31, size=3)]
    if "all-above-25" in mistakes:
        return [int(rng.integers(32, 36)), int(rng.integers(29, 32)), int(rng.integers(26, 29))]
    return [int(rng.integers(lowest, highest + 1)) for lowest, highest in _TARGETS[settings.coverage]]


def virtual_trials(
    soil: PlasticSoil, settings: LiquidLimitSettings, rng: np.random.Generator, mistakes: frozenset[str]
) -> LiquidLimitReadings:
    """Return the readings of a whole test in the settings' school."""
    if settings.cone:
        trials = _cone_trials(soil, settings.cone, rng)
    else:
        counts = _counts(settings, rng, mistakes)
        trials = _cup_trials(soil, settings, rng, counts)
        if "too-dry-trial" in mistakes:
            trials.insert(1, _cup_trials(soil, settings, rng, [_far_too_dry(rng)])[0] | {"tin": "T-60"})
    for name, spoil in _SPOIL.items():
        if name in mistakes:
            spoil(trials)
    again = weighed_once_more(trials, settings.tins_dried)
    return LiquidLimitReadings.model_validate(
        {"trials": trials, "reweighings": again, "state": "natural", "prepared": "wet"}
    )


def _far_too_dry(rng: np.random.Generator) -> int:
    """Return a count far above the range, without moving on the sequence that the rest of the test is drawn from."""
    return int(rng.spawn(1)[0].integers(37, 49))


def _cup_trials(
    soil: PlasticSoil, settings: LiquidLimitSettings, rng: np.random.Generator, counts: list[int]
) -> Trials:
    trials = []
    for tin, count in zip(tin_names(rng, len(counts)), counts, strict=True):
        if settings.school == School.MULTIPOINT:
            w = soil.water_content_at(count)
        else:  # a soil that obeys the one-point relation the school rests on
            w = soil.liquid_limit / (count / 25.0) ** settings.one_point_exponent
        trial = tin_of_soil(rng, tin, soil.portion(w, rng), float(rng.uniform(10, 16))) | {
            "blows": count,
            "closure_mm": 13.0,
        }
        if settings.school == School.ONE_POINT:
            low, high = settings.window
            trial["blows_repeat"] = count
            trial["blows"] = int(np.clip(count + rng.integers(-1, 2), low, high)) if low <= count <= high else count
        trials.append(trial)
    return trials


def _cone_trials(soil: PlasticSoil, cone: Cone, rng: np.random.Generator) -> Trials:
    # The strength at the liquid limit is one, and a cone sinks by the root of its strength: what the 60 g cone sinks in
    # a soil is half of what the 80 g cone does.
    share = cone.at_limit_mm / STANDARD_CONE_MM
    depths = [round(share * float(d + rng.uniform(-0.4, 0.4)), 1) for d in (16.0, 18.6, 21.3, 24.0)]
    return [
        tin_of_soil(
            rng, tin, soil.portion(soil.water_content_at_penetration(depth / share), rng), float(rng.uniform(10, 16))
        )
        | {"penetration_mm": depth, "penetration_repeat_mm": depth}
        for tin, depth in zip(tin_names(rng, len(depths)), depths, strict=True)
    ]


def _swap_tins(trials: Trials) -> None:
    masses = ("mass_tin_g", "mass_tin_wet_g", "mass_tin_dry_g")
    for name in masses:
        trials[0][name], trials[-1][name] = trials[-1][name], trials[0][name]


def _swap_wet_and_dry(trials: Trials) -> None:
    row = trials[0]
    row["mass_tin_wet_g"], row["mass_tin_dry_g"] = row["mass_tin_dry_g"], row["mass_tin_wet_g"]


def _slip_unit(trials: Trials) -> None:
    trials[-1]["mass_tin_wet_g"] = weigh(trials[-1]["mass_tin_wet_g"] * 1000)


def _take_out_wet(trials: Trials) -> None:
    row = trials[1 if len(trials) > 1 else 0]
    soil = row["mass_tin_dry_g"] - row["mass_tin_g"]
    row["mass_tin_dry_g"] = weigh(row["mass_tin_dry_g"] + 0.06 * soil)


def _verify_badly(trials: Trials) -> None:
    trials[0]["blows"] = (trials[0].get("blows_repeat") or trials[0]["blows"]) + 3


def _stop_early(trials: Trials) -> None:
    trials[0]["closure_mm"] = 7.0


_SPOIL: dict[str, Callable[[Trials], None]] = {
    "swapped-tins": _swap_tins,
    "wet-and-dry-swapped": _swap_wet_and_dry,
    "unit-slip": _slip_unit,
    "not-dry": _take_out_wet,
    "verification-off": _verify_badly,
    "groove-not-closed": _stop_early,
}

MISTAKES = {
    "too-dry-trial": "a trial far above 35 blows is kept in the list",
    "all-above-25": "all trials on the dry side",
    "one-point-count-outside": "a one-point count of 31",
    "swapped-tins": "the tins of the first and the last trial are exchanged",
    "wet-and-dry-swapped": "tin + wet and tin + dry of the first trial are exchanged",
    "unit-slip": "one mass is typed in mg",
    "not-dry": "one tin is weighed before it is dry",
    "verification-off": "the second closure is 3 blows off",
    "groove-not-closed": "the count stops at 7 mm of closed groove",
}
