"""The shape of a sheet as the page's scripts read it; keys go out in the scripts' own spelling."""

from dataclasses import dataclass
from typing import Any, ClassVar

from pydantic import BaseModel, ConfigDict
from pydantic.alias_generators import to_camel

from vadum.soil.contract.derivation import Step as Explained
from vadum.soil.contract.finding import Finding


class Told(BaseModel):
    """Base of what the scripts are told."""

    model_config = ConfigDict(alias_generator=to_camel, populate_by_name=True, defer_build=True)

    def plain(self) -> dict[str, Any]:
        """Return plain data in the scripts' spelling."""
        return self.model_dump(mode="json", by_alias=True)

    def json_text(self) -> str:
        """Return the same as it is sent."""
        return self.model_dump_json(by_alias=True)


class Option(Told):
    """One of the words of a choice: what is kept, and what is read."""

    code: str
    label: str


class Column(Told):
    """What the grid needs to know of a reading."""

    key: str
    label: str
    unit: str
    about: str
    kind: str
    choices: list[Option]
    by: str
    count_to: int | None
    since: str
    measured: bool
    optional: bool
    beside: str
    instead: str
    resolution: float | None
    step: float | None
    expected: str
    hand: str


@dataclass(slots=True)
class Cell:
    """A cell: its text, what is wrong with it, and what is expected or supplied while it is blank.

    A plain class: a record has thousands of them at every key.
    """

    text: str
    error: str = ""
    expected: str = ""
    supplied: bool = False


@dataclass(slots=True)
class Row:
    """A row of a table; ``folds`` rows, of what ``folded`` says, are folded into it when it stands for several."""

    __pydantic_config__: ClassVar = ConfigDict(alias_generator=to_camel)

    path: str
    cells: dict[str, Cell]
    computed: dict[str, str]
    left_out: str
    findings: list[Finding]
    blank: bool
    folds: int = 0
    folded: str = ""


class Worked(Told):
    """The heading of a worked-out column."""

    key: str
    label: str
    unit: str


class Table(Told):
    name: str
    title: str
    columns: list[Column]
    computed: list[Worked]
    rows: list[Row]


class Single(Column):
    """A single reading; ``before`` the first table or after it. ``locks`` is why "no" lets no run begin."""

    path: str
    supplied: bool
    locks: str
    before: str
    pictured: bool
    text: str
    error: str
    findings: list[Finding]


class Log(Told):
    """A logger file: its name and number of rows, never the rows."""

    name: str
    title: str
    file: str
    rows: int


class Part(Told):
    """A result in the strip."""

    symbol: str
    name: str
    text: str
    unit: str


class Verdict(Told):
    """The strip: headline, other results, next action, and how many findings of each kind stand."""

    headline: Part | None
    others: list[Part]
    next: str
    school: str
    complete: bool
    reportable: bool
    stop: int
    warn: int
    note: int


class Drawn(Told):
    """A figure; drawn when it is the one shown. ``by_hand`` are the settings of constructions that a hand moved."""

    key: str
    title: str
    svg: str
    by_hand: list[str]


class Setting(Told):
    name: str
    label: str
    reason: str
    unit: str
    kind: str
    choices: list[Option]
    value: str | bool
    is_default: bool


class SheetView(Told):
    """Readings, findings, verdict, figures and derivation of one sheet."""

    tables: list[Table]
    fields: list[Single]
    logs: list[Log]
    findings: list[Finding]
    verdict: Verdict
    figures: list[Drawn]
    derivation: list[Explained]
    remarks: str
    settings: list[Setting]


class PreviewView(SheetView):
    """A sheet with what is being typed; a page that has heard of a revision since its ``basis`` does not show it."""

    basis: int


class Moving(Told):
    action: str
    needs_reason: bool


class Leaning(Told):
    """A result of another test that this one leans on; ``open`` while nobody has checked it."""

    test: int
    words: str
    open: bool


class Due(Told):
    key: str
    what: str
    due: str
    standing: str
    done_at: str
    cell: str
    said: bool


class RecordView(SheetView):
    """A sheet with the state of its record, and what its run mode needs besides."""

    model_config = ConfigDict(extra="allow")

    test: int | None
    revision: int
    found: str
    state: str
    state_words: str
    locked: bool
    void_reason: str
    checked_by: str
    issued: list[str]
    moves: list[Moving]
    moved: list[str]
    kept: str
    leans: list[Leaning]
    offered: dict[str, Any] | None
    not_named: list[str]
    uses: list[int | None]
    proposed: bool
    bindings: dict[str, Any]
    origins: dict[str, Any]
    due: list[Due]
    clocked: list[str]
    recorded: list[str]
    awaited: list[str]
    clock_started: str
    practice: dict[str, Any] | None
    server_time: str
