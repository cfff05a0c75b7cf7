"""A rolled lift against what the project asks: degree of compaction, moisture window, pass or rework."""

from dataclasses import dataclass, replace
from statistics import mean
from typing import Literal

from vadum.soil.contract.figure import Axis, Figure, Line, Mark, Region, Series
from vadum.soil.contract.limit import guarded

Verdict = Literal["pass", "roll more", "too wet", "too dry", "water unknown", "not shown"]
# A degree above this says that the compaction test is of another soil, or another effort.
DOUBTFUL_PERCENT = 106.0


@dataclass(frozen=True)
class Requirement:
    """What a project asks of a lift: at least this share of the maximum, water within a window about the optimum."""

    maximum_g_cm3: float
    optimum_percent: float
    least_percent: float = 95.0
    drier_percent: float = 2.0
    wetter_percent: float = 2.0

    @property
    def least_g_cm3(self) -> float:
        return self.least_percent / 100 * self.maximum_g_cm3

    @property
    def window(self) -> tuple[float, float]:
        """Water contents that are accepted, percent."""
        return self.optimum_percent - self.drier_percent, self.optimum_percent + self.wetter_percent

    @property
    def words(self) -> str:
        low, high = self.window
        return f"at least {self.least_percent:g} % of {self.maximum_g_cm3:.2f} g/cm³, water {low:.1f} to {high:.1f} %"


@dataclass(frozen=True)
class Judged:
    """A field density against the requirement; each place stands for itself.

    ``expanded_percent`` is the expanded uncertainty of the degree where the project guards its limits by it.
    """

    degree_percent: float
    off_optimum_percent: float | None
    verdict: Verdict
    expanded_percent: float | None = None

    @property
    def passes(self) -> bool:
        return self.verdict == "pass"

    @property
    def doubtful(self) -> bool:
        return self.degree_percent > DOUBTFUL_PERCENT


def judged_guarded(
    dry_g_cm3: float, water_percent: float | None, asked: Requirement, expanded_percent: float | None
) -> Judged:
    """Return how a place stands whose degree must exceed the least by its expanded uncertainty.

    Too loose, too wet and too dry are what they are without it; what passes by less than the uncertainty, or has none
    that is known, is not shown to pass. Source: ISO/IEC Guide 98-4 (2012), 8.3.2.

    >>> judged_guarded(1.84, 12.0, Requirement(1.90, 12.5), 2.5).verdict  # 96.8 %, at least 95 %
    'not shown'
    """
    plain = judged(dry_g_cm3, water_percent, asked)
    shown = expanded_percent is not None and (
        guarded(plain.degree_percent, expanded_percent, asked.least_percent, "least") == "meets"
    )
    verdict = "not shown" if plain.passes and not shown else plain.verdict
    return replace(plain, verdict=verdict, expanded_percent=expanded_percent)


def judged(dry_g_cm3: float, water_percent: float | None, asked: Requirement) -> Judged:
    """Return how a density and a water content stand against the requirement.

    A place that is too loose is said by its cause: water outside the window comes first, for rolling alone does not
    mend it. A dense place outside the window is reworked too: the project asks for both. Degree and water are judged
    as they are printed, to 0.1 %: the rounding method of ASTM E29.

    >>> judged(1.80, 12.0, Requirement(1.90, 12.5)).verdict, judged(1.84, 15.5, Requirement(1.90, 12.5)).verdict
    ('roll more', 'too wet')
    """
    degree = round(100 * dry_g_cm3 / asked.maximum_g_cm3, 1)
    if water_percent is None:
        return Judged(degree, None, "water unknown" if degree >= asked.least_percent else "roll more")
    off = round(round(water_percent, 1) - round(asked.optimum_percent, 1), 1) + 0.0  # no minus zero
    verdict: Verdict = "pass" if degree >= asked.least_percent else "roll more"
    if off > asked.wetter_percent:
        verdict = "too wet"
    elif off < -asked.drier_percent:
        verdict = "too dry"
    return Judged(degree, off, verdict)


def lift_figure(places: list[tuple[str, float, float]], asked: Requirement, key: str = "lift") -> Figure:
    """Return dry density against water content with the accepted field.

    Arguments
    ---------
    places : name, water content in percent, dry density in g/cm3
    """
    low, high = asked.window
    water, dry = [w for _, w, _ in places], [rho for *_, rho in places]
    left, right = min([low - 2, *water]) - 1, max([high + 2, *water]) + 1
    bottom, top = min([asked.least_g_cm3 - 0.1, *dry]) - 0.03, max([1.03 * asked.maximum_g_cm3, *dry]) + 0.03
    field = [(low, asked.least_g_cm3), (high, asked.least_g_cm3), (high, top), (low, top)]
    return Figure(
        key=key,
        title="Lift against requirement",
        description=f"Dry density against water content of {len(places)} places; accepted: {asked.words}."
        + (f" Mean {mean(dry):.2f} g/cm³ at {mean(water):.1f} %." if places else ""),
        caption=asked.words,
        x=Axis(label="water content", unit="%", low=left, high=right),
        y=Axis(label="dry density", unit="g/cm³", low=bottom, high=top),
        regions=[Region(key="accepted", role="accepted", points=field)],
        lines=[
            Line(
                key="maximum",
                role="reference",
                label="maximum",
                points=[(left, asked.maximum_g_cm3), (right, asked.maximum_g_cm3)],
            )
        ],
        series=[Series(key="places", label="places", marks=[Mark(x=w, y=rho, label=name) for name, w, rho in places])],
    )
