"""What the laboratory has: places in ovens, cylinders, one pair of hands, hours of the day."""

from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta

from vadum.records.hours import WORKING_WEEK, Hours

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
HORIZON_DAYS = 21


@dataclass(frozen=True)
class Limits:
    """Places by resource, hours of hands by day of the week (Monday first), and days on which nobody is there."""

    places: dict[str, int] = field(default_factory=lambda: dict(PLACES))
    week: tuple[Hours, ...] = WORKING_WEEK
    away: frozenset[date] = frozenset()

    def place(self, resource: str) -> int:
        """Return how many a resource takes at once; what is not listed takes one."""
        return self.places.get(resource, 1)

    def windows(self, origin: datetime) -> list[tuple[float, float]]:
        """Return the hours in which hands are there, in minutes after ``origin``, over the horizon.

        ``origin`` carries the laboratory's zone; opening hours are wall-clock times in it, minutes are those that pass:
        where the clock is changed, a day has 23 or 25 hours.
        """
        found = []
        for day in range(HORIZON_DAYS):
            on = origin.date() + timedelta(days=day)
            hours = self.week[on.weekday()]
            if hours is None or on in self.away:
                continue
            begins, ends = (minutes_after(origin, datetime.combine(on, at, origin.tzinfo)) for at in hours)
            if ends > max(0.0, begins):
                found.append((max(0.0, begins), ends))
        return found


def minutes_after(origin: datetime, at: datetime) -> float:
    """Return how many minutes pass from one time to another, whatever their clocks were set to in between."""
    return (at.astimezone(UTC) - origin.astimezone(UTC)).total_seconds() / 60


def clock_at(origin: datetime, minutes: float) -> datetime:
    """Return the time so many minutes after another, on the clock of its zone."""
    return (origin.astimezone(UTC) + timedelta(minutes=minutes)).astimezone(origin.tzinfo)
