"""What a checker looks at first: readings changed after they were kept, points left out, choices by hand, a second
computation."""

from dataclasses import dataclass
from typing import Any

from sqlmodel import Session

from vadum.records.changes import states_of
from vadum.records.history import flat
from vadum.records.logs import with_logs
from vadum.records.pieces import not_said, pieces_of
from vadum.records.standing import live
from vadum.records.states import contributors, moved_now
from vadum.records.tables import Test
from vadum.soil.contract.finding import Finding
from vadum.soil.registry import method as method_of


@dataclass(frozen=True)
class Changed:
    """A reading that was changed after it had been kept: every text it had, and who changed it last."""

    path: str
    texts: list[str]
    who: str


@dataclass(frozen=True)
class Review:
    """All that a second person weighs before the sheet is checked."""

    recorded_by: list[str]
    changed: list[Changed]
    left_out: list[tuple[str, str]]
    by_hand: list[tuple[str, str, str]]
    """Settings that are not the method's own: label, value, and the usual value."""
    findings: list[Finding]
    moved: list[str]
    """What a checked test leant on and is not any more what it was."""
    not_named: list[str]
    """Kinds of equipment that the test was made with, of which nobody said which piece."""
    recomputed: list[tuple[str, str, str]]
    """Every parameter: symbol, as kept, as computed now by the method's present version."""


def review(session: Session, test: Test) -> Review:
    """Return what there is to weigh of a test."""
    reduction = live(session, test).reduction
    kept = test.summary.get("parameters", {})
    return Review(
        recorded_by=sorted(contributors(session, test)),
        changed=_changed(session, test),
        left_out=[
            (f"{table}.{i}", row["left_out"])
            for table, rows in test.readings.items()
            if isinstance(rows, list)
            for i, row in enumerate(rows)
            if row.get("left_out")
        ],
        by_hand=_by_hand(test),
        findings=reduction.findings,
        moved=moved_now(session, test),
        not_named=_not_named(session, test),
        recomputed=[(p.symbol, kept.get(p.key, {}).get("text", ""), p.text) for p in reduction.parameters],
    )


def _changed(session: Session, test: Test) -> list[Changed]:
    texts: dict[str, list[str]] = {}
    last: dict[str, str] = {}
    model = method_of(test.method).Readings
    for revision, state in states_of(session, test):
        now = flat(model, with_logs(session, state.readings), state.unread)
        for path in now.keys() | texts.keys():
            text = now.get(path, "")
            had = texts.setdefault(path, [])
            if text != (had[-1] if had else ""):
                had.append(text)
                last[path] = revision.who
    return [Changed(path, had, last[path]) for path, had in sorted(texts.items()) if len(had) > 1]


def _by_hand(test: Test) -> list[tuple[str, str, str]]:
    model: Any = method_of(test.method).Settings
    usual, chosen = model(), model.model_validate(test.settings)
    return [
        (model.model_fields[name].title or name, str(getattr(chosen, name)), str(getattr(usual, name)))
        for name, value in chosen
        if value is not None and value != getattr(usual, name)
    ]


def _not_named(session: Session, test: Test) -> list[str]:
    return not_said(method_of(test.method), test.readings, test.settings, pieces_of(session, test))
