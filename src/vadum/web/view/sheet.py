"""From readings and their reduction to what the worksheet shows."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from vadum.drawing import render
from vadum.present import reduction_in
from vadum.soil.contract.cells import Sheet, cell_complaint, cell_text
from vadum.soil.contract.field import HARMLESS
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.layout import Heading, layout
from vadum.soil.contract.layout import Table as TableOf
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.numbers.written import SI, Units
from vadum.web.view.models import (
    Cell,
    Column,
    Drawn,
    Log,
    Option,
    Part,
    Row,
    Setting,
    SheetView,
    Single,
    Table,
    Verdict,
    Worked,
)

_DEFAULT_BOX = (660.0, 600.0)


@dataclass(frozen=True)
class _Shown:
    """What every part of a sheet is made from."""

    method: Method[Any, Any, Any]
    sheet: Sheet
    settings: Any
    reduction: Reduction
    placed: Mapping[str, list[Finding]]
    tins: Mapping[str, float]
    supplied: Mapping[str, float]


def sheet_view(
    method: Method[Any, Any, Any],
    sheet: Sheet,
    settings: dict[str, Any],
    context: dict[str, Any],
    reduction: Reduction,
    box: tuple[float, float] = _DEFAULT_BOX,
    figure: str = "",
    unfolded: int | None = None,
    units: Units = SI,
) -> SheetView:
    """Return readings, findings, verdict, figures and derivation of one sheet.

    ``figure`` is the one drawn; ``unfolded`` a row of the run that stands open in a long table, the last one by
    default. Results and figures are in ``units``, readings in those of their columns.
    """
    chosen, reduction = method.Settings.model_validate(settings), reduction_in(reduction, units, method)
    placed, loose = _placed_findings(reduction.findings)
    supplied = (context.get("supplied") or {}).get("values", {})
    shown = _Shown(method, sheet, chosen, reduction, placed, context.get("tins", {}), supplied)
    drawn = next((f for f in reduction.figures if f.key == figure), next(iter(reduction.figures), None))
    return SheetView(
        tables=[_table(shown, table, unfolded) for table in layout(method).tables if table.shown_in(chosen)],
        fields=_fields(shown),
        logs=_logs(method, sheet),
        findings=loose,
        verdict=verdict(method, reduction, len(sheet.unread)),
        figures=[
            Drawn(
                key=f.key,
                title=f.title,
                svg=render(f, *box) if f is drawn else "",
                by_hand=[h.setting for h in f.handles if h.overridden],
            )
            for f in reduction.figures
        ],
        derivation=reduction.derivation,
        remarks=sheet.readings.get("remarks") or "",
        settings=settings_view(method, chosen),
        **_run_view(method, sheet, chosen, context),
    )


def _run_view(method: Method[Any, Any, Any], sheet: Sheet, settings: Any, context: dict[str, Any]) -> dict[str, Any]:
    """Return what the method's run mode needs; for most methods nothing, and then nothing is judged once more."""
    if type(method).run_view is Method.run_view:
        return {}
    readings, leant = method.Readings.model_validate(sheet.readings), method.Context.model_validate(context)
    return method.run_view(readings, settings, leant)


def verdict(method: Method[Any, Any, Any], reduction: Reduction, unread: int = 0) -> Verdict:
    """Return the strip of a reduction as it is shown: headline, other parameters, next action, counts."""
    parts = [
        Part(symbol=p.symbol, name=p.name, text=p.text, unit=p.unit)
        for key in reduction.headline(method.headline)
        if (p := reduction.parameter(key))
    ]
    counts = {s: sum(f.severity == s for f in reduction.findings) for s in ("stop", "warn", "note")}
    return Verdict(
        headline=parts[0] if parts else None,
        others=parts[1:],
        next=reduction.next_action,
        school=reduction.school,
        complete=reduction.complete,
        reportable=reduction.reportable,
        unread=unread,
        **counts,
    )


def _placed_findings(findings: list[Finding]) -> tuple[dict[str, list[Finding]], list[Finding]]:
    """Return findings by the row or field they stand under (their first cell), and those about the whole test."""
    placed: dict[str, list[Finding]] = {}
    loose = []
    for finding in findings:
        if finding.cells and len({_place(cell) for cell in finding.cells}) == 1:
            placed.setdefault(_place(finding.cells[0]), []).append(finding)
        else:
            loose.append(finding)
    return placed, loose


def _place(path: str) -> str:
    return path.rsplit(".", 1)[0] if path.count(".") == 2 else path


