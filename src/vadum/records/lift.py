"""Field densities of a project by day, and the requirement they are held against."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from math import ceil, hypot
from typing import Any

from pydantic import BaseModel, Field
from sqlmodel import Session

from vadum.records.calibrations import days_of
from vadum.records.chosen import choose, told
from vadum.records.known import known_in_own_units
from vadum.records.positions import placed_tests, tests_in
from vadum.records.site import counts
from vadum.records.tables import Project, Test
from vadum.soil.bench.position import Position
from vadum.soil.registry import method as method_of
from vadum.soil.site.lift import Judged, Requirement, judged, judged_guarded

# Methods that find a dry density in place, by the quantity their result gives.
_DENSITY = "dry_density"
COMPACTION = "compaction"
REQUIRED = "required density"
NATURAL = 0
"""Stands where a density is held against no maximum: natural ground is no lift, and rolling it is nobody's work."""
_AS_TAKEN = ("tube", "block", "core")
"""Kinds of sample whose soil lies as it was found: unless somebody says otherwise, natural ground."""


class LiftRule(BaseModel):
    """What a project asks of its lifts, as kept with it; without a compaction test nothing is judged."""

    compaction: int | None = Field(default=None, title="compaction test")
    least_percent: float = Field(default=95.0, title="at least")
    drier_percent: float = Field(default=2.0, title="drier by")
    wetter_percent: float = Field(default=2.0, title="wetter by")


class HeldAgainst(BaseModel):
    """The compaction test whose soil a density was found in, or :data:`NATURAL`."""

    compaction: int = Field(title="compaction test")


@dataclass(frozen=True)
class FieldDensity:
    """A density found in place, where and when; what it is held against, and its verdict where that is a lift's.

    ``against`` is a compaction test, :data:`NATURAL`, or None where nothing is asked yet.
    """

    location: str
    name: str
    test: int
    method: str
    day: date
    dry_g_cm3: float
    water_percent: float | None
    position: Position | None
    checked: bool
    against: int | None = None
    judged: Judged | None = None

    @property
    def place(self) -> str:
        return f"{self.location} {self.name}".strip()


def rule_of(project: Project) -> LiftRule:
    return LiftRule.model_validate(project.lift_rule)


def rule_kept(rule: LiftRule, against: Mapping[int, int]) -> dict[str, Any]:
    """Return what a project keeps of its rule and of the tests that are held against another soil, or none."""
    return rule.model_dump() | {"against": {str(test): one for test, one in against.items()}}


def keep_rule(session: Session, project: Project, rule: LiftRule, who: str, seen: int | None = None) -> None:
    """Hold densities against this from now on, and commit; what stood there before is kept.

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile.
    """
    named = _named(project)

    def in_words(rule: LiftRule) -> dict[str, str]:
        return told(rule) | {"compaction": named.get(rule.compaction or NATURAL, "")}

    asked = choose(session, project, REQUIRED, rule_of(project), rule, who, seen, in_words)
    project.lift_rule = rule_kept(asked, against_by_test(project))
    session.add(project)
    session.commit()


def keep_against(
    session: Session, project: Project, test: Test, against: HeldAgainst, who: str, seen: int | None = None
) -> None:
    """Hold the densities of a test against the maximum of another soil from now on, or against none, and commit.

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile.
    """
    named = _named(project) | {NATURAL: "natural ground"}

    def in_words(one: HeldAgainst) -> dict[str, str]:
        return {"compaction": named.get(one.compaction, "")}

    before = HeldAgainst(compaction=against_of(project, test) or NATURAL)
    chosen = choose(session, project, against_part(test), before, against, who, seen, in_words)
    soils = against_by_test(project) | {test.id or 0: chosen.compaction}
    project.lift_rule = rule_kept(rule_of(project), soils)
    session.add(project)
    session.commit()


def against_part(test: Test) -> str:
    """Return how a list of changes calls what a test's densities are held against."""
    return f"density of {test.place} (test {test.id})"


def against_by_test(project: Project) -> dict[int, int]:
    """Return the tests that were given a compaction test of their own, or :data:`NATURAL`."""
    return {int(number): one for number, one in project.lift_rule.get("against", {}).items()}


