"""A whole project in one file: JSON, attachments and issued sheets as they are, out and in again.

The file is a ZIP of the format ``vadum-project/1``: ``project.json``, and the bytes of attachments, issued sheets and issued reports under
``files/`` by their SHA-256. What is imported is a new project; nothing of the laboratory is changed by it.
"""

import hashlib
import io
import json
import zipfile
import zlib
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from pydantic import ValidationError
from sqlmodel import Session, SQLModel, col, select

from vadum.records.tables import (
    Attachment,
    Calibration,
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
from vadum.soil.registry import UnknownMethod
from vadum.soil.registry import method as method_of

FORMAT = "vadum-project/1"
MOST_UNPACKED = 400_000_000
_KEYS = {"id", "project_id", "location_id", "sample_id", "test_id", "equipment_id"}


class ArchiveError(ValueError):
    """A file that is no archive of a project, or a damaged one; the message is for the person who brought it."""


@dataclass(frozen=True)
class Preview:
    """What an archive would bring: the project's name, how many of each thing, and what should be known before."""

    name: str
    counts: dict[str, int]
    notes: list[str]


def export(session: Session, project: Project) -> bytes:
    """Return a project as an archive."""
    files: dict[str, bytes] = {}
    plain = {
        "format": FORMAT,
        "project": _plain(project),
        "locations": [_location(session, place, files) for place in project.locations],
        "equipment": _equipment(session, project, files),
        "reports": _reports(session, project, files),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("project.json", json.dumps(plain, ensure_ascii=False, indent=1, sort_keys=True))
        for name, data in sorted(files.items()):
            packed.writestr(f"files/{name}", data)
    return out.getvalue()


def preview(session: Session, data: bytes) -> Preview:
    """Return what an archive would bring; nothing is changed.

    Raises
    ------
    ArchiveError
        If it cannot be taken.
    """
    plain, files = _opened(data)
    tests = _judged(plain, files)
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
    if session.exec(select(Project).where(Project.name == name)).first():
        notes.append(f"A project called {name} is here already; the archive comes as a second one beside it.")
    known = set(session.exec(select(Equipment.name)).all())
    if fresh := sorted({e["name"] for e in plain["equipment"]} - known):
        notes.append(f"New in the register: {', '.join(fresh)}.")
    return Preview(name, counts, notes)


def bring_in(session: Session, data: bytes) -> Project:
    """Add an archive's project with all it holds, in one transaction.

    Raises
    ------
    ArchiveError
        If it cannot be taken; nothing is changed then.
    """
    plain, files = _opened(data)
    _judged(plain, files)
    try:
        gear = {e["name"]: _piece(session, e, files) for e in plain["equipment"]}
        project = _row(Project, plain["project"])
        session.add(project)
        session.flush()
        _bring_reports(session, plain.get("reports", []), files, project)
        for place in plain["locations"]:
            location = _row(Location, place["location"], project_id=project.id)
            session.add(location)
            session.flush()
            session.add_all(_row(Stratum, s, location_id=location.id) for s in place["strata"])
            for kept in place["tests"]:
                _bring_test(session, kept, files, gear, location_id=location.id)
            for one in place["samples"]:
                sample = _row(Sample, one["sample"], location_id=location.id)
                session.add(sample)
                session.flush()
                for kept in one["tests"]:
                    _bring_test(session, kept, files, gear, sample_id=sample.id)
        session.commit()
    except (KeyError, TypeError, ValueError) as error:
        session.rollback()
        raise ArchiveError(f"The archive is not whole: {error}.") from error
    return project


def _location(session: Session, place: Location, files: dict[str, bytes]) -> dict[str, Any]:
    return {
        "location": _plain(place),
        "strata": [_plain(s) for s in place.strata],
        "tests": [_test(session, t, files) for t in place.tests],
        "samples": [{"sample": _plain(s), "tests": [_test(session, t, files) for t in s.tests]} for s in place.samples],
    }


def _test(session: Session, test: Test, files: dict[str, bytes]) -> dict[str, Any]:
    def of(table: type[SQLModel]) -> list[Any]:
        return list(session.exec(select(table).where(table.test_id == test.id).order_by(col(table.id))).all())  # type: ignore[attr-defined]

    attachments, issued = of(Attachment), of(IssuedSheet)
    for kept in attachments:
        files[kept.sha256] = kept.data
        if kept.small is not None:
            files[hashlib.sha256(kept.small).hexdigest()] = kept.small
    files.update({kept.sha256: kept.data for kept in issued})
    return {
        "test": _plain(test),
        "uses": sorted(piece.name for piece in test.uses),
        "revisions": [_plain(r) for r in of(Revision)],
        "times": [_plain(t) for t in of(OperationTime)],
        "attachments": [_plain(a) | {"small": hashlib.sha256(a.small).hexdigest() if a.small else None} for a in attachments],
        "issued": [_plain(i) for i in issued],
    }  # fmt: skip


def _reports(session: Session, project: Project, files: dict[str, bytes]) -> list[dict[str, Any]]:
    """Return the reports that were issued; drafts are made again where they are wanted."""
    query = select(Report).where(Report.project_id == project.id, Report.state == "issued").order_by(col(Report.id))
    found = []
    for report in session.exec(query).all():
        if report.data is not None:
            files[report.sha256] = report.data
            # Tests have other numbers there: which revisions it was made from cannot be said by them.
            found.append(_plain(report) | {"revisions": {}, "process": None})
    return found


def _equipment(session: Session, project: Project, files: dict[str, bytes]) -> list[dict[str, Any]]:
    tests = [t for place in project.locations for t in (*place.tests, *(t for s in place.samples for t in s.tests))]
    pieces = {piece.name: piece for test in tests for piece in test.uses}
    return [_plain(p) | {"calibrations": _calibrations(session, p, files)} for _, p in sorted(pieces.items())]


def _calibrations(session: Session, piece: Equipment, files: dict[str, bytes]) -> list[dict[str, Any]]:
    made = []
    query = select(Calibration).where(Calibration.equipment_id == piece.id).order_by(col(Calibration.on), col(Calibration.id))  # fmt: skip
    for one in session.exec(query):
        sha = hashlib.sha256(one.certificate).hexdigest() if one.certificate is not None else None
        if sha is not None and one.certificate is not None:
            files[sha] = one.certificate
        made.append({k: v for k, v in _plain(one).items() if k != "certificate"} | {"certificate": sha})
    return made


def _plain(row: SQLModel) -> dict[str, Any]:
    """Return a row without the keys of this database and without its bytes."""
    found = {}
    for name in type(row).model_fields:
        value = getattr(row, name)
        if name in _KEYS or isinstance(value, bytes) or name in ("data", "small"):
            continue
        found[name] = value.isoformat() if isinstance(value, datetime | date) else value
    return found


def _row(table: type[Any], plain: dict[str, Any], **more: Any) -> Any:
    """Return a row of a table from plain data; unknown names are refused."""
    unknown = plain.keys() - table.model_fields.keys()
    if unknown:
        raise ValueError(f"{table.__name__.lower()} with an unknown “{sorted(unknown)[0]}”")
    values = dict(plain)
    for name, info in table.model_fields.items():
        if isinstance(values.get(name), str) and info.annotation in (datetime, datetime | None):
            values[name] = datetime.fromisoformat(values[name])
        if isinstance(values.get(name), str) and info.annotation in (date, date | None):
            values[name] = date.fromisoformat(values[name])
    return table(**values, **more)


def _piece(session: Session, plain: dict[str, Any], files: dict[str, bytes]) -> Equipment:
    """Return the piece of this name: the laboratory's own with its own calibrations, or a new one with those it brings."""
    known = session.exec(select(Equipment).where(Equipment.name == plain["name"])).first()
    if known is not None:
        return known
    piece: Equipment = _row(Equipment, {k: v for k, v in plain.items() if k != "calibrations"})
    session.add(piece)
    session.flush()
    for one in plain.get("calibrations", []):
        data = files[one["certificate"]] if one["certificate"] else None
        session.add(_row(Calibration, one | {"certificate": data}, equipment_id=piece.id))
    return piece


def _bring_test(session: Session, kept: dict[str, Any], files: dict[str, bytes], gear: dict[str, Equipment], **place: Any) -> None:  # fmt: skip
    test: Test = _row(Test, kept["test"], **place)
    test.uses = [gear[name] for name in kept["uses"]]
    session.add(test)
    session.flush()
    session.add_all(_row(Revision, r, test_id=test.id) for r in kept["revisions"])
    session.add_all(_row(OperationTime, t, test_id=test.id) for t in kept["times"])
    for a in kept["attachments"]:
        small = files[a["small"]] if a["small"] else None
        session.add(_row(Attachment, {k: v for k, v in a.items() if k != "small"}, test_id=test.id, data=files[a["sha256"]], small=small))  # fmt: skip
    taken = set(session.exec(select(IssuedSheet.number)).all()) if kept["issued"] else set()
    for i in kept["issued"]:
        number = i["number"] if i["number"] not in taken else f"{i['number']} (archive {test.id})"
        session.add(_row(IssuedSheet, i | {"number": number}, test_id=test.id, data=files[i["sha256"]]))


def _bring_reports(session: Session, kept: list[dict[str, Any]], files: dict[str, bytes], project: Project) -> None:
    taken = set(session.exec(select(Report.number).where(Report.state == "issued")).all())
    for one in kept:
        number = one["number"] if one["number"] not in taken else f"{one['number']} (archive {project.id})"
        session.add(
            _row(Report, one | {"number": number, "state": "issued"}, project_id=project.id, data=files[one["sha256"]])
        )


def _tests(place: dict[str, Any]) -> list[dict[str, Any]]:
    return [*place["tests"], *(t for s in place["samples"] for t in s["tests"])]


def _opened(data: bytes) -> tuple[dict[str, Any], dict[str, bytes]]:
    """Return the JSON and the files of an archive, every file with the hash it is named by."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED:
                raise ArchiveError("The archive unpacks to more than 400 MB.")
            plain = json.loads(packed.read("project.json"))
            files = {p.filename[6:]: packed.read(p) for p in packed.infolist() if p.filename.startswith("files/")}
    except ArchiveError:
        raise
    except KeyError as error:
        raise ArchiveError("This is no archive of a project: project.json is missing.") from error
    except (zipfile.BadZipFile, zlib.error, ValueError, RuntimeError, EOFError, OSError) as error:
        raise ArchiveError("This is no archive of a project, or it is damaged.") from error
    if not isinstance(plain, dict) or plain.get("format") != FORMAT:
        raise ArchiveError(f"This is not of the format {FORMAT}.")
    for name, content in files.items():
        if hashlib.sha256(content).hexdigest() != name:
            raise ArchiveError("A file of the archive is not what was packed: it is damaged or was changed.")
    return plain, files


def _judged(plain: dict[str, Any], files: dict[str, bytes]) -> list[dict[str, Any]]:
    """Return the tests of an archive; refuse unknown methods, readings they do not take, parts and files that are missing."""
    try:
        tests = [t for place in plain["locations"] for t in _tests(place)]
        parts = [plain["project"]["name"], plain["equipment"], *(place["strata"] for place in plain["locations"])]
        parts += [e["name"] for e in plain["equipment"]]
        if any(one["sha256"] not in files for one in plain.get("reports", [])):
            raise ArchiveError("A report is missing in the archive.")
        for kept in tests:
            test = kept["test"]
            parts += [kept["uses"], kept["revisions"], kept["times"]]
            method = method_of(test["method"])
            method.Readings.model_validate(test["readings"])
            method.Settings.model_validate(test["settings"])
            wanted = [a["sha256"] for a in (*kept["attachments"], *kept["issued"])]
            if missing := [sha for sha in wanted if sha not in files]:
                raise ArchiveError(f"{len(missing)} files of {method.title.lower()} are missing in the archive.")
    except UnknownMethod as error:
        raise ArchiveError(f"The archive holds a test of a method that is not known here: {error}.") from error
    except ValidationError as error:
        first = error.errors()[0]
        raise ArchiveError(
            f"Readings that cannot be taken: {'.'.join(map(str, first['loc']))}: {first['msg']}."
        ) from error
    except (KeyError, TypeError, AttributeError) as error:
        raise ArchiveError(f"The archive is not whole: {error}.") from error
    return tests