def _table(shown: _Shown, table: TableOf, unfolded: int | None) -> Table:
    sheet, name = shown.sheet, table.name
    columns = [column for column in table.columns if column.shown_in(shown.settings)]
    stored = sheet.readings.get(name, [])
    unread = max((int(p.split(".")[1]) + 1 for p in sheet.unread if p.startswith(f"{name}.")), default=0)
    count = max(len(stored), unread) + 1
    by_value = shown.method.folds.get(name)
    folds = folded_runs(stored, by_value, count, unfolded) if by_value else {}
    rows = []
    for i in range(count):
        if folds.get(i) == 0:
            continue
        row = _row(shown, table, columns, i, stored[i] if i < len(stored) else {}, unread)
        if folds.get(i, 0) > 1:
            first = i - folds[i] + 1
            row.folds = folds[i]
            # A blank number stands for the one above: the run's own stands in its first row.
            row.folded = next((str(v) for line in stored[first : i + 1] if (v := line.get(by_value)) is not None), "")
            row.findings = [f for k in range(first, i + 1) for f in shown.placed.get(f"{name}.{k}", [])]
        rows.append(row)
    return Table(
        name=name,
        title=table.title,
        columns=[Column(**_column(column, shown.settings)) for column in columns],
        computed=[Worked(key=c.key, label=c.label, unit=c.unit) for c in table.worked],
        rows=rows,
    )


def _row(shown: _Shown, table: TableOf, columns: list[Heading], i: int, data: dict[str, Any], unread: int) -> Row:
    path = f"{table.name}.{i}"
    cells = {column.key: _cell(shown, f"{path}.{column.key}", data.get(column.key), column) for column in columns}
    # The register's tare stands in the blank cell of a known tin, so that nobody weighs it twice.
    for key, value in table.supplied(data, shown.tins).items():
        if key in cells and not cells[key].text:
            cells[key].expected, cells[key].supplied = f"{value:.2f}", True
    return Row(
        path=path,
        cells=cells,
        computed={c.key: c.text(shown.reduction.computed.get(f"{path}.{c.key}")) for c in table.worked},
        left_out=data.get("left_out") or "",
        findings=shown.placed.get(path, []),
        blank=not data and i >= unread,
    )


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


def _column(heading: Heading, settings: Any) -> dict[str, Any]:
    extra = heading.extra
    return {
        "key": heading.key,
        "label": heading.label,
        "unit": heading.unit,
        "about": heading.about,
        "kind": heading.kind,
        "choices": _options(heading),
        "by": extra.get("by") or "",
        "count_to": extra.get("count_to"),
        "since": extra.get("since") or "",
        "measured": bool(extra.get("instrument")),
        "optional": extra.get("absent") == HARMLESS,
        "beside": extra.get("beside") or "",
        "instead": extra.get("instead") or "",
        "resolution": heading.resolution,
        "step": getattr(settings, extra["step"]) if extra.get("step") else None,
        "expected": _range(extra.get("expected")),
        "hand": extra.get("hand") or "right",
    }


def _options(heading: Heading) -> list[Option]:
    return [Option(code=code, label=label) for code, label in heading.choices.items()]


def _cell(shown: _Shown, path: str, value: Any, heading: Heading) -> Cell:
    if path in shown.sheet.unread:
        text = shown.sheet.unread[path]
        return Cell(text=text, error=cell_complaint(shown.method.Readings, path, text))
    expected = _range(shown.reduction.expected.get(path)) or _range(heading.extra.get("expected"))
    return Cell(text=heading.text(value), expected=expected)


def _fields(shown: _Shown) -> list[Single]:
    laid, fields = layout(shown.method), []
    before = laid.before(shown.settings)
    for heading in laid.singles:
        if heading.key == "remarks" or not heading.shown_in(shown.settings):
            continue
        name = heading.key
        kept = shown.sheet.readings.get(name) or ""
        cell = _cell(shown, name, shown.sheet.readings.get(name), heading)
        # What the register knows of the equipment in use stands in the blank field.
        supplied = name in shown.supplied
        told = _column(heading, shown.settings) | {
            "expected": f"{shown.supplied[name]:g}" if supplied else cell.expected
        }
        fields.append(
            Single(
                **told,
                path=name,
                supplied=supplied,
                locks=str(heading.extra.get("locks") or ""),
                before=before[name],
                pictured=bool(heading.extra.get("pictured")),
                # A list of words is set by its code.
                text=kept if heading.choices and not cell.error else cell.text,
                error=cell.error,
                findings=shown.placed.get(name, []),
            )
        )
    return fields


def _logs(method: Method[Any, Any, Any], sheet: Sheet) -> list[Log]:
    return [
        Log(name=file.name, title=file.title, file=log.get("file", ""), rows=len(log[file.columns[0].key]))
        for file in layout(method).logs
        if (log := sheet.readings.get(file.name))
    ]


def settings_view(method: Method[Any, Any, Any], chosen: Any) -> list[Setting]:
    """Return the settings of a method as a page shows them."""
    found = []
    for heading in layout(method).settings:
        info = method.Settings.model_fields[heading.key]
        value = getattr(chosen, heading.key)
        kind = "choice" if heading.choices else "switch" if info.annotation is bool else "number"
        found.append(
            Setting(
                name=heading.key,
                label=heading.label,
                reason=heading.about,
                unit=str(heading.extra.get("unit") or ""),
                kind=kind,
                choices=_options(heading),
                value=value if kind == "switch" else cell_text(value, None) if kind == "number" else value,
                is_default=value == info.default,
            )
        )
    return found


def _range(bounds: tuple[float, float] | None) -> str:
    if not bounds:
        return ""
    low, high = bounds
    return f"{low:g}" if low == high else f"{low:g}–{high:g}"
