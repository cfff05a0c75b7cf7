"""The places of a project that take water, and what the project asks of them."""

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import BaseModel, Field
from sqlmodel import Session

from vadum.records.chosen import choose
from vadum.records.positions import PlacedTest, placed_tests, tests_in
from vadum.records.site import counts
from vadum.records.standing import FROZEN
from vadum.records.tables import Location, Project, Test
from vadum.soil.bench.position import Position
from vadum.soil.registry import method as method_of
from vadum.soil.site.infiltration import By, Demand, Kind

ASKED = "infiltration"


class InfiltrationRule(BaseModel):
    """What a project asks, as kept with it; without a rate nothing is judged."""

    kind: Kind = Field(default=Kind.CONDUCTIVITY, title="of the")
    required_mm_h: float | None = Field(default=None, title="rate required")
    by: By = Field(default=By.MEAN, title="by the")
    safety_factor: float = Field(default=2.0, title="over a factor of")
    design_c: float | None = Field(default=None, title="in water of")

    @property
    def demand(self) -> Demand | None:
        if self.required_mm_h is None:
            return None
        return Demand(self.required_mm_h, self.by, self.safety_factor, self.design_c)


@dataclass(frozen=True)
class Place:
    """One place that was tested: where, by which test, and its rate in mm/h as it is reported."""

    name: str
    test: int
    method: str
    kind: Kind
    rate_mm_h: float
    text: str
    at_20: bool
    position: Position | None
    checked: bool


def rule_of(project: Project) -> InfiltrationRule:
    return InfiltrationRule.model_validate(project.infiltration_rule)


def keep_rule(session: Session, project: Project, rule: InfiltrationRule, who: str, seen: int | None = None) -> None:
    """Hold the site against this from now on, and commit; what stood there before is kept.

    Raises
    ------
    CorrectionError
        If somebody changed the same meanwhile.
    """
    chosen = choose(session, project, ASKED, rule_of(project), rule, who, seen)
    project.infiltration_rule = chosen.model_dump(mode="json")
    session.add(project)
    session.commit()


def places_of(project: Project) -> list[Place]:
    """Return every place whose test counts, in the order of the locations."""
    found: list[Place] = []
    at = {(one.test.id, one.path): one for one in placed_tests(project)}
    for location, test in tests_in(project):
        if method_of(test.method).takes_water and counts(test):
            found += _of_test(location, test, at)
    return found


def kinds_of(places: list[Place]) -> list[Kind]:
    """Return what the places give, that of most of them first."""
    counted = {kind: sum(one.kind == kind for one in places) for kind in Kind}
    return sorted((kind for kind, count in counted.items() if count), key=lambda kind: -counted[kind])


def _of_test(location: Location, test: Test, at: dict[tuple[int | None, str], PlacedTest]) -> Iterator[Place]:
    method = method_of(test.method)
    takes = method.takes_water
    if takes is None:
        return
    for number in range(1, len(test.kept.get(takes.table, [])) + 1) if takes.table else (0,):
        keys = [key.format(number=number) for key in takes.results]
        first = next((key for key in keys if _reported(test, key)), None)
        if first is None:
            continue
        kept = test.summary["parameters"][first]
        placed = at.get((test.id, f"{takes.table}.{number - 1}")) or at.get((test.id, ""))
        yield Place(
            name=f"{location.name} {takes.word} {number}" if number else location.name,
            test=test.id or 0,
            method=method.title,
            kind=Kind(takes.kind),
            rate_mm_h=float(kept["reported"]),
            text=str(kept["text"]),
            at_20=first == keys[0],
            position=placed.position if placed else None,
            checked=test.state in FROZEN,
        )


def _reported(test: Test, key: str) -> bool:
    """Return whether a test gives a number there: a bound in words is none, nothing cannot be averaged."""
    return bool(test.summary.get("parameters", {}).get(key, {}).get("reported"))
