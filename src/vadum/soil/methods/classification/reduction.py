"""From facts to group symbol, group name, highway group with its index, and texture."""

from vadum.soil.bench.grading.figure import sample_figure
from vadum.soil.bench.grading.fractions import Convention
from vadum.soil.bench.grading.joint import limb
from vadum.soil.classify import highway, unified
from vadum.soil.classify.deciding import cheapest_deciding
from vadum.soil.classify.texture import texture_class, texture_triangle
from vadum.soil.classify.tree import Walk, walk
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.figure import Drawing, Path
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.methods.classification.facts import Found, find_facts
from vadum.soil.methods.classification.readings import (
    ClassificationContext,
    ClassificationReadings,
    ClassificationSettings,
    Cobbles,
)
from vadum.soil.methods.classification.results import (
    GROUP_INDEX,
    GROUP_NAME,
    GROUP_SYMBOL,
    HIGHWAY_GROUP,
    HIGHWAY_NAME,
    TEXTURE,
)
from vadum.soil.site.plasticity_chart import plasticity_chart

UNIFIED, HIGHWAY = "ASTM D2487", "AASHTO M 145"
_MOST_NAMED = 4


def reduce_classification(
    readings: ClassificationReadings, settings: ClassificationSettings, context: ClassificationContext
) -> Reduction:
    """Return all that the facts say so far."""
    found = find_facts(readings, context)
    ground = _touched(found)
    first, second = walk(unified.TREE, found.facts), walk(highway.TREE, highway.whole(found.facts))
    result = Reduction(
        findings=found.findings,
        school=f"{UNIFIED}, {HIGHWAY}; {_sources(context)}",
        complete=ground and first.decided is not None and not unified.name_waits(first.decided, found.facts),
    )
    if ground:
        result.parameters = _parameters(readings, settings, found, first, second)
        result.derivation = _steps(first, second)
    result.expected = _supplied(found, context)
    result.figures = _figures(readings, context, found, first, second)
    if settings.first == "highway":
        result.figures[0], result.figures[1] = result.figures[1], result.figures[0]
        result.complete = ground and second.decided is not None
    result.next_step = _next(settings, found, first, second, ground)
    result.afterwards = "Classified. Let a second person check the sheet."
    return result


def _touched(found: Found) -> bool:
    """Return whether anything is known beyond what is taken for granted (no peat, not organic)."""
    return any(name not in ("peat", "organic") for name in found.facts) or found.facts.get("peat") == 1.0


_CELLS = {
    "fines": "fines_percent",
    "sand": "sand_percent",
    "gravel": "gravel_percent",
    "Cu": "uniformity",
    "Cc": "curvature",
    "passing 2 mm": "passing_2_mm_percent",
    "passing 0.425 mm": "passing_0_425_mm_percent",
    "passing 0.075 mm": "passing_0_075_mm_percent",
    "LL": "liquid_limit",
    "PI": "plasticity_index",
}


def _supplied(found: Found, context: ClassificationContext) -> dict[str, tuple[float, float]]:
    """Return the facts in use, to stand quietly in the cells nobody typed into."""
    known = {cell: found.facts.get(name) for name, cell in _CELLS.items()}
    dried = context.liquid_limit_oven_dried
    known["liquid_limit_oven_dried"] = dried.value if dried else None
    known |= {"finer_0_05_mm_percent": found.curve.finer_at(0.05), "clay_percent": found.curve.finer_at(0.002)}
    return {cell: (round(value, 1), round(value, 1)) for cell, value in known.items() if value is not None}


def _sources(context: ClassificationContext) -> str:
    named = [
        of.source
        for of in (context.sieve_curve, context.hydrometer_curve, context.liquid_limit, context.plasticity_index)
        if of
    ]
    return "from " + ", ".join(dict.fromkeys(named)) if named else "facts as typed"


