"""The cheapest test that would decide a class that is still open."""

from dataclasses import dataclass
from itertools import combinations

from vadum.soil.classify.tree import Facts, Node, outcomes

# A D10 below this share of fines lies within the sieves.
_SIEVED_D10 = 10.0


@dataclass(frozen=True)
class Source:
    """A test, the facts it supplies, and how long it keeps the hands, in minutes."""

    title: str
    supplies: frozenset[str]
    hands_min: float


_SIEVE = Source(
    "sieve analysis", frozenset({"fines", "gravel", "sand", "passing 2 mm", "passing 0.425 mm", "passing 0.075 mm"}), 80
)
_COEFFICIENTS = frozenset({"Cu", "Cc"})
_LIMITS = Source("liquid and plastic limit", frozenset({"LL", "PI"}), 110)
_DRIED = Source("liquid limit after oven drying", frozenset({"organic"}), 70)
_HYDROMETER = Source("hydrometer analysis", _COEFFICIENTS, 30)


def sources(facts: Facts) -> list[Source]:
    """Return the tests that could still supply something, given how fine the soil is known to be."""
    offered = [_SIEVE, _LIMITS, _DRIED, _HYDROMETER]
    if facts.get("fines", 0.0) <= _SIEVED_D10:
        offered = [Source(_SIEVE.title, _SIEVE.supplies | _COEFFICIENTS, _SIEVE.hands_min), _LIMITS, _DRIED]
    return [source for source in offered if any(fact not in facts for fact in source.supplies)]


def cheapest_deciding(node: Node, facts: Facts) -> list[Source]:
    """Return the tests that decide the class whatever they find, with the least work; empty when none can."""
    offered = sources(facts)
    bundles = [b for n in range(1, len(offered) + 1) for b in combinations(offered, n)]
    for bundle in sorted(bundles, key=lambda b: sum(s.hands_min for s in b)):
        supplied = frozenset().union(*(s.supplies for s in bundle))
        if all(len(left) == 1 for left in outcomes(node, facts, supplied)):
            return list(bundle)
    return []
