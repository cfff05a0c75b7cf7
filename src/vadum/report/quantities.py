"""A site's quantities as tables, the same on screen, on paper and in a workbook."""

from dataclasses import dataclass
from functools import partial
from math import floor, log10

from vadum.records.site import Site
from vadum.soil.site import FAMILIES, Quantity, Spread, depth_words

Place = tuple[str, str, str]
SPREAD_HEAD = ("quantity", "meaning", "n", "least", "most", "mean", "s", "cautious")


@dataclass(frozen=True)
class SpreadRow:
    """A place with its results, "" where there is none; ``tests`` are the tests behind each cell."""

    place: Place
    cells: list[str]
    tests: list[list[int]]


@dataclass(frozen=True)
class Matrix:
    """The quantities of a family side by side, a row per sample or place in the ground."""

    title: str
    quantities: list[Quantity]
    rows: list[SpreadRow]

    @property
    def head(self) -> list[str]:
        return ["location", "sample", "depth, m", *(q.heading for q in self.quantities)]


def matrices(site: Site) -> list[Matrix]:
    """Return a table for every family of quantities that has a value, places in the order of the project."""
    found = []
    for family in FAMILIES:
        values = [v for v in site.shown if v.quantity.family == family]
        columns = [q for q in site.quantities if any(v.quantity == q for v in values)]
        places = dict.fromkeys((v.location, v.sample, depth_words(v.top_m, v.base_m)) for v in values)
        rows = []
        for place in places:
            here = [v for v in values if (v.location, v.sample, depth_words(v.top_m, v.base_m)) == place]
            cells = [[v for v in here if v.quantity == q] for q in columns]
            rows.append(
                SpreadRow(
                    place, [" / ".join(site.written(v) for v in c) for c in cells], [[v.test for v in c] for c in cells]
                )
            )
        if rows:
            found.append(Matrix(family, columns, rows))
    return found


def spread_rows(site: Site) -> list[list[str]]:
    """Return a line of text per quantity and layer of it: n, least, most, mean, spread and a cautious value, as far
    as there are any.

    Nothing is written finer than the results were reported, but for the mean and spread of whole numbers.
    """
    rows = []
    shown, mark = site.shown, site.units.marked
    for quantity, layer, found in site.spreads:
        texts = [v.text for v in shown if v.quantity == quantity]
        places = max(len(text.partition(".")[2]) for text in texts)
        name = f"in {layer}" if layer else quantity.name
        name += " (geometric)" if found.factor and found.n > 1 else ""
        # What scatters by factors is reported to so many figures, not to so many decimals.
        say = _three_figures if quantity.log else partial(_figures, places=places)
        cautious = "" if found.cautious is None else say(found.cautious)
        numbers = [
            say(found.least),
            say(found.most),
            "" if found.n == 1 else say(found.mean) if quantity.log else _figures(found.mean, places or 1),
            _deviation(found, places),
            cautious,
        ]
        rows.append([quantity.heading, name, str(found.n), *map(mark, numbers)])
    return rows


def _deviation(found: Spread, places: int) -> str:
    if found.deviation is None:
        return ""
    return f"× {found.deviation:.2f}" if found.factor else _figures(found.deviation, places or 1)


def _figures(value: float, places: int) -> str:
    """Return a number to these decimals; to three figures where they would leave nothing of it."""
    return f"{value:.{places}f}" if value == 0 or round(value, places) else _three_figures(value)


def _three_figures(value: float) -> str:
    """Return a number to three figures, without an exponent."""
    return f"{value:.{max(0, 2 - floor(log10(abs(value))))}f}" if value else "0"
