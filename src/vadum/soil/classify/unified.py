"""Unified classification, ASTM D2487 (2017): the tree of its figures 1 to 3 and the group names."""

from vadum.soil.classify.tree import Ask, Facts, Node, Say

# Facts: fines, gravel, sand in percent of what passes 75 mm; Cu, Cc; LL, PI (0 for non-plastic soil); organic 0 or 1;
# peat 0 or 1.
_EDGE = 1e-9


def above_a_line(liquid_limit: float, plasticity_index: float) -> bool:
    """Return whether a point lies on or above the A-line, PI = 0.73 (LL - 20). Source: ASTM D2487 (2017), figure 3."""
    return plasticity_index >= 0.73 * (liquid_limit - 20.0) - _EDGE


def _plasticity(facts: Facts) -> str:
    """Return clay, silt or silty clay as the chart's fields say, for soil of any liquid limit."""
    limit, index = facts["LL"], facts["PI"]
    above = above_a_line(limit, index)
    if limit < 50.0 and 4.0 - _EDGE <= index <= 7.0 + _EDGE and above:
        return "silty clay"
    return "clay" if above and index >= 4.0 - _EDGE else "silt"


def _say_limits(facts: Facts) -> str:
    if facts["PI"] <= 0:
        return "non-plastic"
    line = 0.73 * (facts["LL"] - 20.0)
    return f"LL {facts['LL']:g}, PI {facts['PI']:g}; A-line {max(4.0, line):.1f}"


def _say(name: str, unit: str = " %") -> Say:
    return lambda facts: f"{facts[name]:.3g}{unit} {name}".strip()


def _graded(symbol: str, least_cu: float, roads: dict[str, Node]) -> Ask:
    def choose(facts: Facts) -> str:
        return (
            "well graded"
            if facts["Cu"] >= least_cu - _EDGE and 1.0 - _EDGE <= facts["Cc"] <= 3.0 + _EDGE
            else "poorly graded"
        )

    return Ask(
        f"{symbol}: Cu at least {least_cu:g} and Cc from 1 to 3?",
        ("Cu", "Cc"),
        choose,
        lambda facts: f"Cu {facts['Cu']:.3g}, Cc {facts['Cc']:.3g}",
        roads,
    )


def _fines_are(roads: dict[str, Node]) -> Ask:
    return Ask("What are the fines, on the plasticity chart?", ("LL", "PI"), _plasticity, _say_limits, roads)


def _coarse(letter: str, name: str, least_cu: float) -> Ask:
    def dual(grade: str) -> Ask:
        clayey = f"{letter}{grade}-{letter}C"
        return _fines_are({"silt": f"{letter}{grade}-{letter}M", "clay": clayey, "silty clay": clayey})

    def share(facts: Facts) -> str:
        return "less than 5 %" if facts["fines"] < 5.0 else "5 to 12 %" if facts["fines"] <= 12.0 else "more than 12 %"

    return Ask(
        f"{name}: how many fines?",
        ("fines",),
        share,
        _say("fines"),
        {
            "less than 5 %": _graded(name, least_cu, {"well graded": f"{letter}W", "poorly graded": f"{letter}P"}),
            "5 to 12 %": _graded(name, least_cu, {"well graded": dual("W"), "poorly graded": dual("P")}),
            "more than 12 %": _fines_are(
                {"silt": f"{letter}M", "clay": f"{letter}C", "silty clay": f"{letter}C-{letter}M"}
            ),
        },
    )


def _fine() -> Ask:
    def organic(yes: str, no: Node) -> Ask:
        return Ask(
            "Organic: LL after oven drying below 0.75 of LL?",
            ("organic",),
            lambda facts: "organic" if facts["organic"] else "not organic",
            lambda facts: "as judged",
            {"organic": yes, "not organic": no},
        )

    low = _fines_are({"clay": "CL", "silty clay": "CL-ML", "silt": "ML"})
    high = _fines_are({"clay": "CH", "silt": "MH", "silty clay": "CL-ML"})
    high.roads.pop("silty clay")
    return Ask(
        "Liquid limit 50 or more?",
        ("LL",),
        lambda facts: "50 or more" if facts["LL"] >= 50.0 else "below 50",
        lambda facts: f"LL {facts['LL']:g}" if facts["LL"] else "non-plastic",
        {"below 50": organic("OL", low), "50 or more": organic("OH", high)},
    )


