"""The summary of a project for print: how results spread, the characteristic figures, results side by side, all of
them."""

from collections.abc import Iterator
from itertools import groupby
from typing import Any

from vadum.records.site import UNCHECKED, Site
from vadum.report.document import LOW, Part, Picture
from vadum.report.quantities import matrices, spread_rows

CAUTION = (
    "A cautious value is a suggestion for the engineer: the bound that the mean of these values lies beyond with a"
    " probability of 95 percent (EN 1997-1, 2.4.5.2), from the values alone. It is of one layer as logged, of all"
    " values where none is, never of several layers together; it knows no trend with depth and no local experience;"
    " fewer than three values give none."
)


def summary_part(site: Site, project: str, scope: str, *, every_parameter: bool = True) -> Part:
    """Return what the summary prints.

    Arguments
    ---------
    scope : which tests it is of, in words
    every_parameter : also the table of all parameters, by test
    """
    data: dict[str, Any] = {
        "title": "Summary of results",
        "particulars": [["project", project], ["of", scope], ["tests", f"{site.tests}, of which {site.counted} count"]],
        "spreads": spread_rows(site),
        "caution": CAUTION,
        "unchecked": unchecked_words(site),
        "matrices": [
            {"title": m.title, "head": m.head, "rows": [[*row.place, *row.cells] for row in m.rows]}
            for m in matrices(site)
        ],
        "tests": list(_by_test(site)) if every_parameter else [],
    }
    return Part("summary", data, [Picture.of(figure, LOW) for figure in site.figures])


def unchecked_words(site: Site) -> str:
    """Return what the mark behind a result means, and how many tests it is of; "" where all are checked."""
    count = len(site.unchecked)
    return f"{UNCHECKED} not checked yet: {count} of {site.counted} tests that count here" if count else ""


def _by_test(site: Site) -> Iterator[list[str]]:
    """Yield a line per test with all it gave: a row for each parameter would take eighty pages of a large project."""
    for _, lines in groupby(site.lines, key=lambda line: line.test):
        some = list(lines)
        one = some[0]
        state = one.state if one.reportable else f"{one.state}, not reportable"
        state += ", its ground has moved" if one.moved else ""
        found = ", ".join(f"{p.symbol} {p.text} {p.unit}".strip().replace(" ", "\u00a0") for p in some)
        yield [f"{one.location} {one.sample}".strip(), one.depth, f"{one.method}, {state}", found]
