"""How columns of files were matched by hand, remembered by their headings and by what recorded them."""

import json
from typing import Any

from sqlmodel import Session, col, select

from vadum.records.tables import ColumnMapping, Test

# Kinds of equipment that write files.
_RECORDS = frozenset({"press", "logger", "shear box", "triaxial cell", "permeameter", "density gauge", "drop plate"})


def recorder(test: Test) -> str:
    """Return what records a test: the names of the pieces in use that write files, "" where none is named."""
    return ", ".join(sorted(piece.name for piece in test.uses if piece.kind in _RECORDS))


def recall(session: Session, method: str, headings: list[str], instrument: str) -> ColumnMapping | None:
    """Return how a file with these headings was matched last time: of this instrument, else of the newest other."""
    query = select(ColumnMapping).where(ColumnMapping.method == method, ColumnMapping.headings == _key(headings))
    found = session.exec(query.order_by(col(ColumnMapping.id).desc())).all()
    return next((one for one in found if one.instrument == instrument), found[0] if found else None)


def remember(
    session: Session,
    method: str,
    headings: list[str],
    instrument: str,
    target: str,
    mapping: list[str],
    how: dict[str, Any],
) -> None:
    """Keep a matching for the next file with these headings from this instrument; the caller commits."""
    kept = recall(session, method, headings, instrument)
    if kept is None or kept.instrument != instrument:
        kept = ColumnMapping(method=method, headings=_key(headings), instrument=instrument, target="", mapping=[])
    kept.target, kept.mapping, kept.how = target, mapping, how
    session.add(kept)


def _key(headings: list[str]) -> str:
    return json.dumps([heading.strip().lower() for heading in headings], ensure_ascii=False)
