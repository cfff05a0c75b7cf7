"""The readings of one test as CSV: a block per table, headings with units."""

import csv
import io
from typing import Any

from vadum.soil.contract.cells import logs, singles, tables
from vadum.soil.contract.field import unit_of
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction


def readings_csv(method: Method[Any, Any, Any], readings: dict[str, Any], reduction: Reduction) -> str:
    """Return the readings, the worked-out columns and the parameters as CSV text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    model = method.Readings
    for table, row_model in tables(model).items():
        names = list(row_model.model_fields)
        worked = [c for c in method.computed if c.table == table]
        writer.writerow([safe(table)])
        writer.writerow([heading(n, unit_of(row_model, n)) for n in names] + [heading(c.key, c.unit) for c in worked])
        for i, row in enumerate(readings.get(table, [])):
            values = [row.get(name, "") for name in names]
            values += [c.text(reduction.computed.get(f"{table}.{i}.{c.key}"), more=2) for c in worked]
            writer.writerow([safe(value) for value in values])
        writer.writerow([])
    for log in logs(model):
        columns = (readings.get(log) or {}).items()
        writer.writerow([safe(log)])
        writer.writerows([name, *values] for name, values in columns if isinstance(values, list))
    for name in singles(model):
        if readings.get(name) is not None:
            writer.writerow([heading(name, unit_of(model, name)), safe(readings[name])])
    writer.writerow([])
    writer.writerow(["parameter", "symbol", "reported", "unrounded", "unit"])
    for p in reduction.parameters:
        writer.writerow([p.name, p.symbol, p.text, "" if p.value is None else repr(p.value), p.unit])
    return out.getvalue()


def heading(name: str, unit: str | None) -> str:
    """Return a column's heading with its unit, once."""
    return f"{name} [{unit}]" if unit and unit != name else name


def safe(value: Any) -> Any:
    """Keep a spreadsheet from running typed words as a formula."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "|", "\t", "\r", "\n"):
        return "'" + value
    return value
