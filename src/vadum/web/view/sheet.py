"""From readings and their reduction to what the worksheet shows."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from vadum.drawing import render
from vadum.present import reduction_in
from vadum.records.brought import constants_in
from vadum.soil.contract.cells import Sheet, cell_complaint
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.layout import Heading, layout
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.unread import NOT_READ
from vadum.soil.numbers.written import SI, Units
from vadum.web.view.frame import FramedTable, framed, range_text
from vadum.web.view.models import Cell, Drawn, Log, Part, Row, SheetView, Single, Table, Verdict

_DEFAULT_BOX = (660.0, 600.0)


@dataclass(frozen=True)
class _Shown:
    """What every part of a sheet is made from."""

    method: Method[Any, Any, Any]
    sheet: Sheet
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
    *,
    locked: bool = False,
) -> SheetView:
    """Return readings, findings, verdict, figures and derivation of one sheet.

    ``figure`` is the one drawn; ``unfolded`` a row of the run that stands open in a long table, the last one by
    default. Results and figures are in ``units``, readings in those of their columns. Of a ``locked`` sheet nothing
    can be pressed.
    """
    chosen, reduction = method.Settings.model_validate(settings), reduction_in(reduction, units, method)
    frame = framed(method, chosen)
    placed, loose = _placed_findings(reduction.findings)
    shown = _Shown(method, sheet, reduction, placed, context.get("tins", {}), constants_in(context))
    drawn = next((f for f in reduction.figures if f.key == figure), next(iter(reduction.figures), None))
    return SheetView(
        tables=[_table(shown, table, unfolded) for table in frame.tables],
        fields=[_field(shown, heading, blank) for heading, blank in frame.singles],
        logs=_logs(method, sheet),
        findings=loose,
        verdict=verdict(method, reduction),
        figures=[
            Drawn(
                key=f.key,
                title=f.title,
                svg=render(f, *box, operable=not locked) if f is drawn else "",
                by_hand=[h.setting for h in f.handles if h.overridden],
            )
            for f in reduction.figures
        ],
        derivation=reduction.derivation,
        remarks=sheet.readings.get("remarks") or "",
        settings=frame.settings,
    )


def run_view(
    method: Method[Any, Any, Any], sheet: Sheet, settings: dict[str, Any], context: dict[str, Any]
) -> dict[str, Any]:
    """Return what the method's run mode needs; for most methods nothing, and then nothing is judged once more."""
    if type(method).run_view is Method.run_view:
        return {}
    readings, chosen = method.Readings.model_validate(sheet.readings), method.Settings.model_validate(settings)
    return method.run_view(readings, chosen, method.Context.model_validate(context))


def verdict(method: Method[Any, Any, Any], reduction: Reduction) -> Verdict:
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
        **counts,
    )


def _placed_findings(findings: list[Finding]) -> tuple[dict[str, list[Finding]], list[Finding]]:
    """Return findings by the row or field they stand under (their first cell), and those about the whole test. What was
    not read says so in its own cell."""
    placed: dict[str, list[Finding]] = {}
    loose = []
    for finding in findings:
        if finding.code == NOT_READ.code:
            continue
        if finding.cells and len({_place(cell) for cell in finding.cells}) == 1:
            placed.setdefault(_place(finding.cells[0]), []).append(finding)
        else:
            loose.append(finding)
    return placed, loose


def _place(path: str) -> str:
    return path.rsplit(".", 1)[0] if path.count(".") == 2 else path


def _table(shown: _Shown, table: FramedTable, unfolded: int | None) -> Table:
    sheet, name = shown.sheet, table.of.name
    stored = sheet.readings.get(name, [])
    unread = max((int(p.split(".")[1]) + 1 for p in sheet.unread if p.startswith(f"{name}.")), default=0)
    count = max(len(stored), unread) + 1
    by_value = shown.method.folds.get(name)
    folds = folded_runs(stored, by_value, count, unfolded) if by_value else {}
    rows = []
    for i in range(count):
        if folds.get(i) == 0:
            continue
        row = _row(shown, table, i, stored[i] if i < len(stored) else {}, unread)
        if folds.get(i, 0) > 1:
            first = i - folds[i] + 1
            row.folds = folds[i]
            # A blank number stands for the one above: the run's own stands in its first row.
            row.folded = next((str(v) for line in stored[first : i + 1] if (v := line.get(by_value)) is not None), "")
            row.findings = [f for k in range(first, i + 1) for f in shown.placed.get(f"{name}.{k}", [])]
        rows.append(row)
    return Table(name=name, title=table.of.title, columns=table.columns, computed=table.worked, rows=rows)


def _row(shown: _Shown, table: FramedTable, i: int, data: dict[str, Any], unread: int) -> Row:
    path = f"{table.of.name}.{i}"
    cells = {h.key: _cell(shown, f"{path}.{h.key}", data.get(h.key), h, c.expected) for h, c in table.headings}
    # The register's tare stands in the blank cell of a known tin, so that nobody weighs it twice.
    for key, value in table.of.supplied(data, shown.tins).items():
        if key in cells and not cells[key].text:
            cells[key].expected, cells[key].supplied = f"{value:.2f}", True
    return Row(
        path=path,
        cells=cells,
        computed={c.key: c.text(shown.reduction.computed.get(f"{path}.{c.key}")) for c in table.of.worked},
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


def _cell(shown: _Shown, path: str, value: Any, heading: Heading, usual: str) -> Cell:
    if path in shown.sheet.unread:
        text = shown.sheet.unread[path]
        return Cell(text=text, error=cell_complaint(shown.method.Readings, path, text))
    return Cell(text=heading.text(value), expected=range_text(shown.reduction.expected.get(path)) or usual)


def _field(shown: _Shown, heading: Heading, blank: Single) -> Single:
    name = heading.key
    kept = shown.sheet.readings.get(name)
    cell = _cell(shown, name, kept, heading, blank.expected)
    # What the register knows of the equipment in use stands in the blank field.
    supplied = name in shown.supplied
    told = {
        "supplied": supplied,
        "expected": f"{shown.supplied[name]:g}" if supplied else cell.expected,
        # A list of words is set by its code.
        "text": (kept or "") if heading.choices and not cell.error else cell.text,
        "error": cell.error,
        "findings": shown.placed.get(name, []),
    }
    return blank.model_copy(update=told)


def _logs(method: Method[Any, Any, Any], sheet: Sheet) -> list[Log]:
    return [
        Log(name=file.name, title=file.title, file=log.get("file", ""), rows=len(log[file.columns[0].key]))
        for file in layout(method).logs
        if (log := sheet.readings.get(file.name))
    ]
