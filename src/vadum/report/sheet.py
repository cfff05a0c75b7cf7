"""The test sheet: what is printed, as data; typst lays it out."""

import json
import tempfile
from collections import Counter
from pathlib import Path
from typing import Any, Literal

from sqlmodel import Session, col, select

from vadum.drawing import render
from vadum.records.context import gather
from vadum.records.states import checked_by, recorders
from vadum.records.tables import Revision, Test
from vadum.soil.cells import cell_text, logs, singles, tables
from vadum.soil.field import resolution_of, unit_of
from vadum.soil.method import Method, Reduction
from vadum.soil.registry import method as method_of

_HERE = Path(__file__).parent
_FIGURE_PX = (640.0, 430.0)


def sheet_data(session: Session, test: Test, *, derivation: bool = False) -> dict[str, Any]:
    """Return everything the sheet prints, as plain data."""
    method = method_of(test.method)
    context = gather(session, test, method)
    reduction = method.reduce_raw(test.readings, test.settings, context)
    checked = checked_by(session, test)
    return {
        "title": method.title,
        "number": f"{test.id}.{test.revision}",
        "particulars": _particulars(test),
        "school": reduction.school,
        "basis": ", ".join(method.basis),
        "reportable": reduction.reportable,
        "complete": reduction.complete,
        "next_action": reduction.next_action,
        "parameters": [
            p.model_dump(include={"symbol", "name", "text", "unit", "rounding", "basis"}) for p in reduction.parameters
        ],
        "tables": [
            _table(method, name, test.readings, reduction, context.get("tins", {}))
            for name in tables(method.Readings)
            if test.readings.get(name)
        ],
        "singles": _singles(method, test.readings),
        "findings": [
            f.model_dump(include={"severity", "message", "action"}) for f in reduction.findings if f.severity != "note"
        ]
        + [
            {"severity": "note", "message": f.message, "action": ""} for f in reduction.findings if f.severity == "note"
        ],
        "left_out": _left_out(test.readings),
        "figures": [f.title for f in reduction.figures],
        "settings": _changed_settings(method, test.settings),
        "equipment": [f"{e.name} ({e.kind})" for e in test.uses]
        + _instruments(test)
        + ([f"cup inspection: {context['cup_inspection']}"] if context.get("cup") else []),
        "cautions": [*method.limits, *method.cautions[-1:]],
        "recorded": ", ".join(sorted(recorders(session, test))) or "not yet",
        "recorded_at": _last_reading(session, test),
        "checked": checked.who if checked else "",
        "checked_at": checked.at.strftime("%Y-%m-%d %H:%M UTC") if checked else "",
        "state": test.state,
        "void_reason": test.void_reason,
        "derivation": [s.model_dump() for s in reduction.derivation] if derivation else [],
        "svg": [render(figure, *_FIGURE_PX, theme="print") for figure in reduction.figures],
    }


def compile_sheet(data: dict[str, Any], form: Literal["pdf", "png"] = "pdf") -> list[bytes]:
    """Return the sheet as one PDF, or as one PNG per page with ``form="png"``."""
    import typst

    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        (root / "sheet.typ").write_bytes((_HERE / "templates" / "sheet.typ").read_bytes())
        for i, svg in enumerate(data["svg"]):
            (root / f"figure-{i}.svg").write_text(svg, encoding="utf-8")
        (root / "sheet.json").write_text(json.dumps(data), encoding="utf-8")
        compiled = typst.compile(
            str(root / "sheet.typ"),
            root=folder,
            font_paths=[str(_HERE / "fonts")],
            ignore_system_fonts=True,
            format=form,
            ppi=110,
        )
    return compiled if isinstance(compiled, list) else [compiled]


def _particulars(test: Test) -> list[list[str]]:
    sample = test.sample
    if test.location is not None:
        place = test.location
        return [["project", place.project.name], ["location", f"{place.name}, {place.kind}"]]
    if sample is None:
        return [
            ["practice", "not a record"]
            if test.practice
            else ["equipment", test.equipment.name if test.equipment else ""]
        ]
    return [
        ["project", sample.location.project.name],
        ["location", f"{sample.location.name}, {sample.location.kind}"],
        ["sample", f"{sample.name}, {sample.kind}"],
        ["depth", f"{sample.top_m:.2f}–{sample.base_m:.2f} m"],
        ["description", sample.description or "none"],
    ]


def _instruments(test: Test) -> list[str]:
    """Return each instrument that readings came from, with its calibration and how many it gave."""
    given = Counter(
        f"{o['instrument']} {o['serial']}, calibrated {o['calibrated']}, certificate {o['certificate']}"
        for o in test.origins.values()
    )
    return [f"{words}: {count} reading{'s' if count > 1 else ''}" for words, count in given.items()]


def _table(
    method: Method[Any, Any, Any], name: str, readings: dict[str, Any], reduction: Reduction, tins: dict[str, float]
) -> dict[str, Any]:
    """Return the rows of a table with the columns that hold anything, and the worked-out ones."""
    model = tables(method.Readings)[name]
    rows = [dict(row) for row in readings[name]]
    for row in rows:
        if "mass_tin_g" in model.model_fields and row.get("mass_tin_g") is None and row.get("tin") in tins:
            row["mass_tin_g"] = tins[row["tin"]]
    order = [key for key in (method.columns.get(name) or model.model_fields) if key != "left_out"]
    keys = [key for key in order if any(row.get(key) is not None for row in rows)]
    worked = [c for c in method.computed if c.table == name]
    head = [_heading(model.model_fields[key].title or key, unit_of(model, key)) for key in keys]
    body = [
        [cell_text(row.get(key), resolution_of(model, key)) for key in keys]
        + [c.text(reduction.computed.get(f"{name}.{i}.{c.key}")) for c in worked]
        for i, row in enumerate(rows)
    ]
    return {
        "title": method.Readings.model_fields[name].title or name,
        "head": ["", *head, *(_heading(c.label, c.unit) for c in worked)],
        "rows": [[str(i + 1), *cells] for i, cells in enumerate(body)],
        "out": [bool(row.get("left_out")) for row in rows],
    }


def _heading(label: str, unit: str | None) -> str:
    return f"{label}, {unit}" if unit and unit != label else label


def _singles(method: Method[Any, Any, Any], readings: dict[str, Any]) -> list[list[str]]:
    model = method.Readings
    return [
        [
            _heading(model.model_fields[name].title or name, unit_of(model, name)),
            cell_text(readings[name], resolution_of(model, name)),
        ]
        for name in singles(model)
        if readings.get(name) is not None
    ] + [
        [
            model.model_fields[name].title or name,
            f"{readings[name].get('file') or 'file'}, {len(readings[name][log.names()[0]])} rows",
        ]
        for name, log in logs(model).items()
        if readings.get(name)
    ]


def _left_out(readings: dict[str, Any]) -> list[str]:
    return [
        f"row {i + 1} left out: {row['left_out']}"
        for rows in readings.values()
        if isinstance(rows, list)
        for i, row in enumerate(rows)
        if row.get("left_out")
    ]


def _changed_settings(method: Method[Any, Any, Any], settings: dict[str, Any]) -> list[list[str]]:
    fields = method.Settings.model_fields
    return [[fields[name].title or name, str(value)] for name, value in settings.items() if name in fields]


def _last_reading(session: Session, test: Test) -> str:
    last = session.exec(
        select(Revision)
        .where(Revision.test_id == test.id, col(Revision.what).contains("="))
        .order_by(col(Revision.number).desc())
    ).first()
    return last.at.strftime("%Y-%m-%d %H:%M UTC") if last else ""
