"""What the worksheet shows, as plain data: the one shape that first render, live preview and save all answer with."""

from typing import Any

from vadum.drawing import render
from vadum.soil.contract.cells import Sheet, cell_complaint, cell_text, choices, logs, singles, tables
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction

_DEFAULT_BOX = (660.0, 600.0)


def sheet_view(
    method: Method[Any, Any, Any],
    sheet: Sheet,
    settings: dict[str, Any],
    context: dict[str, Any],
    reduction: Reduction,
    box: tuple[float, float] = _DEFAULT_BOX,
    figure: str = "",
    unfolded: int | None = None,
) -> dict[str, Any]:
    """Return readings, findings, verdict, figures and derivation of one sheet.

    ``figure`` is the one drawn; ``unfolded`` a row of the run that stands open in a long table, the last one by
    default.
    """
    chosen = method.Settings.model_validate(settings)
    placed, loose = _placed_findings(reduction.findings)
    drawn = next((f for f in reduction.figures if f.key == figure), next(iter(reduction.figures), None))
    return {
        "tables": [
            _table(method, name, sheet, chosen, reduction, placed, context.get("tins", {}), unfolded)
            for name in tables(method.Readings)
        ],
        "fields": _fields(method, sheet, chosen, placed, reduction, (context.get("supplied") or {}).get("values", {})),
        "logs": _logs(method, sheet),
        "findings": loose,
        "verdict": verdict(method, reduction, len(sheet.unread)),
        "figures": [
            {
                "key": f.key,
                "title": f.title,
                "svg": render(f, *box) if f is drawn else "",
                "byHand": [h.setting for h in f.handles if h.overridden],
            }
            for f in reduction.figures
        ],
        "derivation": [step.model_dump() for step in reduction.derivation],
        "settings": _settings(method, chosen),
        **_run_view(method, sheet, chosen, context),
    }


def _run_view(method: Method[Any, Any, Any], sheet: Sheet, settings: Any, context: dict[str, Any]) -> dict[str, Any]:
    """Return what the method's run mode needs; for most methods nothing, and then nothing is judged once more."""
    if type(method).run_view is Method.run_view:
        return {}
    readings, leant = method.Readings.model_validate(sheet.readings), method.Context.model_validate(context)
    return method.run_view(readings, settings, leant)


def verdict(method: Method[Any, Any, Any], reduction: Reduction, unread: int = 0) -> dict[str, Any]:
    """Return the strip: headline, other parameters, next action, counts."""
    shown = [p for key in method.headline if (p := reduction.parameter(key))]
    parts = [
        {"symbol": p.symbol, "name": p.name, "text": p.text, "unit": p.unit, "doubt": _doubt(p.doubt, p.text)}
        for p in shown
    ]
    counts = {s: sum(f.severity == s for f in reduction.findings) for s in ("stop", "warn", "note")}
    return {
        "headline": parts[0] if parts else None,
        "others": parts[1:],
        "next": reduction.next_action,
        "school": reduction.school,
        "complete": reduction.complete,
        "reportable": reduction.reportable,
        "unread": unread,
        **counts,
    }


def _doubt(doubt: float | None, text: str) -> str:
    """Return one standard error to one figure; nothing when it is below half a step of the reported value."""
    if doubt is None or doubt < 0.5 * 10.0 ** -len(text.partition(".")[2]):
        return ""
    return f"± {doubt:.0f}" if doubt >= 1 else f"± {doubt:.1g}"


def _placed_findings(findings: list[Finding]) -> tuple[dict[str, list[dict[str, Any]]], list[dict[str, Any]]]:
    """Return findings by the row or field they stand under (their first cell), and those about the whole test."""
    placed: dict[str, list[dict[str, Any]]] = {}
    loose = []
    for finding in findings:
        plain = finding.model_dump()
        if finding.cells and len({_place(cell) for cell in finding.cells}) == 1:
            placed.setdefault(_place(finding.cells[0]), []).append(plain)
        else:
            loose.append(plain)
    return placed, loose


def _place(path: str) -> str:
    return path.rsplit(".", 1)[0] if path.count(".") == 2 else path


def _extra(model: Any, name: str) -> dict[str, Any]:
    extra = model.model_fields[name].json_schema_extra
    return extra if isinstance(extra, dict) else {}


def _is_shown(extra: dict[str, Any], settings: Any) -> bool:
    if extra.get("clock"):
        return False
    return all(getattr(settings, name) in allowed for name, allowed in (extra.get("shown") or {}).items())


