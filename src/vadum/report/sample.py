"""The sample sheet: the identity card of a sample for print."""

from typing import Any

from sqlmodel import Session

from vadum.present import finding_in
from vadum.records.agreement import disagreements
from vadum.records.context import Only, every
from vadum.records.custody import custody_lines
from vadum.records.identity import Fact, card_of
from vadum.records.site import UNCHECKED
from vadum.records.standing import FROZEN
from vadum.records.tables import Sample, Test
from vadum.records.units import found_by, units_of_project
from vadum.report.document import SMALL, Part, Picture
from vadum.report.particulars import AS_RECEIVED, depth_of, for_whom
from vadum.soil.registry import method as method_of
from vadum.soil.site.plasticity_chart import plasticity_chart


def sample_part(session: Session, sample: Sample, only: Only = every) -> Part:
    """Return what the sheet of a sample prints: what it is, what its tests, those that satisfy ``only``, found, curve
    and chart, which tests there are."""
    card, place = card_of(session, sample, only), sample.location
    units = units_of_project(place.project)
    open_facts = [f for f in (*card.names.values(), *card.facts) if f.state not in FROZEN]
    data: dict[str, Any] = {
        "title": f"{place.name} {sample.name}",
        "particulars": [
            ["project", place.project.name],
            *for_whom(place),
            ["location", f"{place.name}, {place.kind}"],
            ["sample", f"{sample.name}, {sample.kind}"],
            ["depth", depth_of(sample)],
            ["description", sample.description or "none"],
            *custody_lines(sample),
        ],
        "class": [_written(fact) for fact in card.names.values()],
        "facts": [[fact.symbol, _written(fact), fact.unit] for fact in card.facts],
        "unchecked": f"{UNCHECKED} not checked yet" if open_facts else "",
        "tests": [test_line(test) for test in sample.tests if test.state != "void" and only(test)],
        "findings": [
            {"severity": f.severity, "message": finding_in(f, units).message}
            for f in disagreements(session, sample, only)
        ],
        "as_received": AS_RECEIVED,
    }
    pictures = [Picture.of(card.figure([]), SMALL)] if card.has_curve else []
    limits = [_number(card.facts, symbol) for symbol in ("LL", "PI")]
    if None not in limits:
        pictures.append(Picture.of(plasticity_chart(limits[0], limits[1], []), SMALL))
    return Part("sample", data, pictures)


def _written(fact: Fact) -> str:
    return fact.text if fact.state in FROZEN else f"{fact.text}{UNCHECKED}"


def _number(facts: list[Fact], symbol: str) -> float | None:
    """Return a fact as a number; None where it is a judgement, such as not plastic, or not known."""
    text = next((fact.text for fact in facts if fact.symbol == symbol), "")
    try:
        return float(text)
    except ValueError:
        return None


def test_line(test: Test) -> list[str]:
    """Return a test with what it is for, its state and the number of its sheet."""
    method, found = method_of(test.method), found_by(test)
    shown = [found[key] for key in method.headline if key in found][:3] or list(found.values())[:3]
    words = ", ".join(f"{p['symbol']} {p['text']}{_unit(p)}" for p in shown)
    return [method.title, words, test.state, f"{test.id}.{test.revision}"]


def _unit(parameter: dict[str, Any]) -> str:
    return f" {parameter['unit']}" if parameter["unit"] and parameter["reported"] is not None else ""
