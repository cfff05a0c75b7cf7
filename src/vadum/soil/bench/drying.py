"""The oven in a timetable: tins go in, and come out dry the next day."""

from collections.abc import Sequence

from vadum.soil.bench.weighing import TinRow, all_dry, any_wet
from vadum.soil.contract.method import Operation

OVEN_MIN, COOLING_MIN = 960.0, 10.0


def tins_dried(
    table: str,
    rows: Sequence[TinRow],
    due_min: float,
    *,
    tins: str = "Tins",
    weigh: str = "Weigh the dry tins",
    settled: bool = False,
    weighing_min: float = 5,
) -> list[Operation]:
    """Return the two operations: into the oven, and weighed after a night in it and cooling with lids on.

    Arguments
    ---------
    table, rows : the tins, by the name of their table
    due_min : when they go in
    settled : nothing needs drying any more
    """
    return [
        Operation(
            key="oven-in",
            what=f"{tins} into the oven",
            due_min=due_min,
            tolerance_min=60,
            hands_on_min=5,
            resource="oven",
            holds_min=OVEN_MIN,
            done=settled or any_wet(rows),
            cell=f"{table}.0.mass_tin_wet_g",
        ),
        Operation(
            key="weigh-dry",
            what=weigh,
            due_min=due_min + OVEN_MIN + COOLING_MIN,
            tolerance_min=480,
            hands_on_min=weighing_min,
            done=settled or all_dry(rows),
            cell=f"{table}.0.mass_tin_dry_g",
        ),
    ]
