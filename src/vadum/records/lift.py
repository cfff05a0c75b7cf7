"""Field densities of a project by day, and the requirement they are held against."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from math import ceil, hypot

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


class LiftRule(BaseModel):
    """What a project asks of its lifts, as kept with it; without a compaction test nothing is judged."""

    compaction: int | None = Field(default=None, title="compaction test")
    least_percent: float = Field(default=95.0, title="at least")
    drier_percent: float = Field(default=2.0, title="drier by")
    wetter_percent: float = Field(default=2.0, title="wetter by")


@dataclass(frozen=True)
class FieldDensity:
    """A density found in place, where and when; its verdict once a requirement stands."""

    location: str
    name: str
    test: int
    method: str
    day: date
    dry_g_cm3: float
    water_percent: float | None
    position: Position | None
    checked: bool
    judged: Judged | None = None

    @property
    def place(self) -> str:
        return f"{self.location} {self.name}".strip()


def rule_of(project: Project) -> LiftRule:
    return LiftRule.model_validate(project.lift_rule)


def keep_rule(session: Session, project: Project, rule: LiftRule, who: str, seen: int | None = None) -> None:
    """Hold densities against this from now on, and commit; what stood there before is kept.

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile.
    """
    named = {test.id: f"{test.place} (test {test.id})" for test in compactions(project)}

    def in_words(rule: LiftRule) -> dict[str, str]:
        return told(rule) | {"compaction": named.get(rule.compaction, "")}

    project.lift_rule = choose(session, project, REQUIRED, rule_of(project), rule, who, seen, in_words).model_dump()
    session.add(project)
    session.commit()


def compactions(project: Project) -> list[Test]:
    """Return the compaction tests of a project that count."""
    return [test for _, test in tests_in(project) if test.method == COMPACTION and counts(test)]


def requirement_of(project: Project) -> Requirement | None:
    """Return what the project asks, None until a compaction test that counts is named."""
    rule = rule_of(project)
    test = next((t for t in compactions(project) if t.id == rule.compaction), None)
    if test is None:
        return None
    found = test.summary["parameters"]
    maximum, optimum = (found.get(key, {}).get("reported") for key in ("maximum_dry_density", "optimum_water_content"))
    if maximum is None or optimum is None:
        return None
    return Requirement(maximum, optimum, rule.least_percent, rule.drier_percent, rule.wetter_percent)


def field_densities(session: Session, project: Project) -> list[FieldDensity]:
    """Return the densities in place that count, newest day first."""
    asked = requirement_of(project)
    at = {one.test.id: one.position for one in placed_tests(project)}
    dense = [(place, test) for place, test in tests_in(project) if counts(test) and _finds_density(test)]
    days = days_of(session, [test for _, test in dense])
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
            judged=_judged(session, project, test, key, (dry, water), asked) if asked else None,
        )
        for location, test in dense
        for name, key, dry, water in _places(test)
    ]
    return sorted(found, key=lambda one: (-one.day.toordinal(), one.location, one.name))


def _finds_density(test: Test) -> bool:
    return any(result.quantity == _DENSITY for result in method_of(test.method).results)


def _judged(
    session: Session, project: Project, test: Test, key: str, found: tuple[float, float | None], asked: Requirement
) -> Judged:
    if not project.guarded:
        return judged(*found, asked)
    compaction = next(t for t in compactions(project) if t.id == rule_of(project).compaction)
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
