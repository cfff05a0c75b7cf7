"""Fields of readings and settings: every one carries its label, unit, resolution and bounds."""

import re
from collections.abc import Mapping, Sequence
from functools import cache
from typing import Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationInfo, field_validator, model_validator

from vadum.soil.numbers.entry import EntryError, parse_entry, words_typed

MOST_LOGGED = 200_000
# Control characters and halves of signs: no file of ours could hold them.
_UNSTORABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufffe\uffff\ud800-\udfff]")
Shown = Mapping[str, Sequence[str | bool]]
REQUIRED, HARMLESS = "required", "harmless"
"""What a blank means: without it there is no result, or nothing depends on it."""


def reading(
    label: str,
    unit: str | None = None,
    *,
    about: str = "",
    low: float | None = None,
    high: float | None = None,
    resolution: float | None = None,
    expected: tuple[float, float] | None = None,
    usual: tuple[float, float] | None = None,
    absent: str = "",
    beside: str = "",
    instead: str = "",
    piece: bool = False,
    shown: Shown | None = None,
    hand: Literal["row", "down"] | None = None,
    instrument: str | None = None,
    by: Literal["stopwatch", "count"] | None = None,
    count_to: int | None = None,
    since: str | None = None,
    step: str | None = None,
    also: tuple[str, ...] = (),
) -> Any:
    """Declare one reading, unknown until it is taken.

    Arguments
    ---------
    label : heading of the column, in the field's words
    unit : unit of the number; None for words (a tin number, a remark)
    low, high : hard bounds; beyond them it cannot be a reading at all
    resolution : smallest step the instrument shows
    expected : range a reading normally falls in, shown beside an empty cell
    usual : range outside which the technician is asked whether unit and column are right
    absent : what a blank means: :data:`REQUIRED`, :data:`HARMLESS`, or what follows from it (``20 °C assumed``)
    piece : a piece of equipment brings it: the register may hold it, fills a blank, contradicts what is typed
    beside, instead : readings of the same row: the blank matters only where ``beside`` is filled and ``instead`` is not
    shown : only under these settings, e.g. ``{"school": ["one-point"]}``
    hand : where the hand goes after this cell: to the next row's start, or down the column; else to the right
    by, count_to : run mode offers a stopwatch, or a key to count with, up to so many
    since : minutes since this operation of the timetable was done; run mode proposes them
    step : setting that says by how much it grows from row to row
    instrument : kind of instrument that can fill it; a mass in g is weighed without saying so
    also : other headings under which laboratories keep the column
    """
    weighed = "balance" if unit == "g" else None
    extra: dict[str, Any] = {
        "unit": unit,
        "resolution": resolution,
        "expected": expected,
        "usual": usual,
        "absent": absent or None,
        "piece": piece or None,
        "beside": beside or None,
        "instead": instead or None,
        "shown": shown,
        "hand": hand,
        "instrument": instrument or weighed,
        "by": by,
        "count_to": count_to,
        "since": since,
        "step": step,
        "also": list(also) or None,
    }
    return Field(
        default=None,
        title=label,
        description=about or None,
        ge=low,
        le=high,
        json_schema_extra={key: value for key, value in extra.items() if value is not None},
    )


def answer(label: str, about: str, *, absent: str = HARMLESS, locks: str = "", shown: Shown | None = None) -> Any:
    """Declare what is chosen from words.

    Arguments
    ---------
    absent, shown : what a blank means and where it is asked, as of a :func:`reading`
    locks : why a run may not begin after "no", with what to do first; "" where it may
    """
    extra: dict[str, Any] = (
        {"absent": absent} | ({"locks": locks} if locks else {}) | ({"shown": shown} if shown else {})
    )
    return Field(default=None, title=label, description=about or None, json_schema_extra=extra)


def services_located(
    label: str = "services located",
    about: str = "no cable or pipe where something is driven, dug or loaded",
    *,
    absent: str = HARMLESS,
) -> Any:
    """Declare the question before anything is driven, dug or loaded."""
    first = "Have cables and pipes located first: by the owner's plans, a locator, or a dug trench."
    return answer(label, about, absent=absent, locks=first)


def remark(label: str, about: str = "", *, longest: int = 400, also: tuple[str, ...] = ()) -> Any:
    """Declare a reading that is words."""
    extra: dict[str, Any] | None = {"also": list(also)} if also else None
    return Field(default=None, title=label, description=about or None, max_length=longest, json_schema_extra=extra)


