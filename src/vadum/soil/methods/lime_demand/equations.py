"""Masses of a bottle, pH at 25 degrees, and the decision on the lime demand."""

from collections.abc import Collection
from dataclasses import dataclass

from vadum.soil.choice import Choice
from vadum.soil.numbers.rounding import HUNDREDTH
from vadum.soil.physics.published import published


class Branch(Choice):
    """What the readings of pH say is to be done."""

    REACHED = "reached"
    ALIKE = "two-alike", "two alike"
    MORE = "more-lime", "more lime"
    RECALIBRATE = "recalibrate"
    SOIL = "soil", "the soil takes more"
    OPEN = "open"


LIME_SATURATED_PH = 12.45
ENOUGH_PH, NEARLY_PH = 12.40, 12.30


@dataclass(frozen=True)
class Decision:
    """The lime demand in percent of dry mass, None while there is none, and by which branch of the rule."""

    percent: float | None
    branch: Branch
    words: str


@published("masses", "moist soil = 25.0 (1 + w), lime = percent of 25.0 g", "ASTM D6276 clause 9")
def lime_mass_g(dry_g: float, lime_percent: float) -> float:
    """Return the lime of a bottle, percent of the dry soil.

    >>> lime_mass_g(25.0, 4.0)
    1.0
    """
    return dry_g * lime_percent / 100


@published("pH", "pH25 = pH + 0.03 (T − 25)", "ASTM D6276 clause 10")
def ph_at_25(ph: float, temperature_c: float) -> float:
    """Return pH25 = pH + 0.03 (T - 25) of a suspension of lime. Source: ASTM D6276 (2019), clause 10.

    >>> round(ph_at_25(12.40, 22.0), 2)
    12.31
    """
    return ph + 0.03 * (temperature_c - 25.0)


@published(
    "decision",
    "lowest lime with pH ≥ 12.40; else the lower of two successive ≥ 12.30; else more lime, or calibrate again",
    "ASTM D6276 clause 10",
)
def decide(
    percents: list[float], ph25: list[float], planned: Collection[float] = (), *, sound: bool = False
) -> Decision:
    """Return the lime demand from bottles in the order of their lime.

    The lowest lime with a pH of 12.40 or more; else the lowest of two successive ones at 12.30 or more whose pH no
    longer rises; else there is too little lime, or, with the highest bottles alike below 12.30, the meter is in doubt,
    or the soil where the meter is known to be sound.

    Arguments
    ---------
    percents, ph25 : of the same length, percents rising; pH at 25 degrees, rounded to 0.01 as read
    planned : percents of all bottles of the series, read or not: two with another between them are not successive
    sound : whether lime only reads 12.45 within 0.05

    Source: ASTM D6276 (2019), clause 10.

    >>> decide([2, 3, 4], [11.90, 12.20, 12.41]).percent
    4
    """
    ph = [float(HUNDREDTH.round(value)) for value in ph25]
    if not ph:
        return Decision(None, Branch.OPEN, "No bottle is read yet.")
    for percent, value in zip(percents, ph, strict=True):
        if value >= ENOUGH_PH:
            return Decision(percent, Branch.REACHED, f"{percent:g} % is the lowest lime with a pH of 12.40 or more.")
    for i in range(len(ph) - 1):
        between = any(percents[i] < other < percents[i + 1] for other in planned)
        if ph[i] >= NEARLY_PH and ph[i + 1] >= NEARLY_PH and not between:
            return Decision(
                percents[i],
                Branch.ALIKE,
                f"No bottle reaches 12.40; {percents[i]:g} and {percents[i + 1]:g} % both stand at 12.30 or more: the"
                " lower one.",
            )
    if len(ph) > 1 and ph[-1] < NEARLY_PH and abs(ph[-1] - ph[-2]) <= 0.02:
        if sound:
            return Decision(
                None,
                Branch.SOIL,
                f"The pH stays at {ph[-1]:.2f} while lime only reads right: the soil, not the meter. Shake longer, mix"
                " bottles with more lime, look for organic matter.",
            )
        return Decision(
            None,
            Branch.RECALIBRATE,
            f"The pH no longer rises and stays at {ph[-1]:.2f}: calibrate the meter again and repeat.",
        )
    return Decision(None, Branch.MORE, f"{percents[-1]:g} % gives {ph[-1]:.2f} only: mix bottles with more lime.")


NERNST_MV = 59.16


@published("slope of the electrode", "S = 100 |mV per pH| / 59.16 at 25 °C", "Nernst (1889): R T ln 10 / F")
def slope_percent(mv_per_ph: float) -> float:
    """Return the slope of an electrode in percent of R T ln 10 / F, 59.16 mV per pH at 25 degrees.

    >>> round(slope_percent(-57.4), 1)
    97.0
    """
    return 100 * abs(mv_per_ph) / NERNST_MV
