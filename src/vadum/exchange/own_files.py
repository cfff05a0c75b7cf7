"""What is particular to the readings files this program writes itself, so that they come back in as they went out.

A CSV of ours holds a block for each table: its name alone in a row, the headings, the rows. A workbook of ours has a
sheet for each, behind one with the results. Worked-out columns say so, and are never taken for readings.
"""

from collections.abc import Collection
from dataclasses import replace

from vadum.exchange.spreadsheet import Cell, Grid

WORKED_OUT = "(worked out)"
LEFT_OUT = "left_out"
# The block behind the tables: what was worked out.
PARAMETERS = "parameter"


def block_of(grid: Grid, name: str, names: Collection[str]) -> tuple[Grid, int]:
    """Return the block of a table in a CSV of ours and how many rows stand before it; the whole grid of other files.

    Arguments
    ---------
    names : of all tables, logger files and single readings of the method
    """
    # Two hundred thousand rows may be looked through: most have a second cell, and are done with at once.
    single = ((at, row) for at, row in enumerate(grid.rows) if len(row) == 1 or (row and not row[1]))
    start = next((at for at, row in single if _alone(row) == name), None)
    if start is None:
        return grid, 0
    rows: list[list[Cell]] = []
    for row in grid.rows[start + 1 :]:
        first = _text(row[0]) if row else ""
        bare = first.partition(" [")[0]
        # The headings of the block itself begin with a reading of the table, never with one that stands alone.
        if rows and ((first in names and _alone(row)) or bare in names or first == PARAMETERS):
            break
        rows.append(row)
    return replace(grid, rows=rows), start + 1


def sheet_of(sheets: Collection[str], titles: Collection[str]) -> str:
    """Return the first sheet of a workbook that is named as one of the tables; "" where none is."""
    return next((sheet for sheet in sheets if sheet in titles), "")


def _alone(row: list[Cell]) -> str:
    """Return the text of a row that holds nothing else; "" for others."""
    return "" if not row or any(map(_text, row[1:])) else _text(row[0])


def _text(cell: Cell) -> str:
    return "" if cell is None else str(cell).strip()
