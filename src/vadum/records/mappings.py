"""How columns of files were matched by hand, remembered by their headings."""

import json
from typing import Any

from sqlmodel import Session, select

from vadum.records.tables import ColumnMapping


def recall(session: Session, method: str, headings: list[str]) -> ColumnMapping | None:
    """Return how a file with these headings was matched last time."""
    return session.exec(
        select(ColumnMapping).where(ColumnMapping.method == method, ColumnMapping.headings == _key(headings))
    ).first()


def remember(
    session: Session, method: str, headings: list[str], target: str, mapping: list[str], how: dict[str, Any]
) -> None:
    """Keep a matching for the next file with these headings; the caller commits."""
    kept = recall(session, method, headings) or ColumnMapping(
        method=method, headings=_key(headings), target="", mapping=[]
    )
    kept.target, kept.mapping, kept.how = target, mapping, how
    session.add(kept)


def _key(headings: list[str]) -> str:
    return json.dumps([heading.strip().lower() for heading in headings], ensure_ascii=False)