def against_of(project: Project, test: Test) -> int | None:
    """Return the compaction test that a density is held against, :data:`NATURAL`, or None where nothing is asked."""
    asked = rule_of(project).compaction
    if asked is None:
        return None
    taken = test.sample is not None and test.sample.kind in _AS_TAKEN
    return against_by_test(project).get(test.id or 0, NATURAL if taken else asked)


def _named(project: Project) -> dict[int, str]:
    return {test.id or 0: f"{test.place} (test {test.id})" for test in compactions(project)}


def compactions(project: Project) -> list[Test]:
    """Return the compaction tests of a project that count."""
    return [test for _, test in tests_in(project) if test.method == COMPACTION and counts(test)]


def requirement_of(project: Project, compaction: int | None = None) -> Requirement | None:
    """Return what the project asks of lifts of a soil, of the one it names where none is said; None until a compaction
    test of it counts."""
    rule = rule_of(project)
    test = next((t for t in compactions(project) if t.id == (compaction or rule.compaction)), None)
    if test is None:
        return None
    found = test.summary["parameters"]
    maximum, optimum = (found.get(key, {}).get("reported") for key in ("maximum_dry_density", "optimum_water_content"))
    if maximum is None or optimum is None:
        return None
    return Requirement(maximum, optimum, rule.least_percent, rule.drier_percent, rule.wetter_percent)


def field_densities(session: Session, project: Project) -> list[FieldDensity]:
    """Return the densities in place that count, newest day first."""
    at = {one.test.id: one.position for one in placed_tests(project)}
    dense = [(place, test) for place, test in tests_in(project) if counts(test) and _finds_density(test)]
    days = days_of(session, [test for _, test in dense])
    against = {test.id: against_of(project, test) for _, test in dense}
    asked = {one: requirement_of(project, one) if one else None for one in against.values()}
    found = [
        FieldDensity(
            location=location.name,
            name=name,
            test=test.id or 0,
            method=method_of(test.method).title,
            day=days[test.id or 0],
            dry_g_cm3=dry,
            water_percent=water,
            position=at.get(test.id),
            checked=test.state in ("checked", "issued"),
            against=against[test.id],
            judged=_judged(session, project, test, key, (dry, water), asked[against[test.id]]),
        )
        for location, test in dense
        for name, key, dry, water in _places(test)
    ]
    return sorted(found, key=lambda one: (-one.day.toordinal(), one.location, one.name))


def _finds_density(test: Test) -> bool:
    return any(result.quantity == _DENSITY for result in method_of(test.method).results)


def _judged(
    session: Session,
    project: Project,
    test: Test,
    key: str,
    found: tuple[float, float | None],
    asked: Requirement | None,
) -> Judged | None:
    if asked is None:
        return None
    if not project.guarded:
        return judged(*found, asked)
    compaction = next(t for t in compactions(project) if t.id == against_of(project, test))
    shares = [_share(session, test, key), _share(session, compaction, "maximum_dry_density")]
    degree = 100 * found[0] / asked.maximum_g_cm3
    known = [share for share in shares if share is not None]
    # Rounded up to the place to which the degree is judged.
    expanded = ceil(10 * degree * hypot(*known)) / 10 if len(known) == len(shares) else None
    return judged_guarded(*found, asked, expanded)


def _share(session: Session, test: Test, key: str) -> float | None:
    """Return the expanded uncertainty of a result as a share of it; None where it is not known."""
    one = next((one for one in known_in_own_units(session, test) if one.parameter.key == key), None)
    return one.expanded / one.parameter.value if one and one.parameter.value else None


def _places(test: Test) -> Iterator[tuple[str, str, float, float | None]]:
    """Yield name, key and value of the dry density, and water content, of each place of a test: of every row of a
    gauge, else of the test."""
    parameters = test.summary.get("parameters", {})
    rows = [key for key in parameters if key.startswith("dry_density_") and key[12:].isdigit()]
    for key in rows:
        water = parameters.get(f"water_content_{key[12:]}", {}).get("reported")
        yield parameters[key]["name"].partition(", ")[2], key, parameters[key]["reported"], water
    if not rows and (dry := parameters.get("dry_density", {}).get("reported")) is not None:
        yield (
            test.sample.name if test.sample else "",
            "dry_density",
            dry,
            parameters.get("water_content", {}).get("reported"),
        )
