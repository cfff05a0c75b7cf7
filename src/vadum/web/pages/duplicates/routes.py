"""What the laboratory repeats to: duplicates by method and result, as a control chart."""

from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse
from sqlmodel import Session

from vadum.drawing import render
from vadum.records.duplicates import (
    REFERENCE,
    checked_of_reference,
    checked_twice,
    duplicates_of,
    of_reference,
    reference_methods,
)
from vadum.soil.contract.result import Result
from vadum.soil.registry import METHODS
from vadum.soil.uncertainty.duplicates import (
    ACTION,
    COMPARED,
    LEAST,
    WARNING,
    Duplicate,
    Repeated,
    control_chart,
    goes_by_share,
    repeats_to,
)
from vadum.soil.uncertainty.reference import Lines, lines_by, reference_chart
from vadum.soil.uncertainty.repeatability import PUBLISHED, Repeatability
from vadum.web.rendering import Db, page

router = APIRouter(prefix="/duplicates")
_FIGURE = (620.0, 360.0)


@dataclass(frozen=True)
class Kept:
    """A result of a method with its duplicates."""

    method: str
    key: str
    of: Result
    found: list[Duplicate]

    @property
    def title(self) -> str:
        return METHODS[self.method].title

    @property
    def share(self) -> bool:
        return goes_by_share(self.method, self.key)

    @property
    def published(self) -> Repeatability | None:
        return PUBLISHED.get((self.method, self.key))

    @property
    def spread(self) -> float | None:
        return repeats_to(self.found)

    @property
    def counts(self) -> bool:
        """Whether the laboratory's own figure counts, instead of the published one."""
        return len(self.found) >= LEAST

    @property
    def words(self) -> str:
        """The laboratory's own standard deviation in words."""
        spread = self.spread
        if spread is None:
            return "–"
        return f"{100 * spread:.2g} % of the value" if self.share else f"{spread:.2g} {self.of.unit}".strip()

    def of_person(self, who: str) -> "Kept":
        found = [one for one in self.found if not who or one.second.who == who]
        return Kept(self.method, self.key, self.of, found)

    def judged(self, one: Duplicate) -> str:
        """Return whether a difference is beyond a line of the chart: ``action``, ``warning`` or ""."""
        spread = self.drawn_by
        off = abs(one.difference)
        if spread is None:
            return ""
        return "action" if off > ACTION * spread else "warning" if off > WARNING * spread else ""

    @property
    def drawn_by(self) -> float | None:
        """The standard deviation behind the lines: what is published, else the laboratory's own.

        Lines by the differences that they judge would follow a laboratory that gets worse.
        """
        if self.published is None:
            return self.spread or None
        return self.published.share or self.published.amount


@router.get("", response_class=HTMLResponse)
def duplicates_page(request: Request, session: Db, method: str = "", result: str = "", who: str = "") -> HTMLResponse:
    every = _kept(session)
    asked = next((one for one in every if (one.method, one.key) == (method, result)), None)
    whole = asked or every[0]
    chosen = whole.of_person(who)
    figure = ""
    if chosen.found and chosen.drawn_by:
        drawn = control_chart(chosen.found, chosen.drawn_by, chosen.of.symbol, chosen.of.unit, share=chosen.share)
        figure = render(drawn, *_FIGURE)
    return page(
        request,
        "duplicates/duplicates.html",
        every=every,
        chosen=chosen,
        figure=figure,
        whose=who,
        people=sorted({one.second.who for one in whole.found}),
        least=LEAST,
    )


@dataclass(frozen=True)
class Watched:
    """A result of the reference soil, test after test."""

    method: str
    of: Result
    tests: list[Repeated]

    @property
    def key(self) -> str:
        return self.of.key

    @property
    def title(self) -> str:
        return METHODS[self.method].title

    @property
    def lines(self) -> Lines | None:
        return lines_by(self.tests)


@router.get("/reference", response_class=HTMLResponse)
def reference_page(request: Request, session: Db, method: str = "", result: str = "", who: str = "") -> HTMLResponse:
    """Show the tests of the reference soil; lines are by everybody's first tests, whoever's are shown."""
    every = _watched(session)
    asked = next((one for one in every if (one.method, one.key) == (method, result)), None)
    chosen = asked or next(iter(every), None)
    shown = [one for one in chosen.tests if not who or one.who == who] if chosen else []
    figure = ""
    if chosen and shown:
        figure = render(reference_chart(shown, chosen.lines, chosen.of.symbol, chosen.of.unit), *_FIGURE)
    return page(
        request,
        "duplicates/reference.html",
        every=every,
        chosen=chosen,
        shown=shown,
        lines=chosen.lines if chosen else None,
        figure=figure,
        whose=who,
        people=sorted({one.who for one in chosen.tests}) if chosen else [],
        least=LEAST,
        kind=REFERENCE,
    )


def _watched(session: Session) -> list[Watched]:
    found, codes = [], reference_methods(session)
    checked_of_reference(session, codes)
    for code in codes:
        method = METHODS[code]
        for result in method.results:
            if result.key in method.headline and (tests := of_reference(session, code, result.key)):
                found.append(Watched(code, result, tests))
    return found


def _kept(session: Session) -> list[Kept]:
    checked_twice(session, METHODS)
    every = [
        Kept(code, key, next(one for one in METHODS[code].results if one.gives(key)), duplicates_of(session, code, key))
        for code in METHODS
        for key in COMPARED.get(code, ())
    ]
    return sorted(every, key=lambda one: -len(one.found))