def clock_reading(label: str, about: str) -> Any:
    """Declare a time that run mode keeps for its clock and nobody types; the worksheet does not show it."""
    return Field(default=None, title=label, description=about, json_schema_extra={"clock": True})


def setting(
    default: Any,
    label: str,
    reason: str,
    *,
    unit: str | None = None,
    low: float | None = None,
    high: float | None = None,
    followed: tuple[float | None, float | None] | None = None,
) -> Any:
    """Declare a setting with its default and the reason for it; ``followed`` is between what the standards of its
    method have it: a sheet that sets it otherwise says so beside their names."""
    extra: dict[str, Any] = {"unit": unit, "followed": list(followed) if followed else None}
    return Field(
        default=default,
        title=label,
        description=reason,
        ge=low,
        le=high,
        json_schema_extra={name: value for name, value in extra.items() if value} or None,
    )


@cache
def declared(model: type[BaseModel], name: str) -> dict[str, Any]:
    """Return what a field declares for our own use, beyond its kind and limits; known once for each is enough, for it
    is asked of every reading that is no plain number."""
    extra = model.model_fields[name].json_schema_extra
    return extra if isinstance(extra, dict) else {}


def unit_of(model: type[BaseModel], name: str) -> str | None:
    """Return the unit a field declares, None when it is not a quantity."""
    return declared(model, name).get("unit")


def resolution_of(model: type[BaseModel], name: str) -> float | None:
    """Return the smallest step of the instrument behind a field, None when it declares none."""
    return declared(model, name).get("resolution")


class Entered(BaseModel):
    """Base of everything a person enters: no unknown keys, no NaN, numbers may be typed with a unit."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, defer_build=True)

    @field_validator("*", mode="before")
    @classmethod
    def _typed(cls, value: Any, info: ValidationInfo) -> Any:
        if value is None or value.__class__ is float:
            return value
        if isinstance(value, str) and (bad := _UNSTORABLE.search(value)):
            raise ValueError(f"holds a sign that cannot be kept (U+{ord(bad[0]):04X}); type it again")
        unit = unit_of(cls, info.field_name or "")
        if unit is None:
            return words_typed(value) if isinstance(value, str) else value
        if isinstance(value, bool):
            raise ValueError(f"true and false are not readings in {unit}")
        if isinstance(value, str):
            if not value.strip():
                return None
            try:
                return parse_entry(value, unit)
            except EntryError as error:
                raise ValueError(str(error)) from error
        return value


def shown_only(shown: Shown) -> Any:
    """Return what a field of the readings declares whose table is shown only under these settings."""
    return {"shown": shown}


def shown_under(shown: Shown | None, settings: BaseModel) -> bool:
    """Return whether what is shown only under some settings is shown under these."""
    return all(getattr(settings, name) in allowed for name, allowed in (shown or {}).items())


def also_named(model: type[BaseModel], name: str) -> list[str]:
    """Return other headings under which laboratories keep a field."""
    names: list[str] = declared(model, name).get("also", [])
    return names


def instrument_of(model: type[BaseModel], name: str) -> str | None:
    """Return the kind of instrument that can fill a field, None when a hand does."""
    return declared(model, name).get("instrument")


class Readings(Entered):
    """Raw readings as written at the bench."""

    remarks: str | None = remark("remarks", "what whoever reads the sheet should know", longest=2000)


class Row(Entered):
    """One line of a table of readings.

    A row is used, or an attempt (made to find the way, never meant to count: no fault of it is told), or left out with
    a reason: it is kept on record and not used.
    """

    left_out: str | None = remark("left out because", "reason for leaving this row out; empty when it is used")

    @property
    def used(self) -> bool:
        return not self.left_out

    @property
    def attempted(self) -> bool:
        """Whether it is an attempt by what stands in it."""
        return False

    @property
    def empty(self) -> bool:
        return not any(value is not None for value in self.__dict__.values())


class Log(BaseModel):
    """Columns of a logger file, each a list of the same length: thousands of rows that nobody types or leaves out."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, defer_build=True)

    file: str = Field(default="", title="file", description="name of the file it came from", max_length=200)

    @model_validator(mode="after")
    def _even(self) -> "Log":
        lengths = {len(column) for column in self.columns().values()}
        if len(lengths) > 1:
            raise ValueError("the columns of a logger file must be of one length")
        if lengths and max(lengths) > MOST_LOGGED:
            raise ValueError(f"a logger file holds at most {MOST_LOGGED} rows")
        return self

    @classmethod
    def names(cls) -> list[str]:
        return [name for name in cls.model_fields if name != "file"]

    def columns(self) -> dict[str, list[float]]:
        return {name: getattr(self, name) for name in self.names()}

    def __len__(self) -> int:
        return len(next(iter(self.columns().values()), []))


