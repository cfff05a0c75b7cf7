"""The readings of one test as CSV: a block per table, headings with units."""

import csv
import io
from typing import Any

from vadum.exchange.own_files import LEFT_OUT, PARAMETERS, WORKED_OUT
from vadum.soil.contract.layout import Heading, layout
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction


def readings_csv(method: Method[Any, Any, Any], readings: dict[str, Any], reduction: Reduction) -> str:
    """Return the readings, the worked-out columns and the parameters, as they are shown, as CSV text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    laid = layout(method)
    for table in laid.tables:
        writer.writerow([safe(table.name)])
        head = [_keyed(column) for column in table.columns] + [
            heading(f"{c.key} {WORKED_OUT}", c.unit) for c in table.worked
        ]
        writer.writerow([*head, LEFT_OUT])
        for row in table.rows(readings, {}):
            values = [column.read(row.kept.get(column.key), "") for column in table.columns]
            values += [c.text(reduction.computed.get(f"{row.path}.{c.key}"), more=2) for c in table.worked]
            writer.writerow([safe(value) for value in (*values, row.left_out)])
        writer.writerow([])
    for file in laid.logs:
        kept = readings.get(file.name)
        if kept:
            writer.writerow([safe(file.name)])
            writer.writerow([_keyed(column) for column in file.columns])
            writer.writerows(zip(*(kept[column.key] for column in file.columns), strict=True))
            writer.writerow([])
    for one in laid.singles:
        if readings.get(one.key) is not None:
            writer.writerow([_keyed(one), safe(one.read(readings[one.key]))])
    writer.writerow([])
    writer.writerow([PARAMETERS, "symbol", "reported", "unrounded", "unit"])
    for p in reduction.parameters:
        writer.writerow([p.name, p.symbol, p.text, "" if p.value is None else repr(p.value), p.unit])
    return out.getvalue()


def _keyed(column: Heading) -> str:
    return heading(column.key, str(column.extra.get("unit") or ""))


def heading(name: str, unit: str | None) -> str:
    """Return a column's heading with its unit, once."""
    return f"{name} [{unit}]" if unit and unit != name else name


def safe(value: Any) -> Any:
    """Keep a spreadsheet from running typed words as a formula."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "|", "\t", "\r", "\n"):
        return "'" + value
    return value
