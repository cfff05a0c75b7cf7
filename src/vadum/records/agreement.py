"""What is known of a sample and of the ground it came from, gathered for the second pair of eyes."""

from sqlmodel import Session

from vadum.records.context import Beside, Only, every
from vadum.records.footing import source
from vadum.records.standing import standing_of
from vadum.records.tables import Sample, Test
from vadum.soil.contract.finding import Finding
from vadum.soil.registry import method as method_of
from vadum.soil.site import given
from vadum.soil.site.consistency import OF_SAMPLE, Fact, consistency

_DONE = ("reduced", "checked", "issued")


def disagreements(session: Session, sample: Sample, only: Only = every) -> list[Finding]:
    """Return what the results of a sample's finished tests, and of vane and infiltration beside it, contradict; of
    those that satisfy ``only``."""
    beside = Beside(session, sample, only)
    facts = {
        name: Fact(float(found[1]["reported"]), source(found[0]))
        for name in OF_SAMPLE
        if (found := beside.quantity(name))
    }
    for test in sample.location.tests:
        if test.state in _DONE and test.summary.get("reportable") and only(test):
            facts |= _in_the_ground(session, test, sample)
    classified = beside.giving("group_symbol")
    decided = classified is not None and classified.summary.get("reportable")
    return consistency(
        facts, classified.summary["parameters"]["group_symbol"]["text"] if classified and decided else ""
    )


def _in_the_ground(session: Session, test: Test, sample: Sample) -> dict[str, Fact]:
    method = method_of(test.method)
    if method.curve_is == "strength profile":
        return _vane(session, test, sample)
    found = given(method.results, test.summary.get("parameters", {})).get("conductivity")
    # Water goes in at the surface: only a sample from there is the same soil.
    if found and sample.top_m <= 0.6:
        return {"conductivity": Fact(float(found["reported"]), source(test))}
    return {}


def _vane(session: Session, test: Test, sample: Sample) -> dict[str, Fact]:
    """Return the strengths of the depths the sample reaches, their mean."""
    standing = standing_of(session, test)
    computed = standing.reduction.computed
    within = [
        i
        for i, row in enumerate(standing.readings.get("profile", []))
        if not row.get("left_out")
        and row.get("depth_m") is not None
        and sample.top_m <= row["depth_m"] <= sample.base_m
    ]
    facts = {}
    for name, key in (("su_vane", "su_kpa"), ("su_remoulded", "remoulded_kpa")):
        values = [v for i in within if isinstance(v := computed.get(f"profile.{i}.{key}"), float)]
        if values:
            facts[name] = Fact(sum(values) / len(values), source(test))
    return facts
