"""Any two cells, blank or with what can be typed into them: a sheet is reduced, shown, run and timed all the same. One
that cannot be opened any more holds readings that nobody can put right."""

import json
import random
from itertools import combinations, product

import pytest

from tests import THOROUGH, drawn
from vadum.exchange.bench_file import example_of
from vadum.records.tables import Test
from vadum.records.times import operations_of
from vadum.soil.contract.cells import Sheet, enter, logs
from vadum.soil.contract.pipeline import NOT_REDUCED
from vadum.soil.contract.places import columns
from vadum.soil.registry import METHODS
from vadum.web.view.sheet import run_view, sheet_view

TRIED = 24  # pairs of a method; all of them where there is time


def reduced(method, data, cells):
    """Return the reduction after cells were typed, once all of it was seen: figures, run mode, timetable."""
    chosen, context = data["settings"], data["context"]
    sheet = enter(method.Readings, Sheet(data["readings"], {}), cells)
    reduction = method.reduce_raw(sheet.readings, chosen, context)
    for figure in [one.key for one in reduction.figures] or [""]:
        sheet_view(method, sheet, chosen, context, reduction, figure=figure)
    run_view(method, sheet, chosen, context)
    operations_of(Test(method=method.code, kept=sheet.readings, settings=chosen))
    return reduction


def pairs(method, readings):
    """Yield two cells of a row, or two that stand alone, with what is typed into them: nothing, nought, a number, a
    word; in a row that is there, and in a new one."""
    every = [one for one in columns(method.Readings) if one.name not in logs(method.Readings)]
    for one, other in combinations(every, 2):
        if one.table != other.table:
            continue
        rows = {0, len(readings.get(one.table) or [])} if one.table else {None}
        for row, typed in product(rows, product(("", "0", "7.5", "x"), repeat=2)):
            at = "" if row is None else f"{one.table}.{row}."
            yield {f"{at}{one.name}": typed[0], f"{at}{other.name}": typed[1]}
    yield from (
        {f"{one.table}.{i}.{one.name}": "" for i in range(len(readings.get(one.table) or []))}
        for one in every
        if one.table
    )


@pytest.mark.parametrize("code", drawn(METHODS))
def test_no_two_cells_stand_against_their_sheet(code):
    method = METHODS[code]
    data = json.loads(example_of(method.code))
    tried = list(pairs(method, data["readings"]))
    for cells in tried if THOROUGH else random.Random(method.code).sample(tried, min(TRIED, len(tried))):
        said = [one.message for one in reduced(method, data, cells).findings if one.code == NOT_REDUCED.code]
        assert said == [], cells
