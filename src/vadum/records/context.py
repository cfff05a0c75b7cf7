"""What a test leans on, gathered from the rest of the records."""

from datetime import date
from typing import Any

from sqlmodel import Session, col, select

from vadum.records.tables import Equipment, Location, Sample, Test
from vadum.soil.method import Method

_LIVE = ("running", "reduced", "checked", "issued")


def gather(session: Session, test: Test, method: Method[Any, Any, Any]) -> dict[str, Any]:
    """Return the context of a test as plain data, limited to what its method takes."""
    wanted = method.Context.model_fields
    context: dict[str, Any] = {}
    if "tins" in wanted:
        context["tins"] = tin_register(session)
    if "cup_inspection" in wanted:
        context |= _cup(session, test)
    sample = test.sample
    if sample is None:
        return context
    if "largest_particle_mm" in wanted and sample.largest_particle_mm is not None:
        context["largest_particle_mm"] = {"value": sample.largest_particle_mm, "source": f"sample {sample.name}"}
    if "liquid_limit" in wanted:
        context |= _liquid_limit(session, sample)
    if "natural_water_content" in wanted and (found := _newest(session, sample, "water-content")):
        w = found.summary["parameters"].get("water_content")
        if w and found.summary["reportable"]:
            context["natural_water_content"] = {"value": w["reported"], "source": _source(found)}
    if "neighbours" in wanted:
        context["neighbours"] = _neighbours(session, sample)
    return context


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


def _newest(session: Session, sample: Sample, method: str) -> Test | None:
    tests = session.exec(
        select(Test)
        .where(Test.sample_id == sample.id, Test.method == method, col(Test.state).in_(_LIVE))
        .order_by(col(Test.id).desc())
    ).all()
    return next((test for test in tests if test.summary.get("complete")), None)


def _source(test: Test) -> str:
    return f"test {test.id}"


def _liquid_limit(session: Session, sample: Sample) -> dict[str, Any]:
    found = _newest(session, sample, "liquid-limit")
    if found is None:
        return {}
    limit = found.summary["parameters"].get("liquid_limit")
    if limit is None:
        return {}
    if limit["reported"] is None:
        return {"liquid_limit_not_determinable": True}
    return {"liquid_limit": {"value": limit["reported"], "source": _source(found)}}


def _neighbours(session: Session, sample: Sample) -> list[dict[str, Any]]:
    tests = session.exec(
        select(Test, Sample)
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
    for test, other in tests:
        key = "liquid_limit" if test.method == "liquid-limit" else "plastic_limit"
        parameter = test.summary.get("parameters", {}).get(key)
        if parameter and parameter["reported"] is not None and other.id is not None:
            limits.setdefault(other.id, {"label": other.name})[key] = parameter["reported"]
    return [found for found in limits.values() if len(found) == 3]
