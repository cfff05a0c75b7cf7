"""The expanded uncertainty of a result: instruments and constants, and the larger of scatter and repeatability.

Scatter of the readings about their fit already holds some of what the hand does, repeatability between tests holds some
of the scatter: the larger of the two is taken, never their sum. The spread between specimens, positions or places is
the ground's and is not in it: it stands beside as a result of its own.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil, exp, inf, log1p, sqrt
from typing import Any

from vadum.soil.contract.method import Method
from vadum.soil.contract.result import Parameter
from vadum.soil.contract.rows import without_left_out
from vadum.soil.numbers.scatter import LEAST_FREEDOM, student
from vadum.soil.uncertainty.constants import typed_constants
from vadum.soil.uncertainty.disturbing import Lead, Shared, uncertainties
from vadum.soil.uncertainty.repeatability import PUBLISHED, Repeatability

# Conductivities and rates: a mean of theirs is a geometric one.
_SPANS_POWERS = frozenset({"m/s", "mm/h", "cm²/min"})
_LEADING, _TOLD = 3, 0.01
# Rounding up begins a little above a whole step.
_SLACK = 0.05
# Two standard deviations of a normal distribution: the convention behind "k = 2".
_LEVEL = 0.9545


@dataclass(frozen=True)
class Hand:
    """What the reading, the hand and the soil in the dish leave in doubt: one standard deviation and who says so."""

    standard: float
    freedom: float
    source: str


@dataclass(frozen=True)
class Combined:
    """A result with its uncertainty; all in the unit of the result.

    ``instruments`` is the standard uncertainty by readings, certificates and constants, ``hand`` that of who tested,
    None where nothing tells of it.
    """

    parameter: Parameter
    instruments: float
    hand: Hand | None
    leading: tuple[Lead, ...]
    as_factor: bool
    """Whether the result spans powers of ten, so that its uncertainty multiplies and divides."""

    @property
    def standard(self) -> float:
        """Return the combined standard uncertainty. Source: ISO/IEC Guide 98-3, 5.1.2."""
        return sqrt(self.instruments**2 + (self.hand.standard**2 if self.hand else 0.0))

    @property
    def freedom(self) -> float:
        """Return the effective degrees of freedom. Source: Welch and Satterthwaite, ISO/IEC Guide 98-3, G.4.1."""
        if self.hand is None or self.hand.freedom == inf or not self.hand.standard:
            return inf
        return self.standard**4 / (self.hand.standard**4 / self.hand.freedom)

    @property
    def k(self) -> float:
        """Return the factor that expands it to about 95 percent. Source: ISO/IEC Guide 98-3, G.3.2 and G.6.4."""
        return student(self.freedom, _LEVEL)

    @property
    def expanded(self) -> float:
        return self.k * self.standard

    @property
    def factor(self) -> float:
        """Return by what the result may be multiplied or divided, of one that spans powers of ten."""
        value = abs(self.parameter.value or 0.0)
        return exp(self.k * log1p(self.standard / value)) if value else 1.0

    @property
    def text(self) -> str:
        """Return it as it is printed, to the place of the result and never below it: ``± 2``, ``×/÷ 1.10``.

        Rounded up (ISO/IEC Guide 98-3, 7.2.6); the rounding of the result itself is worth about one step.
        """
        if self.as_factor:
            return f"×/÷ {ceil(100 * self.factor - _SLACK) / 100:.2f}"
        return f"± {self.printed:.{self._decimals}f}"

    @property
    def printed(self) -> float:
        """Return the expanded uncertainty rounded up to the place of the result, as it is printed."""
        steps = max(1, ceil(self.expanded * 10**self._decimals - _SLACK))
        return float(steps / 10**self._decimals)

    @property
    def _decimals(self) -> int:
        return len(self.parameter.text.replace(",", ".").partition(".")[2])

    @property
    def leads(self) -> tuple[Lead, ...]:
        """Return what matters most, with its share of the squared standard uncertainty."""
        whole = self.standard**2
        leads = [replace(lead, share=lead.share * self.instruments**2 / whole) for lead in self.leading]
        if self.hand:
            leads.append(Lead("", self.hand.source, self.hand.standard**2 / whole))
        gravest = sorted(leads, key=lambda lead: -lead.share)[:_LEADING]
        return tuple(lead for lead in gravest if lead.share >= _TOLD)


def combined(
    method: Method[Any, Any, Any],
    readings: Any,
    settings: Any,
    context: Any,
    resolutions: Mapping[str, float] | None = None,
    shared: Sequence[Shared] = (),
    own: Mapping[str, Hand] | None = None,
) -> list[Combined]:
    """Return every numeric result with its uncertainty.

    Arguments
    ---------
    readings, settings, context, resolutions, shared : as of :func:`uncertainties`
    own : repeatability that the laboratory found by its own duplicates, by key of the result; it comes before the
        published one
    """
    readings = without_left_out(readings, method.parts)
    if context.supplied is not None:
        readings = context.supplied.fill(readings)
    reduction = method.work_out(readings, settings, context)
    by_key = {parameter.key: parameter for parameter in reduction.parameters}
    found = []
    for one in uncertainties(method, readings, settings, context, resolutions, shared, typed_constants):
        parameter = by_key[one.key]
        hand = hand_of(method.code, parameter, (own or {}).get(one.key))
        found.append(Combined(parameter, one.standard, hand, one.leading, parameter.unit in _SPANS_POWERS))
    return [one for one in found if one.standard > 0]


def hand_of(method: str, parameter: Parameter, own: Hand | None = None) -> Hand | None:
    """Return the larger of scatter and repeatability; None where neither can be told.

    Scatter with fewer than two degrees of freedom is not estimable: it does not count.
    """
    known = [own] if own else []
    published = PUBLISHED.get((method, parameter.key))
    if not own and published is not None and parameter.value is not None:
        known.append(_published(published, parameter.value, parameter.unit))
    freedom = inf if parameter.freedom is None else parameter.freedom
    if parameter.doubt is not None and freedom >= LEAST_FREEDOM:
        words = "" if freedom == inf else f", {freedom:g} degrees of freedom"
        known.append(Hand(parameter.doubt, freedom, f"scatter of its readings{words}"))
    return max(known, key=lambda one: one.standard * student(one.freedom), default=None)


def _published(one: Repeatability, value: float, unit: str) -> Hand:
    words = f"{one.words} {unit}" if one.amount and unit else one.words
    return Hand(one.of(value), inf, f"repeatability {words} ({one.source})")
