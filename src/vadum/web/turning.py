"""Long lists a page at a time: the way to those before and those behind."""

from dataclasses import dataclass
from urllib.parse import urlencode


@dataclass(frozen=True)
class Turn:
    """A route with the queries that lead back and on; "" where there is nothing that way. ``first`` counts from 1."""

    route: str
    first: int
    back: str
    on: str


def turning(route: str, skip: int, at_once: int, *, more: bool, **query: str) -> Turn:
    """Return the ways from a page that leaves out the first ``skip`` of a list and shows ``at_once``."""

    def at(place: int) -> str:
        return "?" + urlencode({**query, "skip": place} if place else query)

    return Turn(route, skip + 1, at(max(0, skip - at_once)) if skip else "", at(skip + at_once) if more else "")