def _parameters(
    readings: ClassificationReadings, settings: ClassificationSettings, found: Found, first: Walk, second: Walk
) -> list[Parameter]:
    parameters = [GROUP_SYMBOL.word(_groups(first), basis=UNIFIED)]
    if symbol := first.decided:
        words = readings.cobbles.label if readings.cobbles and readings.cobbles != Cobbles.NONE else ""
        parameters.append(GROUP_NAME.word(unified.group_name(symbol, found.facts, words), basis=UNIFIED))
    group = second.decided
    whole = highway.whole(found.facts)
    text = _groups(second)
    if group:
        index = highway.group_index(
            group, whole.get("passing 0.075 mm", 0.0), whole.get("LL", 0.0), whole.get("PI", 0.0)
        )
        text = group if index is None else f"{group} ({index})"
        if index is not None:
            parameters.append(GROUP_INDEX.of(float(index), basis=HIGHWAY))
        parameters.append(HIGHWAY_NAME.word(highway.group_words(group), basis=HIGHWAY))
    parameters.insert(0 if settings.first == "highway" else 1, HIGHWAY_GROUP.word(text, basis=HIGHWAY))
    if found.fine_earth:
        parameters.append(TEXTURE.word(texture_class(*found.fine_earth)))
    return parameters


def _groups(found: Walk) -> str:
    named = found.groups
    return " or ".join(named) if len(named) <= _MOST_NAMED else f"one of {len(named)} groups"


def _figures(
    readings: ClassificationReadings, context: ClassificationContext, found: Found, first: Walk, second: Walk
) -> list[Drawing]:
    named = unified.group_name(first.decided, found.facts) if first.decided else "still possible"
    words = highway.group_words(second.decided) if second.decided else "still possible"
    index = found.facts.get("PI")
    drawings: list[Drawing] = [
        _path("unified", "Unified", first, named),
        _path("highway", "Highway", second, words),
        plasticity_chart(found.facts.get("LL") or None, index or None, context.neighbours),
        texture_triangle(*(found.fine_earth or (None, None, None))),
    ]
    if len(found.curve) > 1:
        drawings.append(
            sample_figure(limb(context.sieve_curve), limb(context.hydrometer_curve), Convention.UNIFIED, [])
        )
    return drawings


def _path(key: str, title: str, found: Walk, note: str) -> Path:
    end = found.decided or _groups(found)
    trail = "; ".join(f"{fork.question} {fork.answer}: {fork.taken}" for fork in found.forks)
    left = "" if found.decided else ", ".join(found.groups)
    return Path(
        key=key,
        title=title,
        description=f"{title} classification. {trail}. Ends at {end}.",
        forks=found.forks,
        end=end,
        end_note=note if found.decided else f"{note}: {left}",
    )


def _steps(first: Walk, second: Walk) -> list[Step]:
    return [
        Step(symbol=system, formula=fork.question, put_in=fork.answer, result=fork.taken, basis=basis)
        for system, basis, found in (("unified", UNIFIED, first), ("highway", HIGHWAY, second))
        for fork in found.forks
    ]


def _next(settings: ClassificationSettings, found: Found, first: Walk, second: Walk, ground: bool) -> str:
    if not ground:
        return "Test the sample first, or type what is known: fines, sand, gravel, LL and PI."
    tree, facts, way = (
        (unified.TREE, found.facts, first)
        if settings.first == "unified"
        else (highway.TREE, highway.whole(found.facts), second)
    )
    if way.decided is None:
        tests = cheapest_deciding(tree, facts)
        named = " and ".join(test.title for test in tests)
        return (
            f"Still possible: {_groups(way)}. Decided for the least work by {named}."
            if tests
            else f"Still possible: {_groups(way)}. Type what is missing."
        )
    if settings.first == "unified" and unified.name_waits(way.decided, found.facts):
        return f"{way.decided}, an organic clay or an organic silt: the plastic limit tells which."
    return ""
