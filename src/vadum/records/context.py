"""What a test leans on, gathered from the rest of the records."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from datetime import date, datetime, time, timedelta
from functools import cache
from typing import Any

from pydantic.fields import FieldInfo
from sqlalchemy import bindparam
from sqlmodel import Session, col, func, select

from vadum.records.brought import brought
from vadum.records.calibrations import calibrations_by_piece, day_of, in_force
from vadum.records.conditions import among, unindexed
from vadum.records.footing import Footing, Lean, mark_of, source, source_named
from vadum.records.once import each_once, once
from vadum.records.tables import Equipment, Location, Sample, Test, placed
from vadum.records.tares import tares
from vadum.records.together import AS_SUMMARY, has
from vadum.records.zone import local, zone_of
from vadum.soil.contract.field import source_of
from vadum.soil.contract.method import Method
from vadum.soil.contract.tins import still_in
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of
from vadum.soil.site import given
from vadum.soil.site.plasticity_chart import Neighbour

# Two results of one sample that differ by more than this share are not of one soil, or one of them is wrong: some twice
# what two laboratories are allowed between them (ASTM D4318; of densities D854 and D698).
_APART = 0.15
# Of small percentages a share says little.
_POINTS_APART = 3.0
_CLOSER = {"particle_density": 0.025, "maximum_dry_density": 0.05}
_LIVE = ("running", "reduced", "checked", "issued")
_IS_LIVE = unindexed(Test.state).in_(_LIVE)


Only = Callable[[Test], bool]


def every(_test: Test) -> bool:
    """Choose every test: what nobody chose otherwise."""
    return True


_BESIDE = (
    select(Test).where(among(Test.sample_id, "samples"), _IS_LIVE).order_by(col(Test.id).desc()).options(AS_SUMMARY)
)


def tests_beside(session: Session, samples: Iterable[int]) -> dict[int, list[Test]]:
    """Return the begun and not void tests of each sample, newest first."""

    def read(numbers: list[int]) -> dict[int, list[Test]]:
        found: dict[int, list[Test]] = {number: [] for number in numbers}
        for test in session.exec(_BESIDE, params={"samples": numbers}).all():
            found[test.sample_id or 0].append(test)
        return found

    return each_once(session, "beside", samples, read)


class Beside:
    """The begun and not void tests of a sample, newest first, read once; ``only`` those that satisfy it.

    A test feeds others only while its result may be reported.
    """

    def __init__(self, session: Session, sample: Sample, only: Only = every) -> None:
        if has(sample, "tests"):
            found = sorted((t for t in sample.tests if t.state in _LIVE), key=lambda t: -(t.id or 0))
        else:
            found = tests_beside(session, [sample.id or 0])[sample.id or 0]
        self._tests = [test for test in found if only(test)]

    def live(self, method: str) -> list[Test]:
        return [test for test in self._tests if test.method == method]

    def newest(self, method: str, key: str = "") -> Test | None:
        """Return the newest test of a method whose result may be reported, one that gives a parameter.

        A test in another state of the soil, or of another kind, gives others and does not hide an older one.
        """
        fit = (test for test in self.live(method) if test.summary.get("reportable"))
        return next((test for test in fit if not key or key in test.summary["parameters"]), None)

    def giving(self, key: str) -> Test | None:
        """Return the newest test that gives a parameter, one that may be reported before one still open."""
        found = [test for test in self._tests if key in test.summary.get("parameters", {})]
        return next((t for t in found if t.summary.get("reportable")), found[0] if found else None)

    def quantity(self, key: str) -> tuple[Test, Mapping[str, Any]] | None:
        """Return a quantity from the newest reportable test of the first method that gives it, with that test."""
        for code, method in METHODS.items():
            if not any(one.quantity == key for one in method.results):
                continue
            for found in self.live(code):
                if found.summary.get("reportable") and (
                    value := given(method.results, found.summary["parameters"]).get(key)
                ):
                    return found, value
        return None

    def parameter(self, method: str, key: str) -> tuple[Test, dict[str, Any]] | None:
        """Return a reported value of the newest reportable test of a method, with its test."""
        found = self.newest(method, key)
        value = found.summary["parameters"].get(key) if found else None
        return (found, value) if found and value and value["reported"] is not None else None


@cache
def leans_on(method: Method[Any, Any, Any]) -> frozenset[str]:
    """Return the methods of whose tests on the same sample a method's context takes something."""
    return frozenset(code for name in method.Context.model_fields if (code := source_of(method.Context, name)[0]))


