"""The test sheet: what is printed, as data; typst lays it out."""

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlmodel import Session, col, select

from vadum.present import reduction_in
from vadum.records.attachments import photographs_of
from vadum.records.calibrations import begun_of
from vadum.records.known import known_of, verdict_of
from vadum.records.people import signed_as
from vadum.records.pieces import not_said
from vadum.records.proposed import is_proposed
from vadum.records.saving import DEFAULT
from vadum.records.standing import FROZEN, Standing, standing_of
from vadum.records.states import events_of, moved_now, recorded_last, recorders
from vadum.records.tables import IssuedSheet, Test
from vadum.records.together import read_uses
from vadum.records.units import units_of_test
from vadum.records.zone import local, stamp
from vadum.report.document import HALF_PX, LOW, TALL, WIDTH_PX, Part, Photograph, Picture
from vadum.report.particulars import AS_RECEIVED, particulars
from vadum.report.side_by_side import side_by_side
from vadum.soil.contract.cells import field_at, labelled, read_cell
from vadum.soil.contract.layout import Table, heading_of, layout
from vadum.soil.contract.limit import GUARDED, JUDGEMENT
from vadum.soil.contract.loads import as_pressures
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.uncertainty.words import marked, notes


@dataclass(frozen=True)
class Asked:
    """What is printed on request: the derivation of every number, how well it is known, long records row by row."""

    derivation: bool = False
    uncertainty: bool = False
    records: bool = True


PLAIN = Asked()
PROPOSED = "proposed from the last test of this method: nobody said that it was used"
_SHOWN = ("symbol", "name", "text", "unit", "rounding", "basis")  # of a result
_LARGE = 4  # results in large type, and no more
_LONG = 14  # rows of readings that leave room for a figure
_RECORD = 60  # rows from which on readings are a record, which a report of many tests need not repeat
_TOGETHER = 20  # tests whose part of the record is read at once: with it come the small copies of their photographs
_COLUMN = 20  # rows that stand under one another before the next column begins


@dataclass(frozen=True)
class Signed:
    """Who issued a sheet, and when."""

    who: str = ""
    at: str = ""


def sheet_number(test: Test) -> str:
    """Return the number of a sheet that was not issued: the test and its revision."""
    return f"{test.id}.{test.revision}"


def sheets_of(session: Session, tests: Sequence[Test], asked: Asked) -> Iterator[tuple[Test, Part]]:
    """Yield tests with what the sheet of each prints; what all of them ask of the record is read for some at once."""
    for i in range(0, len(tests), _TOGETHER):
        some = tests[i : i + _TOGETHER]
        read_uses(session, some)
        begun_of(session, some)
        events_of(session, some)
        for test in some:
            yield test, sheet_of(session, test, asked)


