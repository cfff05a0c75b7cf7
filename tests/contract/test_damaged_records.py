"""Records that lost lines, stand twice, or whose gauge stopped: a result that changed by that is never silent."""

from copy import deepcopy

import numpy as np
import pytest

from vadum.soil.registry import METHODS

RECORDS = [
    ("unconfined", "loading"),
    ("unconfined", "remoulded"),
    ("triaxial", "shearing"),
    ("triaxial", "consolidation"),
    ("direct-shear", "record"),
    ("cbr-lab", "top"),
    ("cbr-in-situ", "position_2"),
    ("plate-incremental", "rows"),
    ("retention", "weighings"),
    ("falling-head", "heads"),
    ("double-ring", "readings"),
    ("well-permeameter", "levels"),
]
SEEDS = range(3)
# Within so much a result is the same: fewer readings scatter otherwise.
SAME = 0.1
# What no reading beside it tells.
LEFT = {
    # A lid that stands is a soil that keeps its volume; only its dilation is told by it.
    ("direct-shear", "record", "vertical_mm stands"),
    # The last fills are another state of the ground, not a fault of the record.
    ("well-permeameter", "levels", "without the last fifth"),
    ("well-permeameter", "levels", "without the last two fifths"),
}


def lost(rows, share, where):
    count = max(1, int(share * len(rows)))
    begin = {"first": 0, "middle": len(rows) // 2 - count // 2, "last": len(rows) - count}[where]
    return rows[:begin] + rows[begin + count :]


def damaged(rows):
    """Yield what may happen to a record, in words, and the rows it leaves."""
    for words, share in (("fifth", 0.2), ("two fifths", 0.4)):
        for where in ("first", "middle", "last"):
            yield f"without the {where} {words}", lost(rows, share, where)
    yield "twice", rows + deepcopy(rows)
    middle = len(rows) // 2
    for name in sorted({key for row in rows for key, value in row.items() if isinstance(value, float)}):
        if rows[middle].get(name):
            later = rows[middle:]
            at = rows[middle][name]
            yield f"{name} stands", rows[:middle] + [row | {name: at} if name in row else row for row in later]
            yield (
                f"{name} counts anew",
                rows[:middle] + [row | {name: round(row[name] - at, 4)} if name in row else row for row in later],
            )


def told(reduction):
    return {p.key: p.value for p in reduction.parameters if p.value is not None}


def silent(method, plain, table, rows):
    """Return the results of the headline that changed though nothing was said."""
    base = method.reduce_raw(plain)
    try:
        after = method.reduce_raw(plain | {table: rows})
    except ValueError:
        return {}  # it cannot be typed: a number beyond what can be
    if not after.reportable or set(after.codes()) - set(base.codes()):
        return {}
    was, now = told(base), told(after)
    return {
        key: (was[key], now.get(key))
        for key in method.headline
        if was.get(key) and (now.get(key) is None or abs(now[key] / was[key] - 1) > SAME)
    }


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize(("code", "table"), RECORDS)
def test_no_damage_of_a_record_changes_a_result_in_silence(code, table, seed):
    """Strengths, ratios, times and rates of damaged records were reportable, a third off and more."""
    method, rng = METHODS[code], np.random.default_rng(seed)
    plain = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    found = {
        words: changed
        for words, rows in damaged(plain[table])
        if (code, table, words) not in LEFT and (changed := silent(method, plain, table, rows))
    }
    assert found == {}
