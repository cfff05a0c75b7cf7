"""How somebody stands with each method: blind soils, duplicates and the reference soil, and the signature."""

from dataclasses import dataclass
from datetime import date

from sqlmodel import Session, select

from vadum.records.conditions import of_practice
from vadum.records.duplicates import checked_of_reference, checked_twice, duplicates_of, of_reference
from vadum.records.practice import HandedIn, handed_in
from vadum.records.signatures import in_force, signatures_of
from vadum.records.tables import Competence, Person, Test
from vadum.records.zone import local
from vadum.soil.contract.method import Method
from vadum.soil.registry import METHODS
from vadum.soil.uncertainty.duplicates import ACTION, COMPARED, repeats_to
from vadum.soil.uncertainty.reference import lines_by
from vadum.soil.uncertainty.repeatability import PUBLISHED


@dataclass(frozen=True)
class Evidence:
    """What speaks for or against somebody's work by a method.

    ``blind`` are practice tests handed in and how many of them were passed; ``duplicates`` and ``reference`` how many
    there are and how many lie beyond the action lines.
    """

    blind: tuple[int, int]
    duplicates: tuple[int, int]
    reference: tuple[int, int]
    newest: date | None

    @property
    def any(self) -> bool:
        return bool(self.blind[0] or self.duplicates[0] or self.reference[0])


@dataclass(frozen=True)
class Standing:
    """How somebody stands with a method: what speaks for it, and the signature in force or the last one."""

    method: Method
    evidence: Evidence
    signature: Competence | None
    in_force: bool


def standings(session: Session, person: Person, on: date) -> list[Standing]:
    """Return how a person stands with each method, those with a signature or evidence first."""
    handed = practised(session, person.name)
    signed = {one.method: one for one in signatures_of(session, person)}
    checked_twice(session, METHODS)
    checked_of_reference(session, METHODS)
    found = []
    for method in METHODS.values():
        one = signed.get(method.code)
        evidence = _evidence(session, person.name, method, handed.get(method.code, []))
        found.append(Standing(method, evidence, one, one is not None and in_force(one, on)))
    return sorted(found, key=lambda one: (one.signature is None, not one.evidence.any, one.method.place))


def practised(session: Session, name: str) -> dict[str, list[HandedIn]]:
    """Return the practice tests that somebody handed in, by method."""
    found: dict[str, list[HandedIn]] = {}
    for test in session.exec(select(Test).where(of_practice())):
        over = handed_in(test)
        if over is not None and over.who == name:
            found.setdefault(test.method, []).append(over)
    return found


def _evidence(session: Session, name: str, method: Method, handed: list[HandedIn]) -> Evidence:
    double, beyond, watched, off = 0, 0, 0, 0
    days = [local(session, one.at).date() for one in handed]
    for key in COMPARED.get(method.code, ()):
        every = duplicates_of(session, method.code, key)
        published = PUBLISHED.get((method.code, key))
        spread = (published.share or published.amount) if published else repeats_to(every)
        mine = [one for one in every if one.second.who == name]
        double += len(mine)
        beyond += sum(spread is not None and 0 < ACTION * spread < abs(one.difference) for one in mine)
        days += [local(session, one.second.at).date() for one in mine]
    for result in method.results:
        if result.key in method.headline[:1] and (tests := of_reference(session, method.code, result.key)):
            lines, mine_of = lines_by(tests), [one for one in tests if one.who == name]
            watched += len(mine_of)
            off += sum(lines is not None and lines.beyond(one.value) == "action" for one in mine_of)
            days += [local(session, one.at).date() for one in mine_of]
    return Evidence(
        (len(handed), sum(one.passed for one in handed)), (double, beyond), (watched, off), max(days, default=None)
    )