def sheet_of(
    session: Session, test: Test, asked: Asked = PLAIN, issued: Signed | None = None, standing: Standing | None = None
) -> Part:
    """Return everything the sheet of a test prints, with its figures; ``standing`` is what the test says where that was
    just worked out."""
    standing = standing or standing_of(session, test)
    method, context, units = standing.method, standing.context, units_of_test(test)
    reduction = reduction_in(standing.reduction, units, method)
    checked, kept, moved = standing.check, standing.readings, moved_now(session, test)
    signed = issued or _issued(session, test)
    doubts = known_of(session, test) if asked.uncertainty else []
    known = {one.parameter.key: units.marked(marked(one)) for one in doubts}
    shown = {
        p.key: {part: getattr(p, part) for part in _SHOWN} | {"known": known.get(p.key, "")}
        for p in reduction.parameters
    }
    if context.get("guarded") and JUDGEMENT in shown:
        shown[JUDGEMENT] |= {"text": verdict_of(session, test), "basis": f"limits set by the project; {GUARDED}"}
    opinions = [p for p in reduction.parameters if any(one.opinion and one.gives(p.key) for one in method.results)]
    measured = [p for p in reduction.parameters if p not in opinions]
    together = side_by_side(method.results, measured, known)
    by_key = {p.key: p for p in measured}
    chosen = [by_key[key] for key in reduction.headline(method.headline) if key in by_key]
    # What stands side by side is read there: the first of three is not torn out of its line.
    leading = [p for p in chosen if p.key not in together.keys][:_LARGE] or chosen[:_LARGE] or measured[:_LARGE]
    further = [p for p in measured if p not in leading and p.key not in together.keys]
    filled = [table for table in layout(method).tables if kept.get(table.name)]
    records = [table for table in filled if not asked.records and len(kept[table.name]) > _RECORD]
    tins, mark = context.get("tins", {}), units.marked
    readings = [_table(table, kept, reduction, tins, mark) for table in filled if table not in records]
    data = {
        "title": method.title,
        "number": sheet_number(test),
        "particulars": particulars(session, test),
        "school": reduction.school,
        "basis": ", ".join(reduction.follows or method.basis),
        "reportable": reduction.reportable,
        "complete": reduction.complete,
        "next_action": reduction.next_action,
        "headline": [shown[p.key] for p in leading],
        "further": [shown[p.key] for p in further],
        "opinions": [shown[p.key] for p in opinions],
        "together": {"columns": together.columns, "lines": together.lines},
        "known_notes": [units.words(note) for note in notes(doubts)],
        "tables": readings,
        # What a long record came to is read before the record.
        "figures_first": sum(len(block) for t in readings for block in t["blocks"]) > _LONG,
        "records": [_unprinted(table, len(kept[table.name])) for table in records],
        "singles": _singles(method, kept, mark),
        "findings": list(_findings(reduction)),
        "leans": [units.without(["mm"]).words(lean) for lean in _leans(session, standing)],
        "moved": moved,
        "kept": kept_words(standing),
        "left_out": [*_left_out(kept), *_typed(method, standing)],
        "remarks": kept.get("remarks") or "",
        "settings": [[name, mark(value)] for name, value in _chosen_settings(standing)],
        "equipment": (
            [piece.words for piece in standing.pieces]
            + ([PROPOSED] if is_proposed(test) and standing.pieces else [])
            + _instruments(standing)
            + ([f"cup inspection: {context['cup_inspection']}"] if context.get("cup") else [])
        ),
        "not_said": not_said(method, kept, standing.settings, standing.pieces),
        "cautions": [*method.limits, *method.cautions[-1:]],
        "recorded": ", ".join(sorted(recorders(session, test))),
        "recorded_at": _when(session, recorded_last(session, test)),
        "checked": signed_as(session, checked.who) if checked else "",
        "checked_at": _when(session, checked.at if checked else None),
        "issued": signed_as(session, signed.who),
        "issued_at": signed.at,
        "state": test.state,
        "as_received": AS_RECEIVED if test.sample else "",
        "void_reason": test.void_reason,
        "derivation": [s.model_dump() for s in reduction.derivation] if asked.derivation else [],
    }
    height = LOW if len(reduction.figures) > 1 else TALL
    photographs = list(_photographs(session, test, reduction))
    beside = {photograph.beside for photograph in photographs}
    pictures = [
        Picture.of(figure, height, HALF_PX if figure.title in beside else WIDTH_PX) for figure in reduction.figures
    ]
    return Part("test", data, pictures, photographs)


def _photographs(session: Session, test: Test, reduction: Reduction) -> Iterator[Photograph]:
    titles = {figure.key: figure.title for figure in reduction.figures}
    for taken in photographs_of(session, test):
        words = ", ".join(word for word in (taken.caption, f"{local(session, taken.at):%Y-%m-%d}", taken.who) if word)
        yield Photograph(taken.small or b"", words, titles.get(taken.beside, ""))


def _when(session: Session, at: datetime | None) -> str:
    return stamp(session, at) if at else ""


def _findings(reduction: Reduction) -> Iterator[dict[str, str]]:
    """Yield the findings with what was to be done about them; notes last, and without."""
    for f in reduction.findings:
        if f.severity != "note":
            yield {"severity": f.severity, "message": f.message, "action": f.action}
    for f in reduction.findings:
        if f.severity == "note":
            yield {"severity": f.severity, "message": f.message, "action": ""}


def _issued(session: Session, test: Test) -> Signed:
    if test.state != "issued":
        return Signed()
    query = select(IssuedSheet.who, IssuedSheet.at).where(IssuedSheet.test_id == test.id)
    found = session.exec(query.order_by(col(IssuedSheet.id).desc())).first()
    return Signed(found[0], stamp(session, found[1])) if found else Signed()


def _leans(session: Session, standing: Standing) -> list[str]:
    """Return what the test leans on, and of which results nobody has checked yet."""
    lines = []
    for lean in standing.leans:
        other = session.get(Test, lean.test) if lean.test else None
        unchecked = lean.test and (other is None or other.state not in FROZEN)
        lines.append(f"{lean.words}{', not checked yet' if unchecked else ''}")
    return lines


def kept_words(standing: Standing) -> str:
    """Return why a checked result was kept after its ground had moved; "" when it was not."""
    accepted = standing.check.accepted if standing.check else {}
    if not accepted:
        return ""
    return f"{'; '.join(accepted['moved'])}. Kept by {accepted['who']}, {accepted['at']}: {accepted['reason']}"


def _calibration(origin: dict[str, Any]) -> str:
    """Return in words on what an instrument's reading rests."""
    if origin.get("simulated"):
        return "SIMULATED, not measured"
    said = [
        f"calibrated {origin['calibrated']}" if origin["calibrated"] else "no calibration known",
        f"certificate {origin['certificate']}" if origin["certificate"] else "",
        origin.get("out_of_date", ""),
    ]
    return ", ".join(part for part in said if part)


