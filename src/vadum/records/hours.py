"""The laboratory's hours: from when to when hands are there, by day of the week, the days it is closed, and
those on which a piece of it is out of use."""

from datetime import date, time
from itertools import groupby
from operator import itemgetter
from typing import Any

from pydantic import BaseModel, Field, field_validator
from sqlmodel import Session

from vadum.records.kept_settings import keep_setting, setting
from vadum.records.resources import OutOfUse, out_of_use

Hours = tuple[time, time] | None
"""Of one day of the week: from when to when hands are there; None for nobody."""
WORKING_WEEK: tuple[Hours, ...] = (*5 * ((time(8, 0), time(17, 0)),), None, None)
_KEY = "hours"
DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def span_of(text: str) -> Hours:
    """Return the hours of a day as they are typed, 08:00-17:00; None for a blank, on which nobody is there.

    Raises
    ------
    ValueError
        If it is something else.
    """
    plain = text.replace("\u2013", "-").strip()
    if not plain:
        return None
    try:
        opens, closes = (time.fromisoformat(part.strip().zfill(5)) for part in plain.split("-"))
    except ValueError as error:
        raise ValueError(f"“{text[:20]}”: write hours as 08:00-17:00, or leave the day blank") from error
    if closes <= opens:
        raise ValueError(f"“{text[:20]}” ends before it begins")
    return opens, closes


def days_of(text: str) -> list[date]:
    """Return the days of a text, 2026-12-24 2026-12-25, in any order and however they are set apart.

    Raises
    ------
    ValueError
        Naming the first word that is no day.
    """
    words = text.replace(",", " ").replace(";", " ").split()
    found = set()
    for word in words:
        try:
            found.add(date.fromisoformat(word))
        except ValueError as error:
            raise ValueError(f"“{word[:20]}” is no day: write 2026-12-24") from error
    return sorted(found)


class WorkingHours(BaseModel):
    """Hours by day of the week, Monday first, days on which nobody is there, and what is out of use when."""

    week: tuple[Hours, ...] = Field(default=WORKING_WEEK, min_length=7, max_length=7)
    closed: list[date] = Field(default=[], max_length=400, title="closed on")
    out: list[OutOfUse] = Field(default=[], max_length=100, title="out of use")

    @field_validator("week", mode="before")
    @classmethod
    def _typed(cls, week: Any) -> Any:
        return [span_of(day) if isinstance(day, str) else day for day in week] if isinstance(week, list) else week

    @field_validator("closed", mode="before")
    @classmethod
    def _days(cls, closed: Any) -> Any:
        return days_of(closed) if isinstance(closed, str) else closed

    @field_validator("out", mode="before")
    @classmethod
    def _out(cls, out: Any) -> Any:
        return out_of_use(out) if isinstance(out, str) else out

    @property
    def words(self) -> list[str]:
        """The hours of each day as they are typed."""
        return [f"{day[0]:%H:%M}\u2013{day[1]:%H:%M}" if day else "" for day in self.week]

    @property
    def told(self) -> dict[str, str]:
        """What is chosen as it is typed, by field."""
        week = ", ".join(
            f"{days[0]}–{days[-1]} {words or 'nobody'}" if len(days) > 1 else f"{days[0]} {words or 'nobody'}"
            for words, same in groupby(zip(self.words, DAYS, strict=True), itemgetter(0))
            for days in [[day[:2] for _, day in same]]
        )
        closed = " ".join(day.isoformat() for day in self.closed)
        return {"week": week, "closed": closed, "out": "; ".join(map(str, self.out))}


def hours_of(session: Session) -> WorkingHours:
    """Return the laboratory's hours; a week of five days before anybody set others."""
    kept = setting(session, _KEY)
    return WorkingHours.model_validate_json(kept) if kept else WorkingHours()


def keep_hours(session: Session, hours: WorkingHours) -> None:
    """Plan within these hours from now on, and commit."""
    keep_setting(session, _KEY, hours.model_dump_json())
