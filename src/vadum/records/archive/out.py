"""A project out: everything it holds, as plain data and files."""

import hashlib
import io
import json
import zipfile
from dataclasses import asdict
from typing import Any

from sqlmodel import Session, SQLModel, col, select

from vadum.records.archive.corrections import corrections_out
from vadum.records.archive.plain import FORMAT, plain_of, renumbered
from vadum.records.changes import State, states_of
from vadum.records.context import tins_in
from vadum.records.lift import against_by_test, rule_of
from vadum.records.logs import with_logs
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
    Test,
)


def export(session: Session, project: Project) -> bytes:
    """Return a project as an archive."""
    files: dict[str, bytes] = {}
    # Tests are named by their order in the archive: in another laboratory they have other numbers.
    numbers = {test.id or 0: i for i, test in enumerate(_tests(project), 1)}
    plain = {
        "format": FORMAT,
        "project": plain_of(project) | {"lift_rule": rule_of(project).model_dump(exclude={"compaction"})},
        # By which test its lifts are judged, 0 where none is named; and those judged by another, 0 for natural ground.
        "required_by": numbers.get(rule_of(project).compaction or 0, 0),
        "held_against": {
            numbers[test]: numbers.get(by, 0) for test, by in against_by_test(project).items() if test in numbers
        },
        "corrections": corrections_out(session, project),
        "locations": [_location(session, place, files, numbers) for place in project.locations],
        "equipment": _equipment(session, project, files),
        "reports": _reports(session, project, files),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("project.json", json.dumps(plain, ensure_ascii=False, indent=1, sort_keys=True))
        for name, data in sorted(files.items()):
            packed.writestr(f"files/{name}", data)
    return out.getvalue()


def _tests(project: Project) -> list[Test]:
    return [t for place in project.locations for t in (*place.tests, *(t for s in place.samples for t in s.tests))]


def _location(session: Session, place: Location, files: dict[str, bytes], numbers: dict[int, int]) -> dict[str, Any]:
    return {
        "location": plain_of(place),
        "corrections": corrections_out(session, place),
        "strata": [plain_of(s) for s in place.strata],
        "tests": [_test(session, t, files, numbers) for t in place.tests],
        "samples": [
            {
                "sample": plain_of(s),
                "corrections": corrections_out(session, s),
                "tests": [_test(session, t, files, numbers) for t in s.tests],
            }
            for s in place.samples
        ],
    }


def _test(session: Session, test: Test, files: dict[str, bytes], numbers: dict[int, int]) -> dict[str, Any]:
    def of(table: type[SQLModel]) -> list[Any]:
        query = select(table).where(table.test_id == test.id)  # type: ignore[attr-defined]
        return list(session.exec(query.order_by(col(table.id))).all())  # type: ignore[attr-defined]

    attachments, issued = of(Attachment), of(IssuedSheet)
    for kept in attachments:
        files[kept.sha256] = kept.data
        if kept.small is not None:
            files[hashlib.sha256(kept.small).hexdigest()] = kept.small
    files.update({kept.sha256: kept.data for kept in issued})
    return {
        "number": numbers.get(test.id or 0, 0),
        "test": plain_of(test) | {"readings": test.readings},
        "uses": sorted(piece.name for piece in test.uses),
        "revisions": [plain_of(r) | _whole(session, state) for r, state in states_of(session, test)],
        "checks": [renumbered(plain_of(c), numbers) | {"readings": c.readings} for c in of(Check)],
        "times": [plain_of(t) for t in of(OperationTime)],
        "attachments": [
            plain_of(a) | {"small": hashlib.sha256(a.small).hexdigest() if a.small else None} for a in attachments
        ],
        "issued": [plain_of(i) for i in issued],
    }


def _whole(session: Session, state: State) -> dict[str, Any]:
    """Return a state with all it holds: an archive is read without knowing how revisions are kept."""
    return asdict(state) | {"readings": with_logs(session, state.readings)}


def _reports(session: Session, project: Project, files: dict[str, bytes]) -> list[dict[str, Any]]:
    """Return the reports that were issued; drafts are made again where they are wanted."""
    query = select(Report).where(Report.project_id == project.id, Report.state == "issued").order_by(col(Report.id))
    found = []
    for report in session.exec(query).all():
        if report.data is not None:
            files[report.sha256] = report.data
            # Tests have other numbers there: which revisions it was made from cannot be said by them.
            found.append(plain_of(report) | {"revisions": {}, "process": None})
    return found


def _equipment(session: Session, project: Project, files: dict[str, bytes]) -> list[dict[str, Any]]:
    tests = _tests(project)
    pieces = {piece.name: piece for test in tests for piece in test.uses}
    # Tins are not used like a balance: they stand in the readings, and their tare in the register.
    named = {name for test in tests for name in tins_in(test.kept)}
    tins = session.exec(select(Equipment).where(Equipment.kind == "tin", col(Equipment.name).in_(named))).all()
    pieces |= {tin.name: tin for tin in tins}
    return [
        plain_of(p)
        | {"calibrations": _calibrations(session, p, files), "corrections": corrections_out(session, p)}
        | {"inspections": [_test(session, t, files, {}) for t in p.tests]}
        for _, p in sorted(pieces.items())
    ]


def _calibrations(session: Session, piece: Equipment, files: dict[str, bytes]) -> list[dict[str, Any]]:
    made = []
    query = (
        select(Calibration)
        .where(Calibration.equipment_id == piece.id)
        .order_by(col(Calibration.on), col(Calibration.id))
    )
    for one in session.exec(query):
        sha = hashlib.sha256(one.certificate).hexdigest() if one.certificate is not None else None
        if sha is not None and one.certificate is not None:
            files[sha] = one.certificate
        made.append({k: v for k, v in plain_of(one).items() if k != "certificate"} | {"certificate": sha})
    return made
