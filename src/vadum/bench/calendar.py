"""The calendar a plan fills: one pair of hands within its hours, and places of resources."""

from bisect import bisect_left, bisect_right, insort
from collections import defaultdict
from collections.abc import Iterable

Span = tuple[float, float]
Taken = tuple[str, float, float]
"""A place of a resource that is not to be had, from when until when."""
_EDGE = 1e-6
_STEP_MIN = 1.0
LATER_HANDS = "the readings that follow it find no hands"


class Calendar:
    """Hands and resources as taken so far, in minutes after the plan's origin."""

    def __init__(self, windows: list[Span], places: dict[str, int], out: Iterable[Taken] = ()) -> None:
        self.windows = windows
        self.places = places
        self.hands: list[Span] = []
        self.held: defaultdict[str, list[Span]] = defaultdict(list)
        self._longest: defaultdict[str, float] = defaultdict(float)
        self._sometimes_out: set[str] = set()
        for resource, begins, ends in out:
            self.take(begins, 0.0, resource, ends - begins)
            self._sometimes_out.add(resource)

    def earliest(self, after: float, hands: float, resource: str, holds: float) -> float | None:
        """Return the first time from ``after`` on at which hands are free and the resource has a place; None if
        never."""
        if resource and self.places.get(resource, 1) < 1:
            return None
        at = after
        while True:
            begin = self._in_hours(at, hands)
            if begin is None:
                return None
            moved = max(self._hands_free(begin, hands), self._place_free(begin, hands + holds, resource))
            if moved <= begin + _EDGE:
                return begin
            at = moved

    def fits(self, at: float, hands: float, resource: str, holds: float) -> bool:
        found = self.earliest(at, hands, resource, holds)
        return found is not None and found <= at + _EDGE

    def take(self, at: float, hands: float, resource: str, holds: float) -> None:
        if hands > 0:
            insort(self.hands, (at, at + hands))
        if resource and hands + holds > 0:
            insort(self.held[resource], (at, at + hands + holds))
            self._longest[resource] = max(self._longest[resource], hands + holds)

    def clashes(self, at: float, hands: float, resource: str, holds: float) -> list[str]:
        """Return in words what stands against an operation at a time somebody insists on."""
        said = []
        if hands > 0 and self._in_hours(at, hands) != at:
            said.append("outside the hours")
        if self._hands_free(at, hands) > at + _EDGE:
            said.append("hands are busy")
        if resource and self.places.get(resource, 1) < 1:
            said.append(f"no {resource}")
        elif self._place_free(at, hands + holds, resource) > at + _EDGE:
            said.append(f"no place: {resource}")
        return said

    def held_up(self, after: float, hands: float, resource: str, holds: float, start: float) -> str:
        """Return why what was taken from ``start`` on did not begin at an earlier time: what stood in its way for
        longest."""
        taken = f"every {resource} is taken" if self.places.get(resource, 1) > 1 else f"the {resource} is taken"
        taken += " or out of use" if resource in self._sometimes_out else ""
        lost = {"nobody is there": 0.0, "hands are busy": 0.0, taken: 0.0, LATER_HANDS: 0.0}
        mine, place = (start, start + hands), (start, start + hands + holds)
        for spans, own in ((self.hands, mine), (self.held[resource], place)):
            if own in spans:
                spans.remove(own)
        at = after
        while at < start - _EDGE:
            begin = self._in_hours(at, hands)
            opens = min(start, start if begin is None else begin)
            lost["nobody is there"] += opens - at
            by_hands, by_place = self._hands_free(opens, hands), self._place_free(opens, hands + holds, resource)
            at = max(by_hands, by_place)
            if at <= opens + _EDGE:
                # It could have begun here; what must follow it by the clock could not.
                at = min(start, opens + _STEP_MIN)
                lost[LATER_HANDS] += at - opens
            else:
                lost[taken if by_place > by_hands else "hands are busy"] += at - opens
        if hands > 0:
            insort(self.hands, mine)
        if resource and hands + holds > 0:
            insort(self.held[resource], place)
        return max(lost, key=lambda why: lost[why])

    def _in_hours(self, at: float, hands: float) -> float | None:
        if hands <= 0:
            return at
        for begins, ends in self.windows:
            start = max(at, begins)
            if start + hands <= ends + _EDGE:
                return start
        return None

    def _hands_free(self, at: float, hands: float) -> float:
        if hands <= 0:
            return at
        for begins, ends in self.hands[max(0, bisect_right(self.hands, (at, at)) - 1) :]:
            if begins >= at + hands - _EDGE:
                break
            if ends > at + _EDGE:
                return ends
        return at

    def _place_free(self, at: float, length: float, resource: str) -> float:
        """Return when the resource has a place for the whole length, ``at`` when it has one now."""
        places = self.places.get(resource, 1)
        held = self.held[resource]
        if not resource or length <= 0 or len(held) < places:
            return at
        # Only what begins no earlier than the longest span before, and no later than the end, can reach into it.
        near = held[bisect_left(held, (at - self._longest[resource],)) : bisect_left(held, (at + length - _EDGE,))]
        crossing = [span for span in near if span[1] > at + _EDGE]
        if len(crossing) < places:
            return at
        # Places are full where as many spans overlap; they can only fill at a span's beginning.
        for moment in sorted({at, *(max(at, begins) for begins, _ in crossing)}):
            here = [ends for begins, ends in crossing if begins <= moment + _EDGE and ends > moment + _EDGE]
            if len(here) >= places:
                return min(here)
        return at
