"""A project in: looked at first, then all of it or nothing, as a project of its own."""

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, fields
from datetime import date
from functools import cache, partial
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from sqlalchemy.exc import DatabaseError
from sqlmodel import Session, select

from vadum.records import migrations
from vadum.records.archive.corrections import bring_corrections
from vadum.records.archive.gear import BESIDE_A_PIECE, other_tares, others, renamed
from vadum.records.archive.opening import ArchiveError, held_against, judged, opened, said
from vadum.records.archive.plain import renumbered, row_of
from vadum.records.attachments import media_type_of
from vadum.records.calibrations import day_of
from vadum.records.catching_up import catch_up
from vadum.records.changes import State, difference, kept_readings, state_of
from vadum.records.dependents import renew
from vadum.records.lift import rule_kept, rule_of
from vadum.records.saving import record
from vadum.records.standing import FROZEN, check_of, summarise
from vadum.records.tables import (
    Attachment,
    Calibration,
    Check,
    Equipment,
    IssuedSheet,
    Location,
    OperationTime,
    Project,
    Report,
    Revision,
    Sample,
    Stratum,
    Test,
)
from vadum.soil.contract.cells import coded, tables
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import method as method_of

_STATE = {one.name for one in fields(State)}
# A test leans on a test that leans on a test; more steps there are not.
_PASSES = 4


@dataclass(frozen=True)
class Preview:
    """What an archive would bring: the project's name, how many of each thing, and what should be known before."""

    name: str
    counts: dict[str, int]
    notes: list[str]


def preview(session: Session, data: bytes) -> Preview:
    """Return what an archive would bring; nothing is changed.

    Raises
    ------
    ArchiveError
        If it cannot be taken.
    """
    plain, files = opened(data)
    tests = judged(plain, files)
    counts = {
        "locations": len(plain["locations"]),
        "samples": sum(len(place["samples"]) for place in plain["locations"]),
        "tests": len(tests),
        "revisions": sum(len(t["revisions"]) for t in tests),
        "attachments": sum(len(t["attachments"]) for t in tests),
        "issued sheets": sum(len(t["issued"]) for t in tests),
        "issued reports": len(plain.get("reports", [])),
    }
    notes = []
    name = plain["project"]["name"]
    with _whole(session):
        beside = others(session, plain)
        days = {date.fromisoformat(r["at"][:10]) for t in tests for r in t["revisions"]}
        tins = {name for day in days for name in other_tares(session, plain["equipment"], day)}
    if session.exec(select(Project).where(Project.name == name)).first():
        notes.append(f"A project called {name} is here already; the archive comes as a second one beside it.")
    known = set(session.exec(select(Equipment.name)).all())
    if fresh := sorted({e["name"] for e in plain["equipment"]} - known):
        notes.append(f"New in the register: {', '.join(fresh)}.")
    if beside:
        notes.append(
            f"Of the same name here, but of another kind, with other constants or other calibrations:"
            f" {', '.join(sorted(beside))}. Theirs come beside as {', '.join(sorted(beside.values()))}; no number"
            " changes."
        )
    if tins:
        notes.append(
            f"Other tares here: {', '.join(sorted(tins))}. Theirs are written into the rows that leant on the register."
        )
    asked = plain["project"].get("lift_rule")
    if "required_by" not in plain and isinstance(asked, dict) and asked.get("compaction"):
        notes.append(
            "It comes from an earlier release, which does not say by which compaction test the densities of its lifts"
            " are judged: name it again under the project's field densities."
        )
    return Preview(name, counts, notes)


def bring_in(session: Session, data: bytes) -> Project:
    """Add an archive's project with all it holds, in one transaction; what its tests come to is worked out here.

    Raises
    ------
    ArchiveError
        If it cannot be taken; nothing is changed then.
    """
    plain, files = opened(data)
    judged(plain, files)
    with _whole(session):
        with session.no_autoflush:
            project = _bring(session, plain, files)
        session.commit()
    catch_up(session)
    return project


@contextmanager
def _whole(session: Session) -> Iterator[None]:
    """Go back and say what is wrong where a part of an archive is not what it should be."""
    try:
        yield
    except ArchiveError:
        session.rollback()
        raise
    except ValidationError as error:
        session.rollback()
        raise ArchiveError(f"The archive is not whole: {said(error)}.") from error
    except DatabaseError as error:
        session.rollback()
        unique = "UNIQUE" in str(error.orig)
        words = "two of its parts say that they are the same one" if unique else "a part of it leads nowhere"
        raise ArchiveError(f"The archive is not whole: {words}.") from error
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        session.rollback()
        raise ArchiveError(f"The archive is not whole: {error}.") from error


