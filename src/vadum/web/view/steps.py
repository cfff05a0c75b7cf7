"""The order of the hand: which empty cells of a sheet come next, one at a time, for run mode."""

from typing import Any

from vadum.web.view.models import Column, Row, SheetView, Single, Step, Table

_NAMES = ("tin", "pycnometer")


def steps_of(view: SheetView, without: tuple[str, ...] = ()) -> list[Step]:
    """Return the empty cells of a sheet view in bench order.

    Fields before the tables come first, then each table; within a table the columns up to one after which the hand goes
    to the next row are filled for all rows before the columns that follow it (all tins are weighed wet before one is
    weighed dry). The blank row of a table is offered last in each pass. Tables and fields named in ``without`` are left
    to a clock.
    """
    fields = [f for f in view.fields if not f.text and f.path not in without]
    steps = [_field(f) for f in fields if f.before]
    for table in (t for t in view.tables if t.name not in without):
        for columns in _passes(table.columns):
            for number, row in enumerate(table.rows):
                if not row.left_out:
                    steps += [_cell(view, table, row, number, c) for c in columns if not row.cells[c.key].text]
    return steps + [_field(f) for f in fields if not f.before]


def _passes(columns: list[Column]) -> list[list[Column]]:
    passes: list[list[Column]] = [[]]
    for column in columns:
        passes[-1].append(column)
        if column.hand == "row":
            passes.append([])
    return [columns for columns in passes if columns]


def _asked(column: Column) -> dict[str, Any]:
    """Return what is asked for, whether it is a cell or a field."""
    return {
        "label": column.label,
        "unit": column.unit,
        "about": column.about,
        "kind": column.kind,
        "choices": column.choices,
        "by": column.by,
        "since": column.since,
        "measured": column.measured,
    }


def _field(field: Single) -> Step:
    return Step.model_validate(
        {**_asked(field), "path": field.path, "expected": field.expected, "supplied": field.supplied}
    )


def _cell(view: SheetView, table: Table, row: Row, number: int, column: Column) -> Step:
    cell = row.cells[column.key]
    before = [r.cells[column.key].text for r in table.rows[:number]]
    named = next((row.cells[key].text for key in _NAMES if key in row.cells), "")
    title = table.title if len(view.tables) > 1 else "row"
    return Step.model_validate(
        {
            **_asked(column),
            "path": f"{row.path}.{column.key}",
            "expected": cell.expected,
            "supplied": cell.supplied,
            "where": f"{title} {number + 1}" + (f", {named}" if named and column.key not in _NAMES else ""),
            "last": next((text for text in reversed(before) if text), ""),
            "table": table.name,
            "blank": row.blank,
        }
    )
