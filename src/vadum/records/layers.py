"""The layers of a location as they were logged: typed, put right, and kept with what stood there before."""

from dataclasses import dataclass
from itertools import pairwise

from sqlmodel import Session

from vadum.records.corrections import CorrectionError, corrections_of, left_to_others, note
from vadum.records.tables import Location, Stratum
from vadum.soil.numbers.entry import EntryError, parse_entry

MOST = 60
_LONGEST = 400


@dataclass(frozen=True)
class Typed:
    """A line of the log as it was typed."""

    top: str
    base: str
    description: str

    @property
    def blank(self) -> bool:
        return not (self.top.strip() or self.base.strip() or self.description.strip())


def read(lines: list[Typed], location: Location) -> list[Stratum]:
    """Return the layers of a location that the lines say, from the top down; blank lines say nothing.

    Raises
    ------
    CorrectionError
        Naming the line that cannot be: no number, upside down, below the hole, into the one above it.
    """
    found = []
    for number, line in enumerate(lines, 1):
        if line.blank:
            continue
        try:
            top, base = (parse_entry(text, "m") for text in (line.top, line.base))
        except EntryError as error:
            raise CorrectionError("layers", f"layer {number}: {error}") from error
        if not 0 <= top < base:
            raise CorrectionError("layers", f"layer {number}: from {top:g} m down to {base:g} m cannot be")
        if base > location.depth_m + 1e-6:
            raise CorrectionError("layers", f"layer {number}: the hole is {location.depth_m:g} m deep")
        described = line.description.strip()[:_LONGEST]
        found.append(Stratum(location_id=location.id or 0, top_m=top, base_m=base, description=described))
    if len(found) > MOST:
        raise CorrectionError("layers", f"{len(found)} layers are more than {MOST}")
    found.sort(key=lambda layer: layer.top_m)
    for above, below in pairwise(found):
        if below.top_m < above.base_m - 1e-6:
            said = f"the layer from {below.top_m:g} m begins within the one down to {above.base_m:g} m"
            raise CorrectionError("layers", said)
    return found


def keep_layers(
    session: Session, location: Location, lines: list[Typed], who: str, reason: str = "", seen: int | None = None
) -> None:
    """Put the layers in as they are typed, keep how they stood before, and commit.

    Arguments
    ---------
    seen : the newest correction that the hand saw, 0 for none; None where it does not say

    Raises
    ------
    CorrectionError
        If they cannot be, something that was checked needs a reason, or somebody changed them meanwhile.
    """
    layers = read(lines, location)
    before, after = words_of(location.strata), words_of(layers)
    known = corrections_of(session, location)
    if before == after or left_to_others(known, {"layers": before}, {"layers": after}, seen):
        return
    note(session, location, {"layers": [before, after]}, who, reason)
    for old in list(location.strata):
        session.delete(old)
    location.strata = layers
    session.add(location)
    session.commit()


def words_of(layers: list[Stratum]) -> str:
    """Return layers in a line, as corrections keep them."""
    return "; ".join(f"{one.top_m:g}–{one.base_m:g} m {one.description}".strip() for one in layers)
