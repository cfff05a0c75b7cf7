"""What a test leans on, gathered from the rest of the records."""

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from functools import cache
from typing import Any

from sqlalchemy.orm import load_only
from sqlmodel import Session, col, select

from vadum.records.calibrations import calibrations_by_piece, day_of, in_force, why_not
from vadum.records.tables import Equipment, Location, Sample, Test
from vadum.soil.contract.method import Method
from vadum.soil.registry import method as method_of

# What a method's context takes from the newest reportable test of another method: its code and the parameter's key.
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


Only = Callable[[Test], bool]


def every(_test: Test) -> bool:
    """Choose every test: what nobody chose otherwise."""
    return True


@dataclass(frozen=True)
class Lean:
    """One thing a test leans on: its place in the context, its name and value in words, and where they come from.

    ``mark`` tells one value from another where the words do not. ``state`` is that of the test it comes from.
    """

    key: str
    name: str
    text: str
    source: str
    mark: str = ""
    test: int = 0
    revision: int = 0
    state: str = ""

    @property
    def words(self) -> str:
        return " ".join(part for part in (self.name, self.text, "of", self.source) if part)


@dataclass
class Footing:
    """What a test leans on: as plain data for its method, and in words for people."""

    context: dict[str, Any] = field(default_factory=dict)
    leans: list[Lean] = field(default_factory=list)

    def of_test(self, key: str, value: Any, found: Test, name: str, text: str) -> None:
        """Lean on a result of another test."""
        self.context[key] = value
        self.leans.append(
            Lean(key, name, text, source(found), _mark(value), found.id or 0, found.revision, found.state)
        )

    def of_register(self, key: str, value: Any, name: str, text: str, by: str = "the register") -> None:
        """Lean on what the laboratory knows of its equipment or of the sample."""
        self.context[key] = value
        self.leans.append(Lean(key, name, text, by, _mark(value)))


def _mark(value: Any) -> str:
    """Return what tells a value from another one, wherever it comes from."""
    if isinstance(value, dict):
        value = {name: part for name, part in value.items() if name != "source"}
    return hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:12]


class Beside:
    """The begun and not void tests of a sample, newest first, read once; ``only`` those that satisfy it.

    A test feeds others only while its result may be reported.
    """

    def __init__(self, session: Session, sample: Sample, only: Only = every) -> None:
        query = select(Test).where(Test.sample_id == sample.id, col(Test.state).in_(_LIVE))
        # Their readings are long and rarely wanted.
        shown: Any = (Test.id, Test.method, Test.state, Test.summary, Test.revision, Test.sample_id, Test.location_id)
        found = session.exec(query.order_by(col(Test.id).desc()).options(load_only(*shown))).all()
        self._tests = [test for test in found if only(test)]

    def live(self, method: str) -> list[Test]:
        return [test for test in self._tests if test.method == method]

    def newest(self, method: str) -> Test | None:
        """Return the newest test of a method whose result may be reported."""
        return next((test for test in self.live(method) if test.summary.get("reportable")), None)

    def parameter(self, method: str, key: str) -> tuple[Test, dict[str, Any]] | None:
        """Return a reported value of the newest reportable test of a method, with its test."""
        found = self.newest(method)
        value = found.summary["parameters"].get(key) if found else None
        return (found, value) if found and value and value["reported"] is not None else None


@cache
def leans_on(method: Method[Any, Any, Any]) -> frozenset[str]:
    """Return the methods of whose tests on the same sample a method's context takes something."""
    wanted = method.Context.model_fields
    found = {code for name, (code, _) in _LEANT.items() if name in wanted}
    found |= {code for name, code in _CURVES.items() if name in wanted}
    found |= {"liquid-limit"} if "liquid_limit" in wanted else set()
    return frozenset(found | ({"plastic-limit"} if "non_plastic" in wanted else set()))


def footing(session: Session, test: Test) -> Footing:
    """Return what a test leans on as the records stand now, limited to what its method takes."""
    method = method_of(test.method)
    wanted = method.Context.model_fields
    found = Footing()
    if test.practice:
        return found  # a hidden soil has its own tins and leans on nothing of the laboratory
    if "tins" in wanted:
        _tins(session, test, found)
    if "cup_inspection" in wanted:
        _cup(session, test, found)
    _equipment(session, test, wanted, found)
    if test.sample is not None:
        _sample(session, test, test.sample, method, found)
    return found


def _sample(session: Session, test: Test, sample: Sample, method: Method[Any, Any, Any], found: Footing) -> None:
    wanted = method.Context.model_fields
    beside = Beside(session, sample)
    if "largest_particle_mm" in wanted and (largest := sample.largest_particle_mm) is not None:
        by = f"sample {sample.name}"
        found.of_register(
            "largest_particle_mm", {"value": largest, "source": by}, "largest particle", f"{largest:g} mm", by
        )
    if "liquid_limit" in wanted:
        _liquid_limit(beside, found)
    if "non_plastic" in wanted and (plastic := beside.newest("plastic-limit")):
        text = plastic.summary["parameters"].get("plasticity_index", {}).get("text")
        found.context["non_plastic"] = text == "NP"
        if text == "NP":
            found.of_test("non_plastic", True, plastic, "PI", "NP")
    if "neighbours" in wanted:
        found.context["neighbours"] = _neighbours(session, sample)
    for name, (code, key) in _LEANT.items():
        if name in wanted and code != method.code and (leant := beside.parameter(code, key)):
            other, value = leant
            plain = {"value": value["reported"], "source": source(other)}
            found.of_test(name, plain, other, value["symbol"], f"{value['text']} {value['unit']}".strip())
    for name, code in _CURVES.items():
        if name in wanted and code != method.code and (graded := beside.newest(code)):
            points = graded.summary.get("curve", [])
            plain = {"points": points, "source": source(graded)}
            found.of_test(name, plain, graded, f"{code} curve", "")


