"""The results of many tests for a report: a line per result, a line per sample with its results side by side, the
spread."""

import csv
import io
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from vadum.exchange.readings_csv import heading, safe
from vadum.exchange.workbook import Written
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.site import Quantity, Spread

COLUMNS: tuple[tuple[str, str], ...] = (
    ("location", "borehole, pit or point, by the name it has in the project"),
    ("sample", "name of the sample; empty for a test in the ground"),
    ("from [m]", "upper depth of the sample below ground"),
    ("to [m]", "lower depth of the sample below ground"),
    ("test", "number of the test in the laboratory"),
    ("method", "title of the method"),
    ("state", "planned, running, reduced, checked or issued; void tests are not in the file"),
    ("parameter", "what the result is, in words"),
    ("symbol", "its symbol"),
    ("reported", "the result as reported, by its rounding rule; empty where it is words"),
    ("words", "the result where it is words: non-plastic, undetermined, a bound, a verdict"),
    ("unrounded", "the result before rounding"),
    ("unit", "unit of both numbers; empty for a plain number"),
    ("basis", "where the rule stands that the result is by"),
    ("project", "name of the project"),
    ("tested on", "day of the test's first reading, ISO 8601"),
    ("reportable", "yes where nothing stops the result from being signed, else no"),
    ("key", "name of the result that never changes, for programs"),
    ("follows", "standards whose way was gone, by school and instrument, and what was set otherwise"),
    ("stops", "findings that keep the test from being reported"),
    ("warnings", "findings that print on the sheet"),
)
"""The columns of the results as a file, in their order, with what each means: heading and dictionary are one."""
_HEAD = tuple(name for name, _ in COLUMNS)
_SPREAD_HEAD = (
    "symbol",
    "quantity",
    "unit",
    "n",
    "least",
    "most",
    "mean",
    "s",
    "mean and s are",
    "cautious mean (a suggestion for the engineer)",
    "layer",
)

Place = tuple[str, str, float | None, float | None]


@dataclass(frozen=True)
class Result:
    """A test with what it gave and where it belongs; depths in m, none for a test in the ground; ``headline`` are the
    keys of the parameters a summary shows, the first parameter when empty or not reached."""

    location: str
    sample: str
    top_m: float | None
    base_m: float | None
    number: int
    method: str
    state: str
    reduction: Reduction
    headline: tuple[str, ...] = ()
    project: str = ""
    on: date | None = None
    """Day of the first reading; None before there is one."""
    names: Mapping[str, str] = field(default_factory=dict)
    """What each result of the headline is called in every test of the method, where its own words vary."""

    @property
    def place(self) -> Place:
        return self.location, self.sample, self.top_m, self.base_m


def results_csv(results: Sequence[Result]) -> str:
    """Return a line per result as CSV text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(_HEAD)
    writer.writerows([safe(value) for value in line] for line in _lines(results))
    return out.getvalue()


def results_xlsx(results: Sequence[Result], spreads: Sequence[tuple[Quantity, str, Spread]] = ()) -> bytes:
    """Return a workbook: a line per sample, a line per result, and how each quantity spreads."""
    book = Written()
    book.sheet("by sample", *_by_sample(results))
    book.sheet("results", _HEAD, _lines(results))
    book.sheet("columns", ("column", "meaning"), COLUMNS)
    if spreads:
        book.sheet("spread", _SPREAD_HEAD, [_spread(*one) for one in spreads])
    return book.bytes()


def _spread(quantity: Quantity, layer: str, found: Spread) -> list[object]:
    of = "geometric, s is a factor" if found.factor else "arithmetic"
    return [
        quantity.symbol,
        quantity.name,
        quantity.unit,
        found.n,
        found.least,
        found.most,
        found.mean,
        found.deviation,
        of,
        found.cautious,
        layer or "all",
    ]


def dictionary_csv() -> str:
    """Return what each column of the results means as CSV text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(("column", "meaning"))
    writer.writerows(COLUMNS)
    return out.getvalue()


def _lines(results: Sequence[Result]) -> list[list[object]]:
    return [line for one in results for line in _of_test(one)]


def _of_test(one: Result) -> Iterator[list[object]]:
    reduction = one.reduction
    grave = [f.severity for f in one.reduction.findings]
    for p in reduction.parameters:
        yield [
            *one.place,
            one.number,
            one.method,
            one.state,
            p.name,
            p.symbol,
            p.reported,
            None if p.reported is not None else p.text,
            p.value,
            p.unit,
            p.basis,
            one.project,
            one.on.isoformat() if one.on else None,
            "yes" if one.reduction.reportable else "no",
            p.key,
            ", ".join(one.reduction.follows),
            grave.count("stop"),
            grave.count("warn"),
        ]


def _by_sample(results: Sequence[Result]) -> tuple[list[str], list[list[object]]]:
    """Return headings and rows of what each test is for; a second test of a method stands on a second line."""
    headings: dict[tuple[str, str], str] = {}
    rows: dict[Place, list[dict[tuple[str, str], object]]] = {}
    for one in results:
        values: dict[tuple[str, str], object] = {}
        for p in _headline(one):
            column = one.method, p.key
            values[column] = p.text if p.reported is None else p.reported
            # A judgement in words (non-plastic) has no unit; a number of the same column has.
            if column not in headings or p.unit:
                headings[column] = heading(f"{one.method}: {one.names.get(p.key, p.name)}", p.unit)
        lines = rows.setdefault(one.place, [{}])
        free = next((line for line in lines if not line.keys() & values.keys()), None)
        if free is None:
            lines.append(free := {})
        free.update(values)
    body = [[*place, *(line.get(c) for c in headings)] for place, lines in rows.items() for line in lines]
    return [*_HEAD[:4], *headings.values()], body


def _headline(one: Result) -> list[Parameter]:
    found = [p for p in one.reduction.parameters if p.key in one.headline]
    return found or one.reduction.parameters[:1]
