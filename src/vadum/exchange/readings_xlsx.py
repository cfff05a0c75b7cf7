"""The readings of one test as a workbook: a sheet of results and one per table, real numbers, units in the headings."""

from typing import Any

from vadum.exchange.readings_csv import heading
from vadum.exchange.workbook import Written
from vadum.soil.contract.cells import logs, singles, tables
from vadum.soil.contract.field import unit_of
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction


def readings_xlsx(method: Method[Any, Any, Any], readings: dict[str, Any], reduction: Reduction) -> bytes:
    """Return the workbook. Words are written as words, never as formulas."""
    book = Written()
    book.sheet(
        "results",
        ["parameter", "symbol", "reported", "unrounded", "unit", "basis"],
        [
            [p.name, p.symbol, p.reported if p.reported is not None else p.text, p.value, p.unit, p.basis]
            for p in reduction.parameters
        ],
    )
    model = method.Readings
    single = [(n, unit_of(model, n) or "", readings[n]) for n in singles(model) if readings.get(n) is not None]
    if single:
        book.sheet(
            "single readings",
            ["reading", "unit", "value"],
            [[model.model_fields[n].title or n, unit, value] for n, unit, value in single],
        )
    for table, row_model in tables(model).items():
        lines = readings.get(table) or []
        if lines:
            names = [n for n in row_model.model_fields if any(line.get(n) is not None for line in lines)]
            worked = [c for c in method.computed if c.table == table]
            head = [heading(row_model.model_fields[n].title or n, unit_of(row_model, n)) for n in names]
            head += [heading(c.label, c.unit) for c in worked]
            body = [
                [line.get(n) for n in names] + [reduction.computed.get(f"{table}.{i}.{c.key}") for c in worked]
                for i, line in enumerate(lines)
            ]
            book.sheet(model.model_fields[table].title or table, head, body)
    for log, log_model in logs(model).items():
        if kept := readings.get(log):
            names = log_model.names()
            head = [heading(log_model.model_fields[n].title or n, unit_of(log_model, n)) for n in names]
            body = [list(row) for row in zip(*(kept[n] for n in names), strict=True)]
            book.sheet("logger file", head, body)
    return book.bytes()
