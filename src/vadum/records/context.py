"""What a test leans on, gathered from the rest of the records."""

from datetime import date
from functools import cache
from typing import Any

from sqlalchemy.orm import load_only
from sqlmodel import Session, col, select

from vadum.records.calibrations import calibrations_by_piece, day_of, in_force, why_not
from vadum.records.tables import Equipment, Location, Sample, Test
from vadum.soil.method import Method

# What a method's context takes from the newest complete test of another method: its code and the parameter's key.
_LEANT = {
    "natural_water_content": ("water-content", "water_content"),
    "particle_density": ("particle-density", "particle_density"),
    "plastic_limit": ("plastic-limit", "plastic_limit"),
    "plasticity_index": ("plastic-limit", "plasticity_index"),
    "clay_percent": ("hydrometer", "clay_percent"),
    "optimum_water_content": ("compaction", "optimum_water_content"),
    "maximum_dry_density": ("compaction", "maximum_dry_density"),
}
_CURVES = {"sieve_curve": "sieve", "hydrometer_curve": "hydrometer"}
_LIVE = ("running", "reduced", "checked", "issued")


class Beside:
    """The begun and not void tests of a sample, newest first, read once."""

    def __init__(self, session: Session, sample: Sample) -> None:
        query = select(Test).where(Test.sample_id == sample.id, col(Test.state).in_(_LIVE))
        # Their readings are long and rarely wanted.
        shown = load_only(Test.id, Test.method, Test.state, Test.summary)  # type: ignore[arg-type]
        self._tests = session.exec(query.order_by(col(Test.id).desc()).options(shown)).all()

    def live(self, method: str) -> list[Test]:
        return [test for test in self._tests if test.method == method]

    def newest(self, method: str) -> Test | None:
        """Return the newest test of a method whose readings are complete."""
        return next((test for test in self.live(method) if test.summary.get("complete")), None)

    def parameter(self, method: str, key: str) -> dict[str, Any] | None:
        """Return a reported value of the newest complete and reportable test of a method, with its source."""
        found = self.newest(method)
        if found is None or not found.summary["reportable"]:
            return None
        value = found.summary["parameters"].get(key)
        return (
            {"value": value["reported"], "source": source(found)} if value and value["reported"] is not None else None
        )


@cache
def leans_on(method: Method[Any, Any, Any]) -> frozenset[str]:
    """Return the methods of whose tests on the same sample a method's context takes something."""
    wanted = method.Context.model_fields
    found = {code for name, (code, _) in _LEANT.items() if name in wanted}
    found |= {code for name, code in _CURVES.items() if name in wanted}
    found |= {"liquid-limit"} if "liquid_limit" in wanted else set()
    return frozenset(found | ({"plastic-limit"} if "non_plastic" in wanted else set()))


def gather(session: Session, test: Test, method: Method[Any, Any, Any]) -> dict[str, Any]:
    """Return the context of a test as plain data, limited to what its method takes."""
    wanted = method.Context.model_fields
    context: dict[str, Any] = {}
    if test.practice:
        return context  # a hidden soil has its own tins and leans on nothing of the laboratory
    if "tins" in wanted:
        context["tins"] = tin_register(session)
    if "cup_inspection" in wanted:
        context |= _cup(session, test)
    context |= _equipment(session, test, wanted)
    sample = test.sample
    if sample is None:
        return context
    beside = Beside(session, sample)
    if "largest_particle_mm" in wanted and sample.largest_particle_mm is not None:
        context["largest_particle_mm"] = {"value": sample.largest_particle_mm, "source": f"sample {sample.name}"}
    if "liquid_limit" in wanted:
        context |= _liquid_limit(beside)
    if "non_plastic" in wanted and (found := beside.newest("plastic-limit")):
        context["non_plastic"] = found.summary["parameters"].get("plasticity_index", {}).get("text") == "NP"
    if "neighbours" in wanted:
        context["neighbours"] = _neighbours(session, sample)
    for name, (code, key) in _LEANT.items():
        if name in wanted and code != method.code and (leant := beside.parameter(code, key)):
            context[name] = leant
    for name, code in _CURVES.items():
        if name in wanted and code != method.code and (found := beside.newest(code)):
            context[name] = {"points": found.summary.get("curve", []), "source": source(found)}
    return context


