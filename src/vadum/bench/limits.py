"""What the laboratory has: places in ovens, cylinders, one pair of hands, hours of the day."""

from dataclasses import dataclass, field
from datetime import datetime, time, timedelta

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
}
HORIZON_DAYS = 21


@dataclass(frozen=True)
class Limits:
    """Places by resource, hours of the day, days of the week on which hands are there (Monday is 0)."""

    places: dict[str, int] = field(default_factory=lambda: dict(PLACES))
    opens: time = time(8, 0)
    closes: time = time(17, 0)
    days: frozenset[int] = frozenset(range(5))

    def place(self, resource: str) -> int:
        """Return how many a resource takes at once; what is not listed takes one."""
        return self.places.get(resource, 1)

    def windows(self, origin: datetime) -> list[tuple[float, float]]:
        """Return the hours in which hands are there, in minutes after ``origin``, over the horizon.

        ``origin`` carries the laboratory's zone; opening hours are wall-clock times in it.
        """
        found = []
        for day in range(HORIZON_DAYS):
            date = (origin + timedelta(days=day)).date()
            if date.weekday() not in self.days:
                continue
            start, end = (datetime.combine(date, at, origin.tzinfo) for at in (self.opens, self.closes))
            begins, ends = (start - origin).total_seconds() / 60, (end - origin).total_seconds() / 60
            if ends > 0:
                found.append((max(0.0, begins), ends))
        return found
