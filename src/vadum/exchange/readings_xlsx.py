"""The readings of one test as a workbook: a sheet of results and one per table, real numbers, units in the headings."""

import io
from typing import Any

from vadum.soil.cells import logs, singles, tables
from vadum.soil.field import unit_of
from vadum.soil.method import Method, Reduction

_TITLE = 31


def readings_xlsx(method: Method[Any, Any, Any], readings: dict[str, Any], reduction: Reduction) -> bytes:
    """Return the workbook. Words are written as words, never as formulas."""
    from openpyxl import Workbook

    book = Workbook()
    results = book.active
    assert results is not None
    results.title = "results"
    _rows(results, ["parameter", "symbol", "reported", "unrounded", "unit", "basis"], [
        [p.name, p.symbol, p.reported if p.reported is not None else p.text, p.value, p.unit, p.basis] for p in reduction.parameters
    ])  # fmt: skip
    model = method.Readings
    single = [(n, unit_of(model, n) or "", readings[n]) for n in singles(model) if readings.get(n) is not None]
    if single:
        _rows(book.create_sheet("single readings"), ["reading", "unit", "value"], [
            [model.model_fields[n].title or n, unit, value] for n, unit, value in single
        ])  # fmt: skip
    for table, row_model in tables(model).items():
        lines = readings.get(table) or []
        if lines:
            names = [n for n in row_model.model_fields if any(line.get(n) is not None for line in lines)]
            worked = [c for c in method.computed if c.table == table]
            head = [_heading(row_model.model_fields[n].title or n, unit_of(row_model, n)) for n in names]
            head += [_heading(c.label, c.unit) for c in worked]
            body = [
                [line.get(n) for n in names] + [reduction.computed.get(f"{table}.{i}.{c.key}") for c in worked]
                for i, line in enumerate(lines)
            ]
            _rows(book.create_sheet((model.model_fields[table].title or table)[:_TITLE]), head, body)
    for log, log_model in logs(model).items():
        if kept := readings.get(log):
            names = log_model.names()
            head = [_heading(log_model.model_fields[n].title or n, unit_of(log_model, n)) for n in names]
            body = [list(row) for row in zip(*(kept[n] for n in names), strict=True)]
            _rows(book.create_sheet("logger file"), head, body)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _rows(sheet: Any, head: list[str], body: list[list[Any]]) -> None:
    """Write a heading that stays in view and rows below it."""
    from openpyxl.styles import Font

    sheet.append(head)
    for row in body:
        sheet.append(row)
    for cells in sheet.iter_rows(min_row=2):
        for cell in cells:
            # What is typed stays words: openpyxl takes a leading = for a formula.
            if isinstance(cell.value, str):
                cell.data_type = "s"
    for cell in sheet[1]:
        cell.font = Font(bold=True)
        sheet.column_dimensions[cell.column_letter].width = max(10, len(str(cell.value)) + 3)
    sheet.freeze_panes = "A2"


def _heading(name: str, unit: str | None) -> str:
    return f"{name} [{unit}]" if unit and unit != name else name