def _instruments(standing: Standing) -> list[str]:
    """Return each instrument that readings came from, with its calibration and how many it gave."""
    given = Counter(
        f"{o['instrument']} {o['serial']}".rstrip() + f", {_calibration(o)}"
        for o in standing.origins.values()
        if "instrument" in o
    )
    return [f"{words}: {count} reading{'s' if count > 1 else ''}" for words, count in given.items()]


def _table(
    table: Table, readings: dict[str, Any], reduction: Reduction, tins: dict[str, float], mark: Callable[[str], str]
) -> dict[str, Any]:
    """Return the rows of a table with the columns that hold anything, and the worked-out ones."""
    rows = list(table.rows(readings, tins))
    columns = [column for column in table.columns if any(row.value(column.key) is not None for row in rows)]
    lines = [
        {
            "cells": [
                str(i),
                *(mark(column.text(row.value(column.key))) for column in columns),
                *(mark(c.text(reduction.computed.get(f"{row.path}.{c.key}"))) for c in table.worked),
            ],
            "out": bool(row.left_out),
        }
        for i, row in enumerate(rows, 1)
    ]
    # A long narrow table would waste three quarters of the paper.
    wide = len(columns) + len(table.worked)
    beside = 1 if len(rows) <= _LONG or wide > 5 else 2 if wide > 3 else 3
    headings = [*((c.label, c.unit) for c in columns), *((c.label, c.unit) for c in table.worked)]
    return {
        "title": table.title,
        "beside": beside,
        "head": ["", *(_heading(label, unit) for label, unit in headings)],
        "blocks": _blocks(lines, beside),
    }


def _unprinted(table: Table, rows: int) -> str:
    return f"Readings, {table.title}: {rows} rows, on the sheet of this test and in its file of readings."


def _blocks(rows: list[dict[str, Any]], beside: int) -> list[list[dict[str, Any]]]:
    """Return the rows in blocks, so many of them side by side."""
    at_once = beside * _COLUMN
    blocks = []
    for start in range(0, len(rows), at_once):
        some = rows[start : start + at_once]
        tall = -(-len(some) // beside)
        blocks += [some[i : i + tall] for i in range(0, len(some), tall)]
    return blocks


def _heading(label: str, unit: str) -> str:
    return f"{label}, {unit}" if unit else label


def _singles(method: Method[Any, Any, Any], readings: dict[str, Any], mark: Callable[[str], str]) -> list[list[str]]:
    laid = layout(method)
    return [
        [_heading(one.label, one.unit), mark(one.text(readings[one.key]))]
        for one in laid.singles
        if one.key != "remarks" and readings.get(one.key) is not None
    ] + [
        [file.title, f"{kept.get('file') or 'file'}, {len(kept[file.columns[0].key])} rows"]
        for file in laid.logs
        if (kept := readings.get(file.name))
    ]


def _left_out(readings: dict[str, Any]) -> list[str]:
    return [
        f"row {i + 1} left out: {row['left_out']}"
        for rows in readings.values()
        if isinstance(rows, list)
        for i, row in enumerate(rows)
        if row.get("left_out")
    ]


def _typed(method: Method[Any, Any, Any], standing: Standing) -> Iterator[str]:
    """Yield the readings that were typed in another unit than that of their column, as they were typed."""
    model, chosen = method.Readings, method.Settings.model_validate(standing.settings)
    for path, origin in standing.origins.items():
        text, value = origin.get("typed"), _value_at(standing.readings, path)
        holder, name = field_at(model, path)
        # Of a reading that was changed since by other ways than typing, nobody typed what stands there now.
        if text and value is not None and value == read_cell(holder, name, _as_entered(method, chosen, path, text)):
            heading = heading_of(holder, name)
            row = f", row {int(path.split('.')[1]) + 1}" if path.count(".") == 2 else ""
            yield f"{heading.label}{row} was typed as {text}"


def _as_entered(method: Method[Any, Any, Any], settings: Any, path: str, text: str) -> str:
    return as_pressures(method, settings, {path: text})[path]


def _value_at(readings: dict[str, Any], path: str) -> Any:
    table, _, rest = path.partition(".")
    if not rest:
        return readings.get(table)
    number, name = rest.split(".")
    rows = readings.get(table) or []
    return rows[int(number)].get(name) if int(number) < len(rows) else None


def _chosen_settings(standing: Standing) -> list[list[str]]:
    """Return the settings that are not as the method had them by default when the test was made."""
    fields = standing.method.Settings.model_fields
    return [
        [fields[name].title or name, labelled(standing.method.Settings, name, str(value))]
        for name, value in standing.settings.items()
        if name in fields and standing.setting_origins.get(name, "") != DEFAULT
    ]
