"""The equipment of an archive: this laboratory's own piece where it is the same one, theirs beside it where it only has
the same name. A number that was worked out there is the same here."""

import json
from collections.abc import Iterable, Mapping
from datetime import date, datetime
from itertools import count
from typing import Any

from sqlmodel import Session, select

from vadum.records.archive.opening import tests_of
from vadum.records.archive.plain import row_of
from vadum.records.calibrations import begun_of, calibrations_of
from vadum.records.footing import mark_of
from vadum.records.tables import Calibration, Equipment
from vadum.records.tares import TARE, Tin, tares

BESIDE_A_PIECE = ("calibrations", "corrections", "inspections")
# What of a piece, and of its calibrations, reaches a result or a finding.
_COUNTS = ("kind", "resolution", "inspect_every_days", "calibration", "constants")
_OF_A_CALIBRATION = ("on", "due", "table", "constants", "uncertainty")


def others(session: Session, plain: Mapping[str, Any]) -> dict[str, str]:
    """Return the pieces of an archive that are not those of the same name here, each with the name it gets beside
    them. A tin stays the one of its number: its tare is written into the rows."""
    moments = [str(r["at"]) for p in plain["locations"] for t in tests_of(p) for r in t["revisions"]]
    until, names = max(moments, default="")[:10], {e["name"] for e in plain["equipment"]}
    found = {}
    for theirs in plain["equipment"]:
        name = theirs["name"]
        if theirs.get("kind") == "tin" or _fits(session, name, theirs, until):
            continue
        fit = (f"{name} (archive{f' {k}' if k > 1 else ''})" for k in count(1))
        found[name] = next(one for one in fit if one not in names and _fits(session, one, theirs, until))
    return found


def _fits(session: Session, name: str, theirs: Mapping[str, Any], until: str) -> bool:
    """Return whether a name is free here, or is that of a piece that gave the same numbers on every day until one."""
    piece = session.exec(select(Equipment).where(Equipment.name == name)).first()
    if piece is None:
        return True
    own = row_of(Equipment, {k: v for k, v in theirs.items() if k not in BESIDE_A_PIECE})
    if _told(piece, _COUNTS) != _told(own, _COUNTS):
        return False
    here = [_told(one, _OF_A_CALIBRATION) for one in calibrations_of(session, piece)]
    there = [
        _told(row_of(Calibration, {k: v for k, v in one.items() if k != "certificate"}), _OF_A_CALIBRATION)
        for one in theirs.get("calibrations", [])
    ]
    # One that was made here after all that the archive tells of counted for none of it.
    since = [one["on"] for one in here if one not in there]
    inspected = set(begun_of(session, piece.tests).values())
    return (
        all(one in here for one in there)
        and all(day > until for day in since)
        and all(_begun(one) in inspected for one in theirs.get("inspections", []))
    )


def _told(row: Equipment | Calibration, names: tuple[str, ...]) -> dict[str, Any]:
    """Return values of a row as they stand in an archive."""
    told: dict[str, Any] = json.loads(json.dumps({name: getattr(row, name) for name in names}, default=str))
    return told


def _begun(inspection: Mapping[str, Any]) -> datetime | None:
    return min((datetime.fromisoformat(r["at"]) for r in inspection["revisions"]), default=None)


def other_tares(session: Session, equipment: Iterable[Mapping[str, Any]], day: date) -> dict[str, float]:
    """Return what an archive's tins weighed on a day, of those that this laboratory has under the same number with
    another mass, or as something else."""
    known, register = set(session.exec(select(Equipment.name)).all()), tares(session, lambda: day)
    theirs = {e["name"]: _tin(e).on(day) for e in equipment if e.get("kind") == "tin"}
    return {
        name: tare for name, tare in theirs.items() if tare is not None and name in known and register.get(name) != tare
    }


def _tin(theirs: Mapping[str, Any]) -> Tin:
    weighed = [
        (date.fromisoformat(one["on"]), one["constants"][TARE])
        for one in theirs.get("calibrations", [])
        if TARE in one.get("constants", {})
    ]
    return Tin(theirs["name"], theirs.get("tare_g"), sorted(weighed))


def renamed(check: Mapping[str, Any], names: Mapping[str, str]) -> dict[str, Any]:
    """Return what was checked with pieces under the names they have here: its ground has not moved by that."""

    if not names:
        return dict(check)

    def told(found: dict[str, Any]) -> dict[str, Any]:
        said = {k: found[k] for k in ("name", "by", "source") if isinstance(found.get(k), str)}
        return found | {k: names.get(name, name) for k, name in said.items()}

    before = check["context"]
    parts = {k: check[k] for k in ("context", "leans", "pieces", "accepted") if k in check}
    after = json.loads(json.dumps(parts), object_hook=told)
    marks = {mark_of(value): mark_of(after["context"][key]) for key, value in before.items()}
    for lean in (*after["leans"], *after.get("accepted", {}).get("leans", [])):
        lean["mark"] = marks.get(lean["mark"], lean["mark"])
    return {**check, **after}