def _bring(session: Session, plain: dict[str, Any], files: dict[str, bytes]) -> Project:
    gear: dict[str, Equipment] = {}
    inspections: list[Test] = []
    names = others(session, plain)
    for e in plain["equipment"]:
        gear[e["name"]], made = _piece(session, e | {"name": names.get(e["name"], e["name"])}, files)
        inspections += made
    project: Project = row_of(Project, plain["project"])
    session.add(project)
    session.flush()
    bring_corrections(session, project, plain.get("corrections", []))
    _reports(session, plain.get("reports", []), files, project)
    tests: list[tuple[Test, dict[str, Any]]] = []
    for place in plain["locations"]:
        location = row_of(Location, place["location"], project_id=project.id)
        session.add(location)
        session.flush()
        bring_corrections(session, location, place.get("corrections", []))
        session.add_all(row_of(Stratum, s, location_id=location.id) for s in place["strata"])
        for kept in place["tests"]:
            tests.append((_test(session, kept, files, gear, location_id=location.id), kept))
        for one in place["samples"]:
            sample = row_of(Sample, one["sample"], location_id=location.id)
            session.add(sample)
            session.flush()
            bring_corrections(session, sample, one.get("corrections", []))
            for kept in one["tests"]:
                tests.append((_test(session, kept, files, gear, sample_id=sample.id), kept))
    brought = {kept["number"]: test.id or 0 for test, kept in tests if "number" in kept}
    # An archive of an earlier release says the key that the test had in its laboratory.
    required_by = brought.get(plain.get("required_by", 0))
    rule = rule_of(project).model_copy(update={"compaction": required_by})
    against = {brought[test]: brought.get(by, 0) for test, by in held_against(plain).items() if test in brought}
    project.lift_rule = rule_kept(rule, against)
    session.flush()
    on = cache(partial(other_tares, session, plain["equipment"]))
    for test, kept in tests:
        _write_tares(session, test, on(day_of(session, test)))
        checks = (renamed(one, names) for one in kept.get("checks", []))
        session.add_all(_checks(session, test, checks, brought))
    session.flush()
    _summarise(session, [*inspections, *(test for test, _ in tests)])
    return project


def _write_tares(session: Session, test: Test, tares: dict[str, float]) -> None:
    """Write tares into the rows of an open test that leant on another register, as a revision of its own."""
    columns = {
        name for name, row in tables(method_of(test.method).Readings).items() if "mass_tin_g" in row.model_fields
    }
    told = {
        name: [
            (
                row | {"mass_tin_g": tares[row["tin"]]}
                if row.get("tin") in tares and row.get("mass_tin_g") is None
                else row
            )
            for row in rows
        ]
        for name, rows in test.kept.items()
        if name in columns
    }
    if test.state in FROZEN or test.kept | told == test.kept:
        return
    before = state_of(test)
    test.kept = test.kept | told
    record(session, test, before, who="archive", what="mass_tin_g = tares of the laboratory it came from")


def _summarise(session: Session, tests: list[Test]) -> None:
    """Work out what lists show, whatever the archive said of it."""
    for test in tests:
        check = check_of(session, test)
        test.summary = summarise(Reduction.model_validate(check.result)) if check else {}
    begun = [test for test in tests if test.state != "planned"]
    for _ in range(_PASSES):
        if not renew(session, begun):
            return


def _piece(session: Session, plain: dict[str, Any], files: dict[str, bytes]) -> tuple[Equipment, list[Test]]:
    """Return the piece of this name: the laboratory's own as it is known here, or a new one with the calibrations and
    inspections it brings."""
    known = session.exec(select(Equipment).where(Equipment.name == plain["name"])).first()
    if known is not None:
        return known, []
    piece: Equipment = row_of(Equipment, {k: v for k, v in plain.items() if k not in BESIDE_A_PIECE})
    session.add(piece)
    session.flush()
    bring_corrections(session, piece, plain.get("corrections", []))
    for one in plain.get("calibrations", []):
        data = files[one["certificate"]] if one["certificate"] else None
        own = {k: v for k, v in one.items() if k != "certificate"}
        calibration = row_of(Calibration, own, equipment_id=piece.id)
        calibration.certificate = data
        session.add(calibration)
    return piece, [_test(session, t, files, {}, equipment_id=piece.id) for t in plain.get("inspections", [])]


