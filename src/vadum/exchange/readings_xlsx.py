"""The readings of one test as a workbook: a sheet of results and one per table, real numbers, units in the headings."""

from collections import Counter
from typing import Any

from vadum.exchange.own_files import WORKED_OUT
from vadum.exchange.readings_csv import heading
from vadum.exchange.workbook import Written
from vadum.soil.contract.layout import layout
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction


def readings_xlsx(method: Method[Any, Any, Any], readings: dict[str, Any], reduction: Reduction) -> bytes:
    """Return the workbook, results as they are shown. Words are written as words, never as formulas."""
    book = Written()
    book.sheet(
        "results",
        ["parameter", "symbol", "reported", "unrounded", "unit", "basis"],
        [
            [p.name, p.symbol, p.reported if p.reported is not None else p.text, p.value, p.unit, p.basis]
            for p in reduction.parameters
        ],
    )
    laid = layout(method)
    alone = Counter(table.title for table in laid.tables)
    single = [
        [one.label, one.unit, one.read(readings[one.key])] for one in laid.singles if readings.get(one.key) is not None
    ]
    if single:
        book.sheet("single readings", ["reading", "unit", "value"], single)
    for table in laid.tables:
        rows = list(table.rows(readings, {}))
        if rows:
            columns = [column for column in table.columns if any(row.kept.get(column.key) is not None for row in rows)]
            head = [heading(c.label, c.unit) for c in columns] + [
                heading(f"{c.label} {WORKED_OUT}", c.unit) for c in table.worked
            ]
            out = any(row.left_out for row in rows)
            body = [
                [c.read(row.kept.get(c.key)) for c in columns]
                + [reduction.computed.get(f"{row.path}.{c.key}") for c in table.worked]
                + ([row.left_out or None] if out else [])
                for row in rows
            ]
            book.sheet(
                table.title if alone[table.title] == 1 else table.name,
                head + (["left out because"] if out else []),
                body,
            )
    for file in laid.logs:
        if kept := readings.get(file.name):
            head = [heading(column.label, column.unit) for column in file.columns]
            body = [list(row) for row in zip(*(kept[column.key] for column in file.columns), strict=True)]
            book.sheet(file.name, head, body)
    return book.bytes()
