"""The summary of a project: how results spread, the characteristic figures, every parameter by place; filtered and
sorted."""

from collections.abc import Callable
from typing import Annotated, Any
from urllib.parse import urlencode

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import HTMLResponse
from pydantic import BaseModel, Field

from vadum.drawing import render
from vadum.records.site import ResultLine, counts, site_of
from vadum.records.tables import Project, Test
from vadum.report.quantities import SPREAD_HEAD, matrices, spread_rows
from vadum.report.summary import CAUTION, unchecked_words
from vadum.soil.registry import METHODS
from vadum.web.rendering import Db, get, page

router = APIRouter(prefix="/projects/{project_id}")
_AT_ONCE = 200
_FIGURE = (560.0, 330.0)

SORTS: dict[str, Callable[[ResultLine], Any]] = {
    "place": lambda line: (line.location, -1.0 if line.top_m is None else line.top_m, line.sample),
    "depth": lambda line: -1.0 if line.top_m is None else line.top_m,
    "test": lambda line: line.method,
    "parameter": lambda line: (line.symbol, line.name),
    "value": lambda line: float("-inf") if line.reported is None else line.reported,
    "state": lambda line: line.state,
}


class Filter(BaseModel):
    """Which tests a summary is of, and how its table is sorted; depths in m."""

    location: str = ""
    method: str = ""
    top: Annotated[float | None, Field(ge=0, le=10_000)] = None
    base: Annotated[float | None, Field(ge=0, le=10_000)] = None
    final: bool = False
    words: str = Field(default="", max_length=80)
    sort: str = "place"
    down: bool = False
    from_line: int = Field(default=0, ge=0, le=10_000_000)

    def takes(self, test: Test) -> bool:
        """Return whether a test is wanted; one without a depth is not in a range of depths."""
        ground, sample = test.ground, test.sample
        if self.location and (ground is None or ground.name != self.location):
            return False
        if self.method and test.method != self.method:
            return False
        if self.final and not counts(test):
            return False
        if self.top is None and self.base is None:
            return True
        return (
            sample is not None
            and sample.base_m >= (self.top or 0.0)
            and sample.top_m <= (self.base if self.base is not None else 1e9)
        )

    def of_words(self, line: ResultLine) -> bool:
        said = f"{line.location} {line.sample} {line.method} {line.symbol} {line.name} {line.state}".casefold()
        return all(word in said for word in self.words.casefold().split())

    def query(self, **other: Any) -> str:
        """Return the filter as a query, with something else in it; what is as usual is left out."""
        changed = self.model_copy(update=other).model_dump(exclude_defaults=True)
        return urlencode(
            {name: str(value).lower() if isinstance(value, bool) else value for name, value in changed.items()}
        )


def _filter(
    location: Annotated[str, Query(max_length=80)] = "",
    method: Annotated[str, Query(max_length=40)] = "",
    top: Annotated[str, Query(max_length=12, description="from this depth on, m")] = "",
    base: Annotated[str, Query(max_length=12, description="down to this depth, m")] = "",
    final: bool = False,
    words: Annotated[str, Query(max_length=80)] = "",
    sort: Annotated[str, Query(max_length=12)] = "place",
    down: bool = False,
    from_line: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
) -> Filter:
    return Filter(
        location=location,
        method=method,
        top=_depth(top),
        base=_depth(base),
        final=final,
        words=words,
        sort=sort if sort in SORTS else "place",
        down=down,
        from_line=from_line,
    )


def _depth(typed: str) -> float | None:
    """Return a depth typed into the filter, with a point or a comma; anything else filters nothing."""
    try:
        depth = float(typed.replace(",", "."))
    except ValueError:
        return None
    return depth if 0 <= depth <= 10_000 else None


@router.get("/summary", response_class=HTMLResponse)
def summary(
    request: Request, session: Db, project_id: int, chosen: Annotated[Filter, Depends(_filter)]
) -> HTMLResponse:
    project = get(session, Project, project_id, "project")
    site = site_of(project, chosen.takes)
    lines = sorted(filter(chosen.of_words, site.lines), key=SORTS[chosen.sort], reverse=chosen.down)
    used = {test.method for place in project.locations for s in place.samples for test in s.tests}
    used |= {test.method for place in project.locations for test in place.tests}
    return page(
        request,
        "summary/summary.html",
        project=project,
        chosen=chosen,
        site=site,
        lines=lines[chosen.from_line : chosen.from_line + _AT_ONCE],
        count=len(lines),
        at_once=_AT_ONCE,
        used=[m for m in METHODS.values() if m.code in used],
        spread_head=SPREAD_HEAD,
        spreads=spread_rows(site),
        matrices=matrices(site),
        caution=CAUTION,
        unchecked=unchecked_words(site),
        figures=[(figure, render(figure, *_FIGURE)) for figure in site.figures],
    )