def footing(session: Session, test: Test, *, around: bool = True) -> Footing:
    """Return what a test leans on as the records stand now, limited to what its method takes.

    ``around`` is whether also what it is only shown among: tins in use elsewhere, samples beside.
    """
    method = method_of(test.method)
    wanted = method.Context.model_fields
    found = Footing()
    if test.practice:
        return found  # a hidden soil has its own tins and leans on nothing of the laboratory
    if "tins" in wanted:
        _tins(session, test, found)
        if around:
            found.context["tins_elsewhere"] = _elsewhere(session, test)
    if "flasks" in wanted:
        _flasks(session, test, found)
    if "cup_inspection" in wanted:
        _cup(session, test, found)
    brought(session, test, method, found)
    limited = any(test.settings.get(limit.setting) is not None for limit in method.limits_asked)
    if limited and test.ground is not None and test.ground.project.guarded:
        found.of_register("guarded", True, "decision rule", "guarded acceptance", "the project")
    if test.sample is not None:
        _sample(session, test.sample, method, found)
        if around and "neighbours" in wanted:
            found.context["neighbours"] = _neighbours(session, test.sample)
    return found


def _sample(session: Session, sample: Sample, method: Method[Any, Any, Any], found: Footing) -> None:
    wanted = method.Context.model_fields
    beside = Beside(session, sample)
    if "largest_particle_mm" in wanted and (largest := sample.largest_particle_mm) is not None:
        by = f"sample {sample.name}"
        found.of_register(
            "largest_particle_mm", {"value": largest, "source": by}, "largest particle", f"{largest:g} mm", by
        )
    for name, info in wanted.items():
        code, key = source_of(method.Context, name)
        if code and code != method.code:
            _supplied(beside, found, name, info, code, key)


def _supplied(beside: Beside, found: Footing, name: str, info: FieldInfo, code: str, key: str) -> None:
    """Add what the newest reportable test of a method supplies: its curve, a number, or that it is put in words."""
    other = beside.newest(code, key)
    if other is None:
        return
    if not key:
        plain = {"points": other.summary.get("curve", []), "source": source(other)}
        found.of_test(name, plain, other, f"{code} curve", "")
        return
    value = other.summary["parameters"][key]
    if info.annotation is bool:
        text = info.json_schema_extra["text"] if isinstance(info.json_schema_extra, dict) else ""
        if value["text"] == text if text else value["reported"] is None:
            found.of_test(name, True, other, value["symbol"], value["text"])
    elif value["reported"] is not None:
        plain = {"value": value["reported"], "source": source(other)}
        found.of_test(name, plain, other, value["symbol"], f"{value['text']} {value['unit']}".strip())
        differing = list(_differing(beside, other, key))
        if differing:
            found.context["differing"] = found.context.get("differing", []) + differing


def _differing(beside: Beside, taken: Test, key: str) -> Iterator[dict[str, Any]]:
    """Yield the other tests of a sample whose result is apart from the one that is leant on, as a share of it."""
    value = taken.summary["parameters"][key]
    for test in beside.live(taken.method):
        found = test.summary.get("parameters", {}).get(key) if test.summary.get("reportable") else None
        if test is taken or not value["reported"] or found is None or found["reported"] is None:
            continue
        off = abs(found["reported"] - value["reported"])
        share = off / abs(value["reported"])
        if share > _CLOSER.get(key, _APART) and (value["unit"] != "%" or off > _POINTS_APART):
            percent = round(100 * share, 1)
            yield {"symbol": value["symbol"], "taken": source(taken), "other": source(test), "percent": percent}


def _tins(session: Session, test: Test, found: Footing) -> None:
    """Add the register, and in words the tins that stand in the readings."""
    register = tares(session, lambda: day_of(session, test))
    found.context["tins"] = register
    for name in sorted(tins_in(test.kept) & register.keys()):
        found.leans.append(
            Lean(f"tins.{name}", "tare", f"{register[name]:.2f} g", f"tin {name}", mark_of(register[name]))
        )


def _elsewhere(session: Session, test: Test) -> dict[str, str]:
    """Return the other running test in which soil is in a tin, by its number."""
    found: dict[str, str] = {}
    for other, tins, words in once(session, "tins in use", lambda: list(_tins_in_use(session))):
        if other != test.id:
            found |= dict.fromkeys(tins, words)
    return found


_IN_USE: Any = (Test.id, Test.method, Test.kept, Test.practice, Location.name, Sample.name)
_RUNNING = (
    select(*_IN_USE)
    .outerjoin(Sample, col(Sample.id) == Test.sample_id)
    .outerjoin(Location, col(Location.id) == func.coalesce(Sample.location_id, Test.location_id))
    .where(Test.state == "running", among(unindexed(Test.method), "methods"))
    .order_by(col(Test.id))
)


def _tins_in_use(session: Session) -> Iterator[tuple[int, list[str], str]]:
    """Yield every running test that has soil in tins, with the tins, and what it is called."""
    with_tins = [code for code, method in METHODS.items() if "tins" in method.Context.model_fields]
    for number, method, readings, practice, hole, sample in session.exec(_RUNNING, params={"methods": with_tins}):
        if not practice and (tins := tins_still_in(readings)):
            place = placed(hole, sample) or "equipment"
            yield number, sorted(tins), f"{method_of(method).title.lower()} of {place} ({source_named(number)})"


