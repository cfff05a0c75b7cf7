"""Tins of one soil: their water contents agree, and the odd tin is named with the slip that would explain it."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from statistics import median_low
from typing import Any

from vadum.soil.bench.weighing import MASSES, TinRow, tares_alike
from vadum.soil.contract.finding import Finding, warn
from vadum.soil.contract.neighbours import Relation
from vadum.soil.contract.places import Taken
from vadum.soil.contract.slip import slip_words

WATER_CONTENTS_APART = warn(
    "water-contents-apart",
    "{name}: {water:.1f %} of a soil of which the other tins say {near:.1f %}{slip}",
    "Weigh the empty tin and the dry tin again; take another tin if all masses stand.",
)

# Two water contents of one soil by one person differ by less than 7.8 % of their mean in 19 of 20 cases (ASTM D2216,
# precision); ten leave room for the ground.
_ONE_SOIL = 0.10


@dataclass(frozen=True)
class OneSoil:
    """The tins of a table, or of each specimen in it, hold one soil: their water contents agree."""

    table: str
    group: str = ""
    within: float = _ONE_SOIL
    """How far apart, as a share of their mean, two water contents may be."""

    def broken(self, taken: Taken, settings: Any, context: Any) -> Iterator[Finding]:
        """Yield the tins whose water content is not that of the others."""
        for rows in taken.rows(self.table, self.group).values():
            found = [(i, row, w) for i, row in rows if (w := row.water_content(context.tins)) is not None]
            yield from self._apart(found, context.tins)

    def _apart(self, found: list[tuple[int, Any, float]], tins: dict[str, float]) -> Iterator[Finding]:
        for k, (i, row, water) in enumerate(found):
            others = [w for j, (_, _, w) in enumerate(found) if j != k]
            # Of two that differ nobody knows which is wrong: the later one is named, and both are marked.
            if not others or (len(others) == 1 and k == 0):
                continue
            near = median_low(others)
            alike = sum(abs(water - other) <= self.within * (water + other) / 2 for other in others)
            if 2 * alike < len(others):
                marked = [i] if len(others) > 1 else [found[0][0], i]
                yield WATER_CONTENTS_APART.at(
                    *(f"{self.table}.{m}.{name}" for m in marked for name in MASSES),
                    name=f"Tin {row.tin}" if row.tin else f"Row {i + 1}",
                    water=water,
                    near=near,
                    slip=_slip(row, near, tins) or ".",
                )


def _slip(row: TinRow, near: float, tins: dict[str, float]) -> str:
    """Return which mass of a tin, by which slip, would have given the water content of the others."""

    def fits(value: float, name: str) -> bool:
        water = row.model_copy(update={name: value}).water_content(tins)
        return water is not None and abs(water - near) < _ONE_SOIL / 2 * near

    for name in MASSES:
        if (value := getattr(row, name)) is not None and (slip := slip_words(value, partial(fits, name=name))):
            return slip
    return ""


def tins_agree(table: str, group: str = "") -> tuple[Relation, ...]:
    """Return what holds between the tins of one soil: tares of one set, water contents alike."""
    return (*tares_alike(table), OneSoil(table, group))
