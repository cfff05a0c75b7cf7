"""One plain sentence: what the technician does next."""

from vadum.soil.contract.reduction import Reduction
from vadum.soil.methods.liquid_limit.advice import open_bands
from vadum.soil.methods.liquid_limit.readings import LiquidLimitSettings, School, Trial


def next_step(trials: list[Trial], plotted: list[float], settings: LiquidLimitSettings) -> str:
    """Return what to measure next; ``plotted`` are the counts or penetrations already weighed."""
    last = in_hand(trials)
    if last is not None and (pending := _pending(last, trials[last], settings)):
        return pending
    if wanted := _wanted(plotted, settings):
        return wanted
    undried = [
        t.tin or f"of trial {i + 1}"
        for i, t in enumerate(trials)
        if t.used and t.mass_tin_wet_g is not None and t.mass_tin_dry_g is None
    ]
    return f"Weigh tin {', '.join(undried)} when dry." if undried else ""


def afterwards(so_far: Reduction) -> str:
    """Return what to do once all trials are made."""
    limit = so_far.parameter("liquid_limit")
    if limit is None:
        return "Make a trial."
    return f"LL {limit.text}. Nothing more to measure here; roll the threads for the plastic limit."


def in_hand(trials: list[Trial]) -> int | None:
    """Return the trial that is being made: the last one with a reading."""
    return next((i for i in range(len(trials) - 1, -1, -1) if trials[i].used and not trials[i].empty), None)


def _pending(index: int, trial: Trial, settings: LiquidLimitSettings) -> str:
    """Return what the trial in hand still lacks, as far as it can be done now; drying is not waited for."""
    name = f"trial {index + 1}"
    if settings.school == School.FALL_CONE:
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


def _wanted(plotted: list[float], settings: LiquidLimitSettings) -> str:
    """Return which trial is still wanted."""
    if settings.school == School.MULTIPOINT:
        missing = open_bands([int(n) for n in plotted], settings.bands)
        if not plotted:
            return "Mix to a stiff paste, fill the cup, cut the groove: first trial at 25–35 blows."
        if missing:
            low, high = missing[0]
            done = f"{plotted[-1]:g} blows kept. " if len(plotted) < len(settings.bands) else ""
            water = " Add 1–3 mL and remix first." if high < max(plotted) else ""
            return f"{done}Next trial at {low}–{high} blows.{water}"
        return ""
    if settings.school == School.FALL_CONE:
        if len(plotted) >= 4:
            return ""
        return f"Next cone trial, {len(plotted) + 1} of 4: wetter each time, from 15 to 25 mm."
    if settings.school == School.REPLICATED and len(plotted) < 3:
        return f"Determination {len(plotted) + 1} of 3: 15–35 blows."
    if settings.school == School.ONE_POINT and not plotted:
        low, high = settings.window
        return f"Mix so that the groove closes at {low}–{high} blows, and close it twice."
    return ""
