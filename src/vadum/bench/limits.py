"""What the laboratory has: places in ovens, cylinders, one pair of hands, hours of the day."""

from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta

from vadum.records.hours import WORKING_WEEK, Hours
from vadum.records.resources import PLACES, OutOfUse

HORIZON_DAYS = 21


@dataclass(frozen=True)
class Limits:
    """Places by resource, hours of hands by day of the week (Monday first), days on which nobody is there, and what is
    out of use on which days."""

    places: dict[str, int] = field(default_factory=lambda: dict(PLACES))
    week: tuple[Hours, ...] = WORKING_WEEK
    away: frozenset[date] = frozenset()
    out: tuple[OutOfUse, ...] = ()

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

    def out_of_use(self, origin: datetime) -> list[tuple[str, float, float]]:
        """Return the resource and the time, in minutes after ``origin``, of every place that is out of use."""
        found = []
        for one in self.out:
            days = (one.first, one.last + timedelta(days=1))
            begins, ends = (minutes_after(origin, datetime.combine(on, time(), origin.tzinfo)) for on in days)
            if ends > 0:
                found += (one.places or self.place(one.resource)) * [(one.resource, max(0.0, begins), ends)]
        return found


def minutes_after(origin: datetime, at: datetime) -> float:
    """Return how many minutes pass from one time to another, whatever their clocks were set to in between."""
    return (at.astimezone(UTC) - origin.astimezone(UTC)).total_seconds() / 60


def clock_at(origin: datetime, minutes: float) -> datetime:
    """Return the time so many minutes after another, on the clock of its zone."""
    return (origin.astimezone(UTC) + timedelta(minutes=minutes)).astimezone(origin.tzinfo)