def tins_still_in(readings: Mapping[str, Any]) -> set[str]:
    """Return the numbers of the tins that soil is still in."""
    rows = [row for rows in readings.values() if isinstance(rows, list) for row in rows]
    return {str(row["tin"]) for row in rows if still_in(row)}


def _flasks(session: Session, test: Test, found: Footing) -> None:
    """Add what the register knows of the flasks that stand in the readings, as it was in force on the test's day."""
    named = {str(row["pycnometer"]) for row in test.kept.get("determinations") or [] if row.get("pycnometer")}
    asked = select(Equipment).where(Equipment.kind == "pycnometer", col(Equipment.name).in_(named))
    pieces = session.exec(asked.order_by(Equipment.name)).all() if named else []
    by_piece = calibrations_by_piece(session, pieces)
    on = day_of(session, test) if by_piece else date.min
    found.context["flasks"] = known = {}
    for piece in pieces:
        valid = in_force(by_piece.get(piece.id or 0, []), on)
        constants = valid.constants if valid and valid.constants else piece.constants
        if constants:
            known[piece.name] = constants
            since = f"of {valid.on.isoformat()}" if valid else "of the register"
            found.leans.append(
                Lean(f"flasks.{piece.name}", "constants", since, f"flask {piece.name}", mark_of(constants))
            )


def tins_in(readings: dict[str, Any]) -> set[str]:
    """Return the numbers of the tins that stand in readings."""
    rows = [row for rows in readings.values() if isinstance(rows, list) for row in rows]
    return {str(row["tin"]) for row in rows if row.get("tin")}


# Beside a maximum SQLite gives the other columns of the row that has it.
_INSPECTIONS = (
    select(Test.equipment_id, Test.summary, func.max(Test.updated_at))
    .where(among(Test.equipment_id, "cups"), _IS_LIVE, col(Test.updated_at) < bindparam("until"))
    .group_by(col(Test.equipment_id))
)


def inspection_states(session: Session, cups: Sequence[Equipment], on: date) -> dict[int, str]:
    """Return the state of each cup's inspection on a day: fit, adjust, replace, overdue or missing. Later ones do not
    count."""
    until = datetime.combine(on + timedelta(days=1), time(), zone_of(session))
    asked = {"cups": [cup.id for cup in cups], "until": until}
    by_cup = {cup: (summary, at) for cup, summary, at in session.exec(_INSPECTIONS, params=asked).all()}
    return {cup.id or 0: _inspection_state(session, cup, by_cup.get(cup.id), on) for cup in cups}


def _inspection_state(
    session: Session, cup: Equipment, newest: tuple[Mapping[str, Any], datetime] | None, on: date
) -> str:
    summary, at = newest or ({}, None)
    if at is None or "verdict" not in summary.get("parameters", {}):
        return "missing"
    verdict: str = summary["parameters"]["verdict"]["text"]
    age = (on - local(session, at).date()).days
    if verdict == "fit" and age >= (cup.inspect_every_days or 1):
        return "overdue"
    return verdict


def _cup(session: Session, test: Test, found: Footing) -> None:
    cup = next((e for e in test.uses if e.kind == "cup"), None)
    if cup is None:
        found.context["cup_inspection"] = "missing"
        return
    found.context["cup"] = cup.name
    state = inspection_states(session, [cup], local(session, test.updated_at).date())[cup.id or 0]
    found.of_register("cup_inspection", state, "inspection", state, cup.name)


_AROUND: Any = (Test.method, Test.summary, Sample.id, Sample.name)
_TESTS_AROUND = (
    select(*_AROUND)
    .join(Sample, col(Test.sample_id) == Sample.id)
    .join(Location, col(Sample.location_id) == Location.id)
    .where(
        Location.project_id == bindparam("project"),
        Sample.id != bindparam("sample"),
        among(unindexed(Test.method), "methods"),
        _IS_LIVE,
    )
    .order_by(col(Test.id))
)


def _neighbours(session: Session, sample: Sample) -> list[dict[str, Any]]:
    """Return the other samples of the project of which all that a neighbour is drawn by is known."""
    taken = {name: of for name in Neighbour.model_fields if (of := source_of(Neighbour, name))[0]}
    methods = [code for code, _ in taken.values()]
    asked = {"project": sample.location.project_id, "sample": sample.id, "methods": methods}
    tests = session.exec(_TESTS_AROUND, params=asked).all()
    known: dict[int, dict[str, Any]] = {}
    for method, summary, other, label in tests:
        for name, (code, key) in taken.items():
            parameter = summary.get("parameters", {}).get(key) if summary.get("reportable") else None
            if code == method and parameter and parameter["reported"] is not None and other is not None:
                known.setdefault(other, {"label": label})[name] = parameter["reported"]
    return [found for found in known.values() if len(found) == 1 + len(taken)]