def _test(
    session: Session, kept: dict[str, Any], files: dict[str, bytes], gear: dict[str, Equipment], **place: Any
) -> Test:
    plain = {k: v for k, v in kept["test"].items() if k not in ("readings", "summary", "moved")}
    test: Test = row_of(Test, plain, **place)
    method = method_of(test.method)
    test.kept = kept_readings(session, coded(method.Readings, kept["test"]["readings"]))
    older = "version" not in plain
    if older:
        usual = _before_pinning(test.method)
        test.settings, test.version = usual["settings"] | test.settings, usual["version"]
    test.settings = coded(method.Settings, test.settings)
    test.uses = [gear[name] for name in kept["uses"]]
    session.add(test)
    session.flush()
    revisions = [one | {"uses": _called(one["uses"], gear)} if "uses" in one else one for one in kept["revisions"]]
    session.add_all(_revisions(session, test, revisions, older=older))
    session.add_all(row_of(OperationTime, t, test_id=test.id) for t in kept["times"])
    for a in kept["attachments"]:
        data, small = files[a["sha256"]], files[a["small"]] if a["small"] else None
        own = {k: v for k, v in a.items() if k != "small"} | {"media_type": media_type_of(files[a["sha256"]])}
        session.add(row_of(Attachment, own, test_id=test.id, data=data, small=small))
    taken = set(session.exec(select(IssuedSheet.number)).all()) if kept["issued"] else set()
    for i in kept["issued"]:
        number = i["number"] if i["number"] not in taken else f"{i['number']} (archive {test.id})"
        session.add(row_of(IssuedSheet, i | {"number": number}, test_id=test.id, data=files[i["sha256"]]))
    return test


def _called(names: list[str], gear: dict[str, Equipment]) -> list[str]:
    """Return pieces by the names they have here."""
    return sorted(gear[name].name if name in gear else name for name in names)


def _revisions(session: Session, test: Test, kept: list[dict[str, Any]], *, older: bool) -> Iterator[Revision]:
    """Yield an archive's revisions, each with what changed since the one before.

    Raises
    ------
    ArchiveError
        If the test is not what the newest of them left.
    """
    before, method = State(), method_of(test.method)
    usual = _before_pinning(test.method) if older else {"settings": {}}
    after = before
    for one in kept:
        parts = {name: value for name, value in one.items() if name in _STATE}
        parts |= {
            "readings": kept_readings(session, coded(method.Readings, one["readings"])),
            "settings": coded(method.Settings, usual["settings"] | one["settings"]),
        }
        if older:
            parts |= {"version": test.version, "uses": sorted(piece.name for piece in test.uses)}
            parts |= {"setting_origins": test.setting_origins, "bindings": test.bindings}
        after = State(**parts)
        own = {name: value for name, value in one.items() if name not in _STATE}
        yield row_of(Revision, own, test_id=test.id, changed=difference(before, after))
        before = after
    if kept and difference(after, state_of(test)):
        raise ArchiveError(f"A test of {test.method} is not what its newest revision left.")


def _checks(session: Session, test: Test, kept: Iterable[dict[str, Any]], brought: dict[int, int]) -> Iterator[Check]:
    """Yield an archive's checks; the tests they lean on have other numbers here."""
    method = method_of(test.method)
    for one in kept:
        plain = renumbered({k: v for k, v in one.items() if k != "readings"}, brought)
        check = row_of(Check, plain, test_id=test.id)
        check.kept = kept_readings(session, coded(method.Readings, one["readings"]))
        check.settings = coded(method.Settings, check.settings)
        yield check


def _reports(session: Session, kept: list[dict[str, Any]], files: dict[str, bytes], project: Project) -> None:
    taken = set(session.exec(select(Report.number).where(Report.state == "issued")).all())
    for one in kept:
        number = one["number"] if one["number"] not in taken else f"{one['number']} (archive {project.id})"
        plain = one | {"number": number, "state": "issued"}
        session.add(row_of(Report, plain, project_id=project.id, data=files[one["sha256"]]))


def _before_pinning(method: str) -> dict[str, Any]:
    """Return the settings and the version of a method in the days when only what was chosen was kept."""
    kept = Path(migrations.__file__).parent / "versions" / "0010_defaults.json"
    found: dict[str, Any] = json.loads(kept.read_text(encoding="utf-8"))
    return found.get(method, {"settings": {}, "version": ""})
