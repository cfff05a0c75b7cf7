"""What a plan needs besides hands: how many of each a laboratory has at first, and the days on which some are out of
use."""

import re
from datetime import date
from typing import Any

from pydantic import BaseModel, Field, model_validator

PLACES = {
    "oven": 12,
    "cup": 1,
    "cylinder": 6,
    "hydrometer": 1,
    "mixer": 1,
    "mould": 1,
    "shaker": 1,
    "vacuum": 2,
    "jar": 12,
    "microwave": 1,
    "hot-plate": 2,
    "press": 1,
    "shear box": 1,
    "triaxial cell": 1,
    "retention cell": 1,
    "soak tank": 1,
}
_LINE = re.compile(
    r"(?:(?P<places>\d{1,2})\s+)?(?P<resource>[a-z][a-z -]*?)\s+(?P<first>\S+)(?:\s+to\s+(?P<last>\S+))?"
)
_SHAPE = "write oven 2026-12-01 to 2026-12-03, or 2 cylinder 2026-12-01"


class OutOfUse(BaseModel):
    """A resource that cannot be used from one day to another, both included; ``places`` of it, 0 for all of them."""

    resource: str
    first: date
    last: date
    places: int = Field(default=0, ge=0, le=99)

    @model_validator(mode="after")
    def _in_order(self) -> "OutOfUse":
        if self.resource not in PLACES:
            raise ValueError(f"“{self.resource[:20]}” is none of {', '.join(PLACES)}")
        if self.last < self.first:
            raise ValueError(f"{self.resource}: {self.last} is before {self.first}")
        return self

    def __str__(self) -> str:
        until = f" to {self.last}" if self.last != self.first else ""
        return f"{f'{self.places} ' if self.places else ''}{self.resource} {self.first}{until}"


def out_of_use(text: str) -> list[dict[str, Any]]:
    """Return what a text says to be out of use: oven 2026-12-01 to 2026-12-03; 2 cylinder 2026-12-07.

    Raises
    ------
    ValueError
        Naming the first part that says something else.
    """
    found = []
    for part in filter(None, (part.strip() for part in re.split(r"[;\n]", text))):
        line = _LINE.fullmatch(part.lower())
        try:
            days = [date.fromisoformat(line[name]) for name in ("first", "last") if line and line[name]]
        except ValueError as error:
            raise ValueError(f"“{part[:30]}”: {_SHAPE}") from error
        if line is None:
            raise ValueError(f"“{part[:30]}”: {_SHAPE}")
        found.append(
            {"resource": line["resource"], "first": days[0], "last": days[-1], "places": int(line["places"] or 0)}
        )
    return found
