"""The contract every test method keeps."""

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar, Generic, Literal, TypeVar

import numpy as np
from pydantic import BaseModel, Field

from vadum.soil.contract.field import Applies, Context, Readings, Settings, Shown
from vadum.soil.contract.finding import Doubt
from vadum.soil.contract.limit import Limit
from vadum.soil.contract.neighbours import Relation
from vadum.soil.contract.pipeline import reduced
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Result
from vadum.soil.contract.rows import Parts
from vadum.soil.physics.published import formula_of

R = TypeVar("R", bound=Readings)
S = TypeVar("S", bound=Settings)
C = TypeVar("C", bound=Context)

# Closes every method's cautions.
DEFER = "Follow the laboratory's own rules and the local code; a licensed engineer decides what the result is used for."


class ProcedureStep(BaseModel):
    """One step of the procedure, tied to the readings it fills."""

    text: str
    readings: list[str] = []


class Operation(BaseModel):
    """A timed operation: due so many minutes after the start, with a tolerance and what to do.

    ``after`` names the operation it counts from, so that it moves when that one was early or late; the one before it
    when None. ``holds_min`` is how long the resource is held unattended. ``done`` and ``at`` are what the readings say,
    ``cell`` is the reading that fills it: then only the reading says that it is done, unless ``by_word``, for what the
    hand does some time before that reading can be taken.
    """

    key: str
    what: str
    due_min: float
    tolerance_min: float
    hands_on_min: float = 0
    resource: str = ""
    after: str | None = None
    holds_min: float = 0
    done: bool = False
    at: datetime | None = None
    cell: str = ""
    by_word: bool = False

    @property
    def said(self) -> bool:
        """Whether a person's word is enough that it is done."""
        return self.by_word or not self.cell


class SoilNeed(BaseModel):
    """Soil a test takes from its sample, g as received, and what becomes of it."""

    mass_g: float
    spent: bool
    note: str = ""


class Computed(BaseModel):
    """A worked-out column of a table: its place, heading, unit and decimals."""

    table: str
    key: str
    label: str
    unit: str = ""
    decimals: int = 1

    def text(self, value: float | str | None, more: int = 0) -> str:
        """Return a worked-out cell as shown, with ``more`` decimals for files."""
        if value is None or isinstance(value, str):
            return value or ""
        return f"{value:z.{self.decimals + more}f}"


class SourceNote(BaseModel):
    """An equation for the method page: what it gives, how it reads, where it stands."""

    gives: str
    equation: str
    source: str

    @classmethod
    def of(cls, relation: Callable[..., Any]) -> "SourceNote":
        """Return the note of a published relation."""
        formula = formula_of(relation)
        return cls(gives=formula.gives, equation=formula.equation, source=formula.source)


CurveKind = Literal["", "coarse grading", "fine grading", "strength profile"]
GRADINGS: tuple[CurveKind, CurveKind] = ("coarse grading", "fine grading")


@dataclass(frozen=True)
class Before:
    """An operation of another method that must be begun before one of this method, and why."""

    method: str
    begun: str
    operation: str
    why: str


@dataclass(frozen=True)
class TakesWater:
    """Results that say how fast one place takes water, mm/h: the first of them that a test gives, at 20 degrees first.

    ``table`` and ``word`` are where a test of several places has them, and what one of them is called; their results
    end in the number of the place.
    """

    kind: Literal["conductivity", "infiltration"]
    results: tuple[str, ...]
    table: str = ""
    word: str = ""


