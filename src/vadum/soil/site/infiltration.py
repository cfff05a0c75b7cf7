"""How fast a site takes water: places by class, their geometric mean with its band, and a demand they are held
against."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from vadum.soil.choice import Choice
from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series, box
from vadum.soil.numbers.written import with_figures
from vadum.soil.physics.water import water_viscosity
from vadum.soil.site.map import Sited, plan_figure

# Upper ends in mm/h: 0.01, 0.1, 1, 10 and 100 um/s. Source: USDA Soil Survey Manual (2017), chapter 3, table 3-11.
CLASSES: tuple[tuple[str, float], ...] = (
    ("very low", 0.036),
    ("low", 0.36),
    ("moderately low", 3.6),
    ("moderately high", 36.0),
    ("high", 360.0),
    ("very high", float("inf")),
)
_LEAST_FOR_A_BAND = 2
APART = 3.0
"""Places of one site further apart than this factor are two grounds, or one of them is wrong."""


class By(Choice):
    """Which value of the site meets the demand."""

    MEAN = "mean", "geometric mean"
    BAND = "band", "lower end of the mean's band"
    LEAST = "least", "slowest place"


class Kind(Choice):
    """What the places give: they are not averaged together."""

    CONDUCTIVITY = "conductivity", "conductivity at saturation"
    INFILTRATION = "infiltration", "infiltration rate"


@dataclass(frozen=True)
class Demand:
    """What a project asks of its ground: a rate in mm/h, by which value, over which factor, in water how cold."""

    required_mm_h: float
    by: By = By.MEAN
    safety_factor: float = 2.0
    design_c: float | None = None

    def design(self, rate_20_mm_h: float) -> float:
        """Return the rate that counts of one at 20 degrees."""
        cold = 1.0 if self.design_c is None else float(water_viscosity(20.0) / water_viscosity(self.design_c))
        return rate_20_mm_h * cold / self.safety_factor

    @property
    def words(self) -> str:
        water = "" if self.design_c is None else f", in water of {self.design_c:g} °C"
        return f"{self.required_mm_h:g} mm/h by the {self.by}, over a factor of {self.safety_factor:g}{water}"


@dataclass(frozen=True)
class Outcome:
    """What the places of a site say together, mm/h in water of 20 degrees; the band is of the mean, at 95 %."""

    count: int
    least: float
    most: float
    mean: float
    factor: float | None
    band: tuple[float, float] | None

    @property
    def apart(self) -> bool:
        return self.most > APART * self.least

    def value(self, by: By) -> float | None:
        """Return the value that a demand asks for; None where there are too few places for it."""
        if by == By.BAND:
            return None if self.band is None else self.band[0]
        return self.least if by == By.LEAST else self.mean


def outcome(values: Sequence[float]) -> Outcome | None:
    """Return geometric mean, spread and band of rates, mm/h, all positive; None without any.

    Source: Student's t on logarithms, as conductivity scatters by factors.

    >>> o = outcome([10.0, 20.0, 40.0])
    >>> round(o.mean, 3), round(o.factor, 3)
    (20.0, 2.0)
    """
    if not values:
        return None
    logs = np.log(np.asarray(values, dtype=float))
    count, mean = len(logs), float(np.exp(logs.mean()))
    factor = band = None
    if count >= _LEAST_FOR_A_BAND:
        from scipy.special import stdtrit

        deviation = float(logs.std(ddof=1))
        factor = float(np.exp(deviation))
        half = float(np.exp(float(stdtrit(count - 1, 0.975)) * deviation / count**0.5))
        band = (mean / half, mean * half)
    return Outcome(count, min(values), max(values), mean, factor, band)


def class_of(rate_mm_h: float) -> str:
    """Return the class of a rate.

    >>> class_of(12.0), class_of(36.0)
    ('moderately high', 'high')
    """
    return next(name for name, end in CLASSES if rate_mm_h < end)


def class_plan(sited: Sequence[tuple[Sited, float]]) -> Figure:
    """Return the places in plan, each with its rate and its class in words, those of a class together.

    Arguments
    ---------
    sited : at least one place, with its rate in mm/h
    """
    named = [Sited(one.position, f"{one.words} mm/h: {class_of(rate)}") for one, rate in sited]
    figure = plan_figure(named, "Infiltration in plan")
    marks = figure.series[0].marks
    found = [
        Series(
            key=name, label=name, marks=[m for m, (_, rate) in zip(marks, sited, strict=True) if class_of(rate) == name]
        )
        for name, _ in CLASSES
    ]
    return replace(figure, key="infiltration", series=[one for one in found if one.marks])


def rates_figure(places: Sequence[tuple[str, float]], made: Outcome, demand: Demand | None) -> Figure:
    """Return the rates on one logarithmic line, slowest below, with mean, band and what is demanded of them.

    Arguments
    ---------
    places : name and rate in mm/h at 20 degrees
    """
    ordered = sorted(places, key=lambda place: place[1])
    wanted = None if demand is None else demand.required_mm_h / demand.design(1.0)
    ends = [rate for _, rate in ordered] + ([wanted] if wanted else []) + list(made.band or ())
    low, high = min(ends) / 1.6, max(ends) * 1.6
    top = len(ordered) + 0.6
    least, most, mean = (with_figures(rate, 3) for rate in (made.least, made.most, made.mean))
    lines = [
        Line(key="mean", role="construction", label=f"mean {mean} mm/h", points=[(made.mean, 0.0), (made.mean, top)])
    ]
    if wanted is not None:
        label = f"wanted {with_figures(wanted, 3)} mm/h"
        lines.append(Line(key="wanted", role="fit", label=label, points=[(wanted, 0.0), (wanted, top)]))
    regions = [Region(key="band", points=box(made.band, (0.0, top)))] if made.band else []
    marks = [Mark(x=rate, y=k + 0.8, label=name) for k, (name, rate) in enumerate(ordered)]
    return Figure(
        key="rates",
        title="Rates of the places",
        description=f"{made.count} places, {least} to {most} mm/h, geometric mean {mean} mm/h.",
        caption="shaded: band of the mean at 95 %" if made.band else "one place has no band",
        x=Axis(label="rate in water of 20 °C", unit="mm/h", scale="log", low=low, high=high),
        y=Axis(label="place", low=0.0, high=top, ticks=[]),
        regions=regions,
        lines=lines,
        series=[Series(key="places", label="places", marks=marks)],
    )