def _table(
    method: Method[Any, Any, Any],
    name: str,
    sheet: Sheet,
    settings: Any,
    reduction: Reduction,
    placed: dict[str, list[dict[str, Any]]],
    tins: dict[str, float],
    unfolded: int | None = None,
) -> dict[str, Any]:
    row_model = tables(method.Readings)[name]
    order = method.columns.get(name) or [key for key in row_model.model_fields if key != "left_out"]
    columns = [column(row_model, key) for key in order if _is_shown(_extra(row_model, key), settings)]
    worked = [c for c in method.computed if c.table == name]
    stored = sheet.readings.get(name, [])
    unread = max((int(p.split(".")[1]) + 1 for p in sheet.unread if p.startswith(f"{name}.")), default=0)
    rows = []
    count = max(len(stored), unread) + 1
    folds = folded_runs(stored, method.folds[name], count, unfolded) if name in method.folds else {}
    for i in range(count):
        if folds.get(i) == 0:
            continue
        data = stored[i] if i < len(stored) else {}
        path = f"{name}.{i}"
        cells = {
            c["key"]: _cell(method, sheet, f"{path}.{c['key']}", data.get(c["key"]), c, reduction) for c in columns
        }
        # The register's tare stands in the blank cell of a known tin, so that nobody weighs it twice.
        if "mass_tin_g" in cells and not cells["mass_tin_g"]["text"] and data.get("tin") in tins:
            cells["mass_tin_g"]["expected"] = f"{tins[data['tin']]:.2f}"
            cells["mass_tin_g"]["supplied"] = True
        rows.append(
            {
                "path": path,
                "cells": cells,
                "computed": {c.key: c.text(reduction.computed.get(f"{path}.{c.key}")) for c in worked},
                "leftOut": data.get("left_out") or "",
                "findings": placed.get(path, []),
                "blank": not data and i >= unread,
            }
        )
        if folds.get(i, 0) > 1:
            first = i - folds[i] + 1
            rows[-1] |= {
                "folds": folds[i],
                "findings": [f for k in range(first, i + 1) for f in placed.get(f"{name}.{k}", [])],
            }
    title = method.Readings.model_fields[name].title or name
    computed = [{"key": c.key, "label": c.label, "unit": c.unit} for c in worked]
    return {"name": name, "title": title, "columns": columns, "computed": computed, "rows": rows}


def folded_runs(stored: list[dict[str, Any]], column: str, count: int, unfolded: int | None) -> dict[int, int]:
    """Return, for every row of a run that is folded, how many rows its last one stands for; 0 for the others.

    Runs are rows of one value in a column, where a blank stands for the one above. The run with row ``unfolded`` stays
    open, the last one when None; rows behind the stored ones are never folded.
    """
    runs: list[list[int]] = []
    value = None
    for i, row in enumerate(stored):
        if not runs or row.get(column, value) != value:
            runs.append([])
        value = row.get(column, value)
        runs[-1].append(i)
    open_run = next((run for run in runs if unfolded in run), runs[-1] if runs else [])
    return {i: len(run) if i == run[-1] else 0 for run in runs if run is not open_run and len(run) > 1 for i in run}


def column(model: Any, key: str) -> dict[str, Any]:
    """Return what the grid needs to know of a reading: heading, unit, kind, choices, expected range."""
    info, extra = model.model_fields[key], _extra(model, key)
    options = choices(model, key)
    return {
        "key": key,
        "label": info.title or key,
        "unit": "" if extra.get("unit") == info.title else extra.get("unit") or "",
        "about": info.description or "",
        "kind": "choice" if options else "text" if extra.get("unit") is None else "number",
        "choices": options,
        "by": extra.get("by") or "",
        "since": extra.get("since") or "",
        "resolution": extra.get("resolution"),
        "expected": _range(extra.get("expected")),
        "hand": extra.get("hand") or "right",
    }


def _cell(
    method: Method[Any, Any, Any], sheet: Sheet, path: str, value: Any, col: dict[str, Any], reduction: Reduction
) -> dict[str, Any]:
    if path in sheet.unread:
        text = sheet.unread[path]
        return {"text": text, "error": cell_complaint(method.Readings, path, text), "expected": "", "supplied": False}
    return {
        "text": cell_text(value, col["resolution"]),
        "error": "",
        "expected": _range(reduction.expected.get(path)) or col["expected"],
        "supplied": False,
    }


def _fields(
    method: Method[Any, Any, Any],
    sheet: Sheet,
    settings: Any,
    placed: dict[str, list[dict[str, Any]]],
    reduction: Reduction,
    supplied: dict[str, float],
) -> list[dict[str, Any]]:
    model = method.Readings
    fields = []
    names = list(model.model_fields)
    first_table = min((names.index(name) for name in tables(model)), default=0)
    for name in singles(model):
        if not _is_shown(_extra(model, name), settings):
            continue
        col = column(model, name)
        text = sheet.unread.get(name)
        fields.append(
            col
            | {
                "path": name,
                # What the register knows of the equipment in use stands in the blank field.
                "expected": (
                    f"{supplied[name]:g}"
                    if name in supplied
                    else _range(reduction.expected.get(name)) or col["expected"]
                ),
                "supplied": name in supplied,
                "before": names.index(name) < first_table,
                "pictured": bool(_extra(model, name).get("pictured")),
                "text": text if text is not None else cell_text(sheet.readings.get(name), col["resolution"]),
                "error": cell_complaint(model, name, text) if text is not None else "",
                "findings": placed.get(name, []),
            }
        )
    return fields


def _logs(method: Method[Any, Any, Any], sheet: Sheet) -> list[dict[str, Any]]:
    """Return what the worksheet says of logger files: name and number of rows, never the rows."""
    return [
        {
            "name": name,
            "title": method.Readings.model_fields[name].title,
            "file": log.get("file", ""),
            "rows": len(log[model.names()[0]]),
        }
        for name, model in logs(method.Readings).items()
        if (log := sheet.readings.get(name))
    ]


def _settings(method: Method[Any, Any, Any], chosen: Any) -> list[dict[str, Any]]:
    model = method.Settings
    views = []
    for name, info in model.model_fields.items():
        value = getattr(chosen, name)
        options = choices(model, name)
        kind = "choice" if options else "switch" if info.annotation is bool else "number"
        views.append(
            {
                "name": name,
                "label": info.title or name,
                "reason": info.description or "",
                "unit": _extra(model, name).get("unit") or "",
                "kind": kind,
                "choices": options,
                "value": value if kind == "switch" else cell_text(value, None),
                "isDefault": value == info.default,
            }
        )
    return views


def _range(bounds: tuple[float, float] | None) -> str:
    if not bounds:
        return ""
    low, high = bounds
    return f"{low:g}" if low == high else f"{low:g}–{high:g}"
