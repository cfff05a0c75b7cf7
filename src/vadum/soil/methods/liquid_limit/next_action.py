"""One plain sentence: what the technician does next."""

from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.liquid_limit.advice import open_bands
from vadum.soil.methods.liquid_limit.equations import STANDARD_BLOWS
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, School, Specimens, Trial


def next_step(trials: list[Trial], made: list[float], settings: LiquidLimitSettings) -> str:
    """Return what to measure next; ``made`` are the counts or penetrations whose tin is filled, dried or not."""
    last = in_hand(trials)
    if last is not None and (pending := _pending(last, trials[last], settings)):
        return pending
    if wanted := _wanted(made, settings):
        return wanted
    undried = [
        t.tin or f"of trial {i + 1}"
        for i, t in enumerate(trials)
        if t.used and t.mass_tin_wet_g is not None and t.mass_tin_dry_g is None
    ]
    return f"Dry and weigh tin {', '.join(undried)}." if undried else ""


def afterwards(so_far: Reduction) -> str:
    """Return what to do once all trials are made."""
    limit, dried = so_far.parameter("liquid_limit"), so_far.parameter("liquid_limit_oven_dried")
    if limit:
        return f"LL {limit.text}. Nothing more to measure here; roll the threads for the plastic limit."
    if dried:
        return f"LL after drying {dried.text}. Nothing more to measure here; the classification compares the two."
    return "Make a trial."


def in_hand(trials: list[Trial]) -> int | None:
    """Return the trial that is being made: the last one with a reading."""
    return next((i for i in range(len(trials) - 1, -1, -1) if trials[i].used and not trials[i].empty), None)


def _pending(index: int, trial: Trial, settings: LiquidLimitSettings) -> str:
    """Return what the trial in hand still lacks, as far as it can be done now; drying is not waited for."""
    name = f"trial {index + 1}"
    if settings.cone:
        if trial.penetration is None:
            return f"Drop the cone and enter the penetration of {name}."
        if trial.penetration_repeat_mm is None and trial.mass_tin_wet_g is None:
            return "Smooth the cup and drop the cone again: the two agree within 0.5 mm."
    elif trial.blows is None:
        return f"Turn the cup and enter the blows of {name}."
    elif settings.school == School.ONE_POINT and trial.blows_repeat is None:
        return "Refill the cup from the same mix, no water added, and close the groove again."
    if trial.mass_tin_wet_g is None:
        return f"Take a slice across the closed groove into a tin, lid on, and weigh it moist ({name})."
    return ""


def _wanted(made: list[float], settings: LiquidLimitSettings) -> str:
    """Return which trial is still wanted."""
    low, high = settings.accepted
    if settings.school == School.MULTIPOINT:
        return _wanted_range(made, settings)
    if settings.cone:
        if len(made) >= 4:
            return ""
        return f"Next cone trial, {len(made) + 1} of 4: wetter each time, from {low:g} to {high:g} mm."
    if settings.school == School.REPLICATED and len(made) < 3:
        return f"Determination {len(made) + 1} of 3: {low:g}–{high:g} blows."
    if settings.school == School.ONE_POINT and not made:
        return f"Mix so that the groove closes at {low:g}–{high:g} blows, and close it twice."
    if settings.school == School.ONE_POINT and len(made) < 2 and settings.one_point_specimens == Specimens.TWO:
        return f"Second specimen: remix, close the groove twice at {low:g}–{high:g} blows, take another tin."
    return ""


def _wanted_range(made: list[float], settings: LiquidLimitSettings) -> str:
    """Return the next open range of the coverage chosen, and whether all so far lie on one side."""
    if not made:
        return "Mix to a stiff paste, fill the cup, cut the groove: first trial at 25–35 blows."
    missing = open_bands([int(n) for n in made], settings.bands)
    if not missing:
        return ""
    low, high = missing[0]
    one_sided = len(made) > 1 and (min(made) > STANDARD_BLOWS or max(made) < STANDARD_BLOWS)
    if one_sided:
        side = "above" if min(made) > STANDARD_BLOWS else "below"
        done = f"All {len(made)} trials are {side} 25 blows. "
    else:
        done = f"{made[-1]:g} blows kept. " if len(made) < len(settings.bands) else ""
    water = " Add 1–3 mL and remix first." if high < max(made) else ""
    return f"{done}Next trial at {low}–{high} blows.{water}"
