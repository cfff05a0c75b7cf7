"""The constant-mass loop: is a tin dry, and if not, what now."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from vadum.soil.bench.constant_mass import Reweighing, weighings_of
from vadum.soil.methods.water_content.readings import IN_OVEN, Determination, Drying, WaterContentSettings

# ASTM D2216 (2019), clause 10: a further hour; D4959 (2016) and D4643 (2017): further minutes.
LEAST_BETWEEN_MIN = {Drying.OVEN: 60.0, Drying.LOW_OVEN: 60.0, Drying.HOT_PLATE: 1.0, Drying.MICROWAVE: 1.0}

State = Literal["empty", "moist", "once", "losing", "gaining", "constant"]


@dataclass(frozen=True)
class TinDrying:
    """Where one tin stands in the loop. ``weighings`` are its dry masses in order, ``paths`` where they are written."""

    row: int
    name: str
    state: State
    weighings: list[float] = field(default_factory=list)
    paths: list[str] = field(default_factory=list)
    change: float | None = None
    timed: bool = False
    too_soon: tuple[str, float] | None = None
    """A weighing that came too soon to be another one: its path and time."""

    @property
    def dry_mass_g(self) -> float | None:
        return self.weighings[-1] if self.weighings else None


def follow(
    row: int,
    tin: Determination,
    only_tin: bool,
    reweighings: Sequence[Reweighing],
    tare_g: float | None,
    settings: WaterContentSettings,
) -> TinDrying:
    """Return the state of the tin in ``row``; ``only_tin`` lets re-weighings without a tin number belong to it."""
    least = LEAST_BETWEEN_MIN[settings.drying]
    weighed = weighings_of("determinations", row, tin, reweighings, only_tin=only_tin, least_min=least)
    name, weighings, paths = weighed.name, weighed.masses, weighed.paths
    wet = tin.mass_tin_wet_g
    if not weighings:
        return TinDrying(row, name, "moist" if wet is not None else "empty")
    change = weighed.change_percent(wet - tare_g) if wet is not None and tare_g is not None and wet > tare_g else None
    if change is None:
        in_oven = settings.drying in IN_OVEN
        # Without the hours in the oven one weighing shows nothing.
        long_enough = in_oven and tin.drying_h is not None and tin.drying_h >= settings.least_drying_h
        state: State = "constant" if long_enough else "once"
        return TinDrying(row, name, state, weighings, paths, timed=in_oven, too_soon=weighed.too_soon)
    if weighed.too_soon:
        return TinDrying(row, name, "once", weighings, paths, change, too_soon=weighed.too_soon)
    limit = settings.constant_mass_percent
    state = "losing" if change > limit + 1e-9 else "gaining" if change < -limit - 1e-9 else "constant"
    return TinDrying(row, name, state, weighings, paths, change)


def what_now(tin: TinDrying, settings: WaterContentSettings) -> str:
    """Return what to do with this tin, in the words of the drying in use."""
    again = {
        Drying.OVEN: "Back into the oven for 1 h, then weigh again.",
        Drying.LOW_OVEN: "Back into the oven for 4 h, then weigh again.",
        Drying.HOT_PLATE: "Stir, dry a few minutes more until a mirror over the pan stays clear, weigh again.",
        Drying.MICROWAVE: "Stir, again 1 min, weigh.",
    }[settings.drying]
    if tin.state == "moist":
        return {
            Drying.OVEN: (
                f"Dry at {settings.oven_c:g} °C for at least {settings.least_drying_h:g} h, cool 5–10 min with the lid"
                " on, weigh."
            ),
            Drying.LOW_OVEN: (
                f"Dry at 60 °C for at least {settings.least_drying_h:g} h, cool 5–10 min with the lid on, weigh."
            ),
            Drying.HOT_PLATE: "Dry on the plate, stirring, until a mirror over the pan does not fog; cool and weigh.",
            Drying.MICROWAVE: "Microwave 3 min with a glass of water beside it, weigh, stir.",
        }[settings.drying]
    if tin.state in ("once", "losing"):
        return again
    if tin.state == "gaining":
        return "It took up moisture: cool with the lid on and weigh at once. " + again
    return "Constant, done."


def drying_minutes(settings: WaterContentSettings) -> tuple[float, float]:
    """Return the minutes before the first weighing and between weighings."""
    first = settings.least_drying_h * 60
    return {
        Drying.OVEN: (first, 60.0),
        Drying.LOW_OVEN: (first, 240.0),
        Drying.HOT_PLATE: (15.0, 5.0),
        Drying.MICROWAVE: (3.0, 1.0),
    }[settings.drying]
