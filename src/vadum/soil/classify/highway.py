"""Highway classification, AASHTO M 145 (1991): groups left to right by elimination, and the group index."""

from collections.abc import Callable

from vadum.soil.classify.tree import Ask, Facts, Node, Say
from vadum.soil.numbers.rounding import WHOLE
from vadum.soil.physics.published import published

# Facts: passing 2 mm, 0.425 mm and 0.075 mm in percent; LL, PI (0 for non-plastic soil); peat 0 or 1.
# M 145 states its limits in whole numbers (35 max, 36 min), so every fact is rounded to one before it is judged.
_P10, _P40, _P200 = "passing 2 mm", "passing 0.425 mm", "passing 0.075 mm"


def whole(facts: Facts) -> dict[str, float]:
    """Return the facts as whole numbers, as M 145 compares them."""
    return {name: float(WHOLE.round(value)) for name, value in facts.items()}


def _say(*names: str) -> Say:
    short = {_P10: "2 mm", _P40: "0.425 mm", _P200: "0.075 mm"}

    def words(facts: Facts) -> str:
        return ", ".join(
            f"{facts[n]:g} % {short[n]}"
            if n in short
            else "non-plastic"
            if n == "PI" and not facts[n]
            else f"{n} {facts[n]:g}"
            for n in names
        )

    return words


def _yes(test: Callable[[Facts], bool], question: str, needs: tuple[str, ...], yes: Node, no: Node) -> Ask:
    return Ask(question, needs, lambda facts: "yes" if test(facts) else "no", _say(*needs), {"yes": yes, "no": no})


def _limits(low: tuple[str, str], high: tuple[str, str]) -> Ask:
    """Return the four groups by LL 40/41 and PI 10/11: (PI low, PI high) for each LL."""

    def by_index(groups: tuple[str, str]) -> Ask:
        return _yes(lambda f: f["PI"] <= 10, "PI at most 10?", ("PI",), groups[0], groups[1])

    return _yes(lambda f: f["LL"] <= 40, "LL at most 40?", ("LL",), by_index(low), by_index(high))


def _silt_clay() -> Ask:
    tree = _limits(("A-4", "A-6"), ("A-5", "A-7"))
    seven = _yes(lambda f: f["PI"] <= f["LL"] - 30, "PI at most LL − 30?", ("PI", "LL"), "A-7-5", "A-7-6")
    high = tree.roads["no"]
    assert isinstance(high, Ask)
    high.roads["no"] = seven
    return tree


_A2 = _limits(("A-2-4", "A-2-6"), ("A-2-5", "A-2-7"))
_A3 = _yes(
    lambda f: f[_P40] >= 51 and f[_P200] <= 10 and f["PI"] <= 0,
    "A-3: 0.425 mm at least 51, 0.075 mm at most 10, non-plastic?",
    (_P40, _P200, "PI"),
    "A-3",
    _A2,
)
_A1B = _yes(
    lambda f: f[_P40] <= 50 and f[_P200] <= 25 and f["PI"] <= 6,
    "A-1-b: 0.425 mm at most 50, 0.075 mm 25, PI 6?",
    (_P40, _P200, "PI"),
    "A-1-b",
    _A3,
)
_A1A = _yes(
    lambda f: f[_P10] <= 50 and f[_P40] <= 30 and f[_P200] <= 15 and f["PI"] <= 6,
    "A-1-a: 2 mm at most 50, 0.425 mm 30, 0.075 mm 15, PI 6?",
    (_P10, _P40, _P200, "PI"),
    "A-1-a",
    _A1B,
)
TREE: Node = Ask(
    "Peat?",
    ("peat",),
    lambda facts: "peat" if facts["peat"] else "not peat",
    lambda facts: "as seen",
    {
        "not peat": _yes(lambda f: f[_P200] <= 35, "0.075 mm at most 35 %: granular?", (_P200,), _A1A, _silt_clay()),
        "peat": "A-8",
    },
)

_NAMES = {
    "A-1-a": "stone fragments, gravel and sand",
    "A-1-b": "gravel and sand",
    "A-3": "fine sand",
    "A-2": "silty or clayey gravel and sand",
    "A-4": "silty soil",
    "A-5": "silty soil",
    "A-6": "clayey soil",
    "A-7": "clayey soil",
    "A-8": "peat",
}


def group_words(group: str) -> str:
    """Return what a group usually consists of."""
    return _NAMES.get(group) or _NAMES[group[:3]]


@published("group index", "(F − 35)(0.2 + 0.005 (LL − 40)) + 0.01 (F − 15)(PI − 10)", "AASHTO M 145 clause 6")
def group_index(group: str, passing_0_075_percent: float, liquid_limit: float, plasticity_index: float) -> int | None:
    """Return the group index, a whole number not below zero; None for peat, which has none.

    Arguments
    ---------
    group : as the tree gives; A-2-6 and A-2-7 count the part of the plasticity index only
    passing_0_075_percent, liquid_limit, plasticity_index : whole numbers, percent; LL and PI 0 for non-plastic soil

    Source: AASHTO M 145 (1991), clause 6: (F - 35)(0.2 + 0.005 (LL - 40)) + 0.01 (F - 15)(PI - 10), rounded.

    >>> group_index("A-6", 55, 40, 25)  # 20 × 0.2 + 0.01 × 40 × 15
    10
    """
    if group == "A-8":
        return None
    if group in ("A-1-a", "A-1-b", "A-3", "A-2-4", "A-2-5") or plasticity_index <= 0:
        return 0
    f = passing_0_075_percent
    plastic = 0.01 * (f - 15.0) * (plasticity_index - 10.0)
    if group in ("A-2-6", "A-2-7"):
        return max(0, int(WHOLE.round(plastic)))
    return max(0, int(WHOLE.round((f - 35.0) * (0.2 + 0.005 * (liquid_limit - 40.0)) + plastic)))