def _equipment(session: Session, test: Test, wanted: Any, found: Footing) -> None:
    """Add ring and constants as they were in force on the test's day, and what was out of date then."""
    by_piece = calibrations_by_piece(session, test.uses)
    on = day_of(session, test) if by_piece else date.min
    out_of_date = []
    for piece in test.uses:
        every = by_piece.get(piece.id or 0, [])
        valid = in_force(every, on)
        if every and (why := why_not(every, on)):
            out_of_date.append({"name": piece.name, "why": why})
        since = f"of {valid.on.isoformat()}" if valid else "of the register"
        table = valid.table if valid and valid.table else piece.calibration
        if "ring" in wanted and piece.kind == "load ring" and table and "ring" not in found.context:
            found.of_register("ring", {"name": piece.name, "table": table}, "calibration", since, piece.name)
        constants = valid.constants if valid and valid.constants else piece.constants
        if "supplied" in wanted and constants and "supplied" not in found.context:
            found.of_register("supplied", {"by": piece.name, "values": constants}, "constants", since, piece.name)
    if out_of_date:
        words = "; ".join(f"{one['name']}: {one['why']}" for one in out_of_date)
        found.of_register("out_of_date", out_of_date, "equipment out of date:", words)


def _tins(session: Session, test: Test, found: Footing) -> None:
    """Add the register, and in words the tins that stand in the readings."""
    register = tin_register(session)
    found.context["tins"] = register
    for name in sorted(tins_in(test.kept) & register.keys()):
        found.leans.append(
            Lean(f"tins.{name}", "tare", f"{register[name]:.2f} g", f"tin {name}", _mark(register[name]))
        )


def tins_in(readings: dict[str, Any]) -> set[str]:
    """Return the numbers of the tins that stand in readings."""
    rows = [row for rows in readings.values() if isinstance(rows, list) for row in rows]
    return {str(row["tin"]) for row in rows if row.get("tin")}


def tin_register(session: Session) -> dict[str, float]:
    """Return the tare in g of every registered tin."""
    tins = session.exec(select(Equipment.name, Equipment.tare_g).where(Equipment.kind == "tin")).all()
    return {name: tare for name, tare in tins if tare is not None}


def inspection_state(session: Session, cup: Equipment, on: date) -> str:
    """Return the state of a cup's inspection on a day: fit, adjust, replace, overdue or missing. Later ones do not
    count."""
    until = datetime.combine(on + timedelta(days=1), time(), UTC)
    newest = session.exec(
        select(Test)
        .where(Test.equipment_id == cup.id, Test.method == "cup-inspection", col(Test.state).in_(_LIVE))
        .where(col(Test.updated_at) < until)
        .order_by(col(Test.updated_at).desc())
    ).first()
    if newest is None or "verdict" not in newest.summary.get("parameters", {}):
        return "missing"
    verdict: str = newest.summary["parameters"]["verdict"]["text"]
    age = (on - newest.updated_at.date()).days
    if verdict == "fit" and age >= (cup.inspect_every_days or 1):
        return "overdue"
    return verdict


def _cup(session: Session, test: Test, found: Footing) -> None:
    cup = next((e for e in test.uses if e.kind == "cup"), None)
    if cup is None:
        found.context["cup_inspection"] = "missing"
        return
    found.context["cup"] = cup.name
    state = inspection_state(session, cup, test.updated_at.date())
    found.of_register("cup_inspection", state, "inspection", state, cup.name)


def source(test: Test) -> str:
    """Return how a test is named as a source."""
    return f"test {test.id}"


def _liquid_limit(beside: Beside, found: Footing) -> None:
    other = beside.newest("liquid-limit")
    limit = other.summary["parameters"].get("liquid_limit") if other else None
    if other is None or limit is None:
        return
    if limit["reported"] is None:
        found.of_test("liquid_limit_not_determinable", True, other, "LL", limit["text"])
        return
    plain = {"value": limit["reported"], "source": source(other)}
    found.of_test("liquid_limit", plain, other, limit["symbol"], f"{limit['text']} {limit['unit']}".strip())


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
        .order_by(col(Test.id))
    ).all()
    limits: dict[int, dict[str, Any]] = {}
    for method, summary, other, name in tests:
        key = "liquid_limit" if method == "liquid-limit" else "plastic_limit"
        parameter = summary.get("parameters", {}).get(key) if summary.get("reportable") else None
        if parameter and parameter["reported"] is not None and other is not None:
            limits.setdefault(other, {"label": name})[key] = parameter["reported"]
    return [found for found in limits.values() if len(found) == 3]
