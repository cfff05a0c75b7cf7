"""What is known of a sample and of the ground it came from, gathered for the second pair of eyes."""

from sqlmodel import Session

from vadum.records.context import Beside, Only, every, source
from vadum.records.standing import standing_of
from vadum.records.tables import Sample, Test
from vadum.soil.contract.finding import Finding
from vadum.soil.site.consistency import Fact, consistency

_OF_SAMPLE = {
    "dry_density": ("ring-density", "dry_density"),
    "water_content": ("water-content", "water_content"),
    "particle_density": ("particle-density", "particle_density"),
    "maximum_dry_density": ("compaction", "maximum_dry_density"),
    "optimum_water_content": ("compaction", "optimum_water_content"),
    "plasticity_index": ("plastic-limit", "plasticity_index"),
    "liquidity_index": ("plastic-limit", "liquidity_index"),
    "clay_percent": ("hydrometer", "clay_percent"),
    "cbr": ("cbr-lab", "cbr"),
    "su_unconfined": ("unconfined", "su"),
    "d10_mm": ("sieve", "d10_mm"),
}
_DONE = ("reduced", "checked", "issued")


def disagreements(session: Session, sample: Sample, only: Only = every) -> list[Finding]:
    """Return what the results of a sample's finished tests, and of vane and infiltration beside it, contradict; of
    those that satisfy ``only``."""
    beside = Beside(session, sample, only)
    facts = {
        name: Fact(float(found[1]["reported"]), source(found[0]))
        for name, (code, key) in _OF_SAMPLE.items()
        if (found := beside.parameter(code, key))
    }
    for test in sample.location.tests:
        if test.state in _DONE and test.summary.get("reportable") and only(test):
            facts |= _in_the_ground(session, test, sample)
    classified = beside.newest("classification")
    symbol = classified.summary["parameters"].get("group_symbol", {}).get("text", "") if classified else ""
    return consistency(facts, symbol)


def _in_the_ground(session: Session, test: Test, sample: Sample) -> dict[str, Fact]:
    if test.method == "vane":
        return _vane(session, test, sample)
    key = {"falling-head": "ks_site_m_s", "well-permeameter": "kfs_m_s"}.get(test.method, "")
    found = test.summary.get("parameters", {}).get(key)
    # Water goes in at the surface: only a sample from there is the same soil.
    if found and found["reported"] is not None and sample.top_m <= 0.6:
        return {"ks_m_s": Fact(float(found["reported"]), source(test))}
    return {}


def _vane(session: Session, test: Test, sample: Sample) -> dict[str, Fact]:
    """Return the strengths of the depths the sample reaches, their mean."""
    standing = standing_of(session, test)
    computed = standing.reduction.computed
    within = [
        i
        for i, row in enumerate(standing.readings.get("profile", []))
        if row.get("depth_m") is not None and sample.top_m <= row["depth_m"] <= sample.base_m
    ]
    facts = {}
    for name, key in (("su_vane", "su_kpa"), ("su_remoulded", "remoulded_kpa")):
        values = [v for i in within if isinstance(v := computed.get(f"profile.{i}.{key}"), float)]
        if values:
            facts[name] = Fact(sum(values) / len(values), source(test))
    return facts