def _equipment(session: Session, test: Test, wanted: Any) -> dict[str, Any]:
    """Return ring and constants as they were in force on the test's day, and what was out of date then."""
    context: dict[str, Any] = {}
    by_piece = calibrations_by_piece(session, test.uses)
    on = day_of(session, test) if by_piece else date.min
    out_of_date = []
    for piece in test.uses:
        every = by_piece.get(piece.id or 0, [])
        valid = in_force(every, on)
        if every and (why := why_not(every, on)):
            out_of_date.append({"name": piece.name, "why": why})
        table = valid.table if valid and valid.table else piece.calibration
        if "ring" in wanted and piece.kind == "load ring" and table and "ring" not in context:
            context["ring"] = {"name": piece.name, "table": table}
        constants = valid.constants if valid and valid.constants else piece.constants
        if "supplied" in wanted and constants and "supplied" not in context:
            context["supplied"] = {"by": piece.name, "values": constants}
    return context | ({"out_of_date": out_of_date} if out_of_date else {})


def tin_register(session: Session) -> dict[str, float]:
    """Return the tare in g of every registered tin."""
    tins = session.exec(select(Equipment.name, Equipment.tare_g).where(Equipment.kind == "tin")).all()
    return {name: tare for name, tare in tins if tare is not None}


def inspection_state(session: Session, cup: Equipment, on: date) -> str:
    """Return the state of a cup's inspection on a day: fit, adjust, replace, overdue or missing."""
    newest = session.exec(
        select(Test)
        .where(Test.equipment_id == cup.id, Test.method == "cup-inspection", col(Test.state).in_(_LIVE))
        .order_by(col(Test.updated_at).desc())
    ).first()
    if newest is None or "verdict" not in newest.summary.get("parameters", {}):
        return "missing"
    verdict: str = newest.summary["parameters"]["verdict"]["text"]
    age = (on - newest.updated_at.date()).days
    if verdict == "fit" and age >= (cup.inspect_every_days or 1):
        return "overdue"
    return verdict


def _cup(session: Session, test: Test) -> dict[str, Any]:
    cup = next((e for e in test.uses if e.kind == "cup"), None)
    if cup is None:
        return {"cup_inspection": "missing"}
    return {"cup": cup.name, "cup_inspection": inspection_state(session, cup, test.updated_at.date())}


def source(test: Test) -> str:
    """Return how a test is named as a source."""
    return f"test {test.id}"


def _liquid_limit(beside: "Beside") -> dict[str, Any]:
    found = beside.newest("liquid-limit")
    limit = found.summary["parameters"].get("liquid_limit") if found else None
    if found is None or limit is None:
        return {}
    if limit["reported"] is None:
        return {"liquid_limit_not_determinable": True}
    return {"liquid_limit": {"value": limit["reported"], "source": source(found)}}


def _neighbours(session: Session, sample: Sample) -> list[dict[str, Any]]:
    tests = session.exec(
        select(Test.method, Test.summary, Sample.id, Sample.name)
        .join(Sample, col(Test.sample_id) == Sample.id)
        .join(Location, col(Sample.location_id) == Location.id)
        .where(
            Location.project_id == sample.location.project_id,
            Sample.id != sample.id,
            col(Test.method).in_(("liquid-limit", "plastic-limit")),
            col(Test.state).in_(_LIVE),
        )
    ).all()
    limits: dict[int, dict[str, Any]] = {}
    for method, summary, other, name in tests:
        key = "liquid_limit" if method == "liquid-limit" else "plastic_limit"
        parameter = summary.get("parameters", {}).get(key)
        if parameter and parameter["reported"] is not None and other is not None:
            limits.setdefault(other, {"label": name})[key] = parameter["reported"]
    return [found for found in limits.values() if len(found) == 3]