class Method(ABC, Generic[R, S, C]):
    """A test method. One module or package per method; see docs/add-a-method.md."""

    code: ClassVar[str]
    title: ClassVar[str]
    known_as: ClassVar[tuple[str, ...]]
    """Other words by which people look for it, in small letters."""
    place: ClassVar[int]
    """Place among the methods in lists, from index tests to tests in the ground."""
    mark: ClassVar[str] = ""
    """What stands for the test beside its sample's pin in the ground column."""
    curve_is: ClassVar[CurveKind] = ""
    """What ``Reduction.curve`` is, for other tests, cards and figures of a site."""
    includes: ClassVar[tuple[str, ...]] = ()
    """Methods whose results of the same quantities stand in this one's: of one sample only this one's are counted."""
    mapped_as: ClassVar[Literal["", "bearing", "infiltration"]] = ""
    """The map of a site on which the headline stands at the test's position."""
    takes_water: ClassVar[TakesWater | None] = None
    """What the page of a site's infiltration takes of the test."""
    limits_asked: ClassVar[tuple[Limit, ...]] = ()
    """Results that the project's limits, among the settings, are held against."""
    inspects: ClassVar[str] = ""
    """The kind of equipment that the test inspects."""
    made_with: ClassVar[dict[str, Shown]] = {}
    """Kinds of equipment beside those that the readings name, and under which settings: ``{}`` always."""
    waits_for: ClassVar[tuple[Before, ...]] = ()
    """What must be begun before an operation of this test, within a sample."""
    version: ClassVar[str] = "1"
    basis: ClassVar[tuple[str, ...]]
    applies_to: ClassVar[Applies] = "sample"
    run_together: ClassVar[int] = 1
    """How many tests of this method one run mode can carry at once."""
    parts: ClassVar[Parts | None] = None
    """Specimens or places of the test that stand in a table of their own and may be left out whole."""
    folds: ClassVar[dict[str, str]] = {}
    """Long tables by the column whose runs of one value are folded on the worksheet, all but the one in hand."""
    limits: ClassVar[tuple[str, ...]] = ()
    """What the test cannot say; printed on every sheet."""
    clocked: ClassVar[tuple[str, ...]] = ()
    """Readings that the method's own run mode fills by its clock, and that end it: not one after the other."""
    followed_at: ClassVar[float] = 600
    """How many times as fast as on a real bench its clock can be followed in practice."""
    recorded: ClassVar[tuple[str, ...]] = ()
    """Tables that the instruments of a frame fill row after row, while no hand is at the specimen."""
    set_up: ClassVar[tuple[str, ...]] = ()
    """Readings that are asked before a run in the ground may begin, in the order of the hand."""
    headline: ClassVar[tuple[str, ...]]
    results: ClassVar[tuple[Result, ...]]
    """Every result the method can give, in the order in which cards and glossaries show them."""
    findings: ClassVar[tuple[Doubt, ...]]
    """Every finding the method can come to of its own."""
    neighbours: ClassVar[tuple[Relation, ...]] = ()
    """What holds between readings; the pipeline asks about those that break it."""
    reported_as_found: ClassVar[bool] = False
    """An inspection is reported whatever it finds: a stop is its result, not a fault of it."""
    computed: ClassVar[tuple[Computed, ...]] = ()
    columns: ClassVar[dict[str, tuple[str, ...]]] = {}
    """Columns of each table in bench order, where that is not the order of the row model's fields."""
    equations: ClassVar[tuple[SourceNote, ...]] = ()
    steps: ClassVar[tuple[ProcedureStep, ...]]
    cautions: ClassVar[tuple[str, ...]]
    mistakes: ClassVar[dict[str, str]] = {}

    Readings: type[R]
    Settings: type[S]
    Context: type[C]

    @abstractmethod
    def work_out(self, readings: R, settings: S, context: C) -> Reduction:
        """Return what the readings say so far. Pure, deterministic, never raises for a missing reading."""

    def reduce(self, readings: R, settings: S, context: C, unread: Mapping[str, str] | None = None) -> Reduction:
        """Return what the readings say so far, judged, with what to do next; ``unread`` are texts in cells, by path,
        that are no readings."""
        return reduced(self, readings, settings, context, unread or {})

    @abstractmethod
    def timetable(self, readings: R, settings: S) -> list[Operation]:
        """Return the timed operations of the test."""

    def begin(self, settings: S, largest_particle_mm: float | None) -> dict[str, Any]:
        """Return the readings a new test starts with, as plain data: rows the hand would otherwise prepare."""
        return {}

    def replanned(self, readings: dict[str, Any], before: S, after: S) -> dict[str, Any]:
        """Return the readings of a test under other settings, as plain data: rows that nobody has read yet, anew.

        What was read, and its place, never changes.
        """
        return readings

    def soil_needed(self, settings: S, largest_particle_mm: float | None) -> SoilNeed | None:
        """Return how much soil the test takes from its sample; None when it takes none of its own."""
        return None

    def loaded_area_m2(self, settings: S) -> float | None:
        """Return the area that a force typed for a pressure acts on, m²; None where there is no such area."""
        return None

    def run_view(self, readings: R, settings: S, context: C) -> dict[str, Any]:
        """Return what run mode needs beside the reduction, as plain data; nothing by default."""
        return {}

    @abstractmethod
    def virtual(self, soil: Any, settings: S, rng: np.random.Generator, mistakes: frozenset[str] = frozenset()) -> R:
        """Return believable readings of a soil whose truth is known, with named operator mistakes on request."""

    def truth(self, soil: Any, settings: S) -> dict[str, float]:
        """Return the true values of a virtual soil by the keys of the parameters that should find them."""
        return {}

    def at_time(self, hidden: R, so_far: R, path: str, minutes: float) -> float | None:
        """Return what a cell would show so many minutes after the start of the clock it runs on.

        ``hidden`` are the virtual soil's readings, ``so_far`` what stands on the sheet. None, the default, for a
        reading that does not change while it is waited for.
        """
        return None

    @abstractmethod
    def a_soil(self, rng: np.random.Generator) -> Any:
        """Return a random believable soil for :meth:`virtual`."""

    def reduce_raw(
        self, readings: Any, settings: Any = None, context: Any = None, unread: Mapping[str, str] | None = None
    ) -> Reduction:
        """Validate plain data and reduce it, with texts in cells that are no readings.

        Raises
        ------
        pydantic.ValidationError
            If a part is not what the method's models take.
        """
        return self.reduce(
            self.Readings.model_validate(readings or {}),
            self.Settings.model_validate(settings or {}),
            self.Context.model_validate(context or {}),
            unread,
        )

    def plant(self, mistakes: frozenset[str]) -> frozenset[str]:
        """Return ``mistakes`` if all are known to this method.

        Raises
        ------
        ValueError
            Naming the unknown mistake and the known ones.
        """
        if unknown := mistakes - self.mistakes.keys():
            known = ", ".join(sorted(self.mistakes))
            raise ValueError(f"{self.code} knows no mistake “{sorted(unknown)[0]}”; it knows {known}")
        return mistakes


class Description(BaseModel):
    """What ``vadum methods --json`` prints for one method."""

    code: str
    title: str
    version: str
    basis: list[str]
    readings: dict[str, Any] = Field(description="JSON Schema of the readings")
    settings: dict[str, Any] = Field(description="JSON Schema of the settings")
    context: dict[str, Any] = Field(description="JSON Schema of the context")
    mistakes: dict[str, str]


def describe(method: Method[Any, Any, Any]) -> Description:
    return Description(
        code=method.code,
        title=method.title,
        version=method.version,
        basis=list(method.basis),
        readings=method.Readings.model_json_schema(),
        settings=method.Settings.model_json_schema(),
        context=method.Context.model_json_schema(),
        mistakes=method.mistakes,
    )