class Settings(Entered):
    """School and constants of a method, with defaults chosen and documented."""


class Leant(BaseModel):
    """A value another test or a person supplies, with its source. A bare number in a file counts as assumed."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, defer_build=True)

    value: float
    source: str = "assumed"


Filled = TypeVar("Filled", bound=BaseModel)


def leant(of: str, about: str) -> Any:
    """Declare a value that another test of the sample supplies, by method and parameter: ``compaction.cbr``."""
    return Field(default=None, description=about, json_schema_extra={"of": of})


def curve_of(method: str, about: str) -> Any:
    """Declare the curve that a test of another method of the sample supplies."""
    return Field(default=None, description=about, json_schema_extra={"of": method})


def said(of: str, text: str, about: str) -> Any:
    """Declare whether another test of the sample gives a parameter as these words; as any words for ""."""
    return Field(default=False, description=about, json_schema_extra={"of": of, "text": text})


def source_of(model: type[BaseModel], name: str) -> tuple[str, str]:
    """Return method and parameter that a field of a context is supplied by; empty where none is."""
    method, _, key = str(declared(model, name).get("of", "")).partition(".")
    return method, key


class Supplied(BaseModel):
    """Constants of a piece of equipment, by the names of the readings they fill where these are left blank."""

    by: str
    values: dict[str, float]

    def fill(self, readings: Filled) -> Filled:
        """Return the readings with the constants in their blanks."""
        blank = {name: value for name, value in self.values.items() if getattr(readings, name, 0.0) is None}
        return readings.model_copy(update=blank) if blank else readings

    def differing(self, readings: BaseModel) -> dict[str, float]:
        """Return the constants against which something else is typed, beyond one percent."""
        typed = {name: getattr(readings, name, None) for name in self.values}
        return {
            name: own
            for name, own in self.values.items()
            if (t := typed[name]) is not None and abs(t - own) > 0.01 * abs(own)
        }


class OutOfDate(BaseModel):
    """A piece of equipment in use whose calibration does not cover the test's day, and why."""

    name: str
    why: str


class InTwo(BaseModel):
    """Two pieces of equipment in use that would fill the same blanks otherwise, and in what they differ."""

    one: str
    other: str
    what: str


class Differs(BaseModel):
    """A result of another test of the sample that is not the one leant on, and by how much of that it differs."""

    symbol: str
    taken: str
    other: str
    percent: float


class Context(BaseModel):
    """What a reduction leans on beside its own readings."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, defer_build=True)

    out_of_date: list[OutOfDate] = Field(
        default_factory=list, description="equipment in use whose calibration does not cover the test's day"
    )
    in_two: list[InTwo] = Field(
        default_factory=list, description="pieces in use that differ in what a blank would be filled with"
    )
    differing: list[Differs] = Field(
        default_factory=list, description="results of other tests of the sample that contradict what is leant on"
    )
    tins_elsewhere: dict[str, str] = Field(
        default_factory=dict, description="running tests in which a tin of this one holds soil too, by number"
    )
    guarded: bool = Field(
        default=False, description="whether the project accepts a limit only with the uncertainty to spare"
    )
    supplied: Supplied | None = Field(
        default=None, description="constants of a piece in use, by the names of the readings they fill"
    )
    also_supplied: list[Supplied] = Field(
        default_factory=list, description="constants of further pieces in use, for what is blank still"
    )

    @property
    def brought(self) -> list[Supplied]:
        """The constants that the register knows of the pieces in use; those of the first fill a blank first."""
        return ([self.supplied] if self.supplied else []) + self.also_supplied

    def pieces(self) -> list[Supplied]:
        """Return the constants of the equipment in use."""
        return self.brought

    @field_validator("*", mode="before")
    @classmethod
    def _bare_number(cls, value: Any, info: ValidationInfo) -> Any:
        field = cls.model_fields[info.field_name or ""]
        if field.annotation == Leant | None and isinstance(value, int | float) and not isinstance(value, bool):
            return {"value": value}
        return value


Applies = Literal["sample", "location", "equipment"]
