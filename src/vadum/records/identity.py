"""The identity card of a sample: what its tests found, in one place, with the one grain-size curve."""

from dataclasses import dataclass

from sqlmodel import Session, col, select

from vadum.records.context import Beside, Only, every, tests_beside
from vadum.records.tables import Location, Sample, Test
from vadum.records.together import samples_with_places
from vadum.records.units import found_by
from vadum.soil.bench.grading.figure import sample_figure
from vadum.soil.bench.grading.fractions import Convention
from vadum.soil.contract.figure import Figure, Point
from vadum.soil.contract.method import GRADINGS
from vadum.soil.physics.grading import Curve, joined
from vadum.soil.registry import METHODS

_CLASS = ("group_symbol", "group_name", "highway_group", "texture")


@dataclass(frozen=True)
class Fact:
    """One line of the card and the test it came from."""

    symbol: str
    text: str
    unit: str
    test_id: int
    state: str


@dataclass(frozen=True)
class Card:
    """Class, facts and curve of a sample."""

    names: dict[str, Fact]
    facts: list[Fact]
    coarse: Curve
    fine: Curve

    @property
    def has_curve(self) -> bool:
        return len(self.coarse) + len(self.fine) > 1

    def figure(self, company: list[tuple[str, list[Point]]]) -> Figure:
        return sample_figure(self.coarse, self.fine, Convention.UNIFIED, company)


def card_of(session: Session, sample: Sample, only: Only = every) -> Card:
    """Return the card from the newest reportable test of each method, of those that satisfy ``only``."""
    beside = Beside(session, sample, only)
    newest = {code: test for code in METHODS if (test := beside.newest(code)) is not None}
    included = {code for of in newest for code in METHODS[of].includes}
    shown = [
        (one.card, fact)
        for code, test in newest.items()
        if code not in included
        for one in METHODS[code].results
        if one.card and (fact := _fact(test, one.key)) is not None
    ]
    coarse, fine = (_limb(beside, kind) for kind in GRADINGS)
    return Card(
        names=_names(beside), facts=[fact for _, fact in sorted(shown, key=lambda it: it[0])], coarse=coarse, fine=fine
    )


def graded_beside(session: Session, sample: Sample) -> list[tuple[Sample, list[Point]]]:
    """Return the project's other samples that have a grain-size curve, and that curve, for laying over this one."""
    codes = [code for code, method in METHODS.items() if method.curve_is in GRADINGS]
    graded = select(Test.id).where(col(Test.sample_id) == Sample.id, col(Test.method).in_(codes)).exists()
    of_project = Location.project_id == sample.location.project_id
    query = select(Sample).join(Location).where(of_project, Sample.id != sample.id, graded)
    others = session.exec(samples_with_places(query.order_by(col(Location.id), col(Sample.top_m)))).all()
    tests_beside(session, [one.id for one in others if one.id])
    found = []
    for other in others:
        limbs = [_limb(Beside(session, other), kind) for kind in GRADINGS]
        if sum(map(len, limbs)) > 1:
            found.append((other, joined(*limbs).points))
    return found


def _names(beside: Beside) -> dict[str, Fact]:
    """Return the class of the sample; one still open is worth showing: it says what is possible."""
    test = beside.giving("group_symbol")
    found = {key: _fact(test, key) for key in _CLASS} if test else {}
    return {key: fact for key, fact in found.items() if fact is not None}


def _fact(test: Test, key: str) -> Fact | None:
    value = found_by(test).get(key)
    if value is None or test.id is None:
        return None
    unit = value["unit"] if value["reported"] is not None else ""
    return Fact(value["symbol"], value["text"], unit, test.id, test.state)


def _limb(beside: Beside, kind: str) -> Curve:
    """Return a limb of the grain-size curve, empty when no test gives it."""
    codes = [code for code, method in METHODS.items() if method.curve_is == kind]
    test = next((found for code in codes if (found := beside.newest(code))), None)
    points = test.summary.get("curve", []) if test else []
    return Curve.through([d for d, _ in points], [p for _, p in points])