TREE: Node = Ask(
    "Peat: mostly plant remains, dark, spongy?",
    ("peat",),
    lambda facts: "peat" if facts["peat"] else "not peat",
    lambda facts: "as seen",
    {
        "not peat": Ask(
            "Fines, passing 0.075 mm: 50 % or more?",
            ("fines",),
            lambda facts: "fine-grained" if facts["fines"] >= 50.0 else "coarse-grained",
            _say("fines"),
            {
                "coarse-grained": Ask(
                    "More gravel than sand?",
                    ("gravel", "sand"),
                    lambda facts: "gravel" if facts["gravel"] > facts["sand"] else "sand",
                    lambda facts: f"{facts['gravel']:.3g} % gravel, {facts['sand']:.3g} % sand",
                    {"gravel": _coarse("G", "Gravel", 4.0), "sand": _coarse("S", "Sand", 6.0)},
                ),
                "fine-grained": _fine(),
            },
        ),
        "peat": "PT",
    },
)

_FINE = {"CL": "lean clay", "CL-ML": "silty clay", "ML": "silt", "CH": "fat clay", "MH": "elastic silt"}


def group_name(symbol: str, facts: Facts, cobbles: str = "") -> str:
    """Return the group name of a symbol. Source: ASTM D2487 (2017), figures 1 to 3.

    Arguments
    ---------
    symbol : a group symbol of the tree
    facts : as the tree takes; gravel and sand may be missing for fine soil of less than 15 % coarse
    cobbles : words to add, ``cobbles`` or ``cobbles and boulders``
    """
    if symbol == "PT":
        name = "peat"
    elif symbol[0] in "GS":
        name = _coarse_name(symbol, facts)
    else:
        name = _fine_name(symbol, facts)
    name = f"{name} with {cobbles}" if cobbles else name
    return name[0].upper() + name[1:]


def name_waits(symbol: str, facts: Facts) -> bool:
    """Return whether the plasticity index is missing that tells an organic clay from an organic silt: both are of one
    symbol. Source: ASTM D2487 (2017), figure 2."""
    return symbol in ("OL", "OH") and "PI" not in facts


def _fine_name(symbol: str, facts: Facts) -> str:
    if name_waits(symbol, facts):
        base = "organic clay or organic silt"
    elif symbol in ("OL", "OH"):
        base = "organic clay" if facts["PI"] >= 4.0 and above_a_line(facts["LL"], facts["PI"]) else "organic silt"
    else:
        base = _FINE[symbol]
    coarse = 100.0 - facts["fines"]
    if coarse < 15.0 or "gravel" not in facts or "sand" not in facts:
        return base
    sandy = facts["sand"] >= facts["gravel"]
    if coarse < 30.0:
        return f"{base} with {'sand' if sandy else 'gravel'}"
    if sandy:
        return f"sandy {base}" + (" with gravel" if facts["gravel"] >= 15.0 else "")
    return f"gravelly {base}" + (" with sand" if facts["sand"] >= 15.0 else "")


def _coarse_name(symbol: str, facts: Facts) -> str:
    soil, other = ("gravel", "sand") if symbol[0] == "G" else ("sand", "gravel")
    much = facts.get(other, 0.0) >= 15.0
    grade = {"W": "well-graded", "P": "poorly graded"}.get(symbol[1], "")
    organic = " with organic fines" if facts.get("organic") and facts.get("fines", 0.0) > 12.0 else ""
    if grade:
        name = f"{grade} {soil}"
        if "-" in symbol:
            fines = "silt" if symbol.endswith("M") else "silty clay" if _plasticity(facts) == "silty clay" else "clay"
            return f"{name} with {fines}" + (f" and {other}" if much else "")
        return name + (f" with {other}" if much else "")
    kind = {"M": "silty", "C": "clayey"}[symbol[1]] if "-" not in symbol else "silty, clayey"
    return f"{kind} {soil}" + (f" with {other}" if much else "") + organic
