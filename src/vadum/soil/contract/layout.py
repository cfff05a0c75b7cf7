"""How the readings of a method lie: tables with their columns in bench order, single readings, logger files.

Screen, sheet, files and method page walk through the same layout; none of them has an order or a tin rule of its own.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import BaseModel

from vadum.soil.contract.cells import cell_text, choices, logs, singles, tables
from vadum.soil.contract.field import Log, Row, Shown, declared, resolution_of, shown_under, unit_of
from vadum.soil.contract.method import Computed, Method


@dataclass(frozen=True)
class Heading:
    """A reading as it is headed: its key, label, unit, and what else its field declares."""

    key: str
    label: str
    unit: str
    about: str
    resolution: float | None
    choices: Mapping[str, str]
    extra: Mapping[str, Any]

    @property
    def kind(self) -> str:
        if self.choices:
            return "choice"
        return "number" if "unit" in self.extra else "text"

    @property
    def clock(self) -> bool:
        """Whether run mode keeps it and nobody types it."""
        return bool(self.extra.get("clock"))

    def shown_in(self, settings: BaseModel) -> bool:
        """Return whether it is shown in a school."""
        if self.clock:
            return False
        return shown_under(self.extra.get("shown"), settings)

    def read(self, value: Any, blank: Any = None) -> Any:
        """Return what a file for people holds: a number as a number, the label of a choice."""
        return blank if value is None else self.choices.get(value, value)

    def text(self, value: Any) -> str:
        return self.choices.get(value) or cell_text(value, self.resolution)


@dataclass(frozen=True)
class Table:
    """A table of readings: columns in bench order, worked-out columns behind them, no column for what was left out."""

    name: str
    title: str
    model: type[Row]
    columns: tuple[Heading, ...]
    worked: tuple[Computed, ...]
    shown: Shown

    def shown_in(self, settings: BaseModel) -> bool:
        """Return whether it is shown in a school."""
        return shown_under(self.shown, settings)

    def rows(self, readings: Mapping[str, Any], tins: Mapping[str, float]) -> Iterator["KeptRow"]:
        """Yield the rows kept, each with the register's tare where its own is blank."""
        for i, row in enumerate(readings.get(self.name) or []):
            yield KeptRow(f"{self.name}.{i}", row, self.supplied(row, tins))

    def supplied(self, row: Mapping[str, Any], tins: Mapping[str, float]) -> dict[str, float]:
        """Return what the register of tins knows of a row: the tare in the blank cell of a known tin."""
        if "mass_tin_g" in self.model.model_fields and row.get("mass_tin_g") is None and row.get("tin") in tins:
            return {"mass_tin_g": tins[row["tin"]]}
        return {}


@dataclass(frozen=True)
class KeptRow:
    """A row as kept, its path, and what a register supplies to its blanks."""

    path: str
    kept: Mapping[str, Any]
    supplied: Mapping[str, float]

    def value(self, key: str) -> Any:
        own = self.kept.get(key)
        return self.supplied.get(key) if own is None else own

    @property
    def left_out(self) -> str:
        return str(self.kept.get("left_out") or "")


@dataclass(frozen=True)
class LogFile:
    """A logger file: columns of one length."""

    name: str
    title: str
    model: type[Log]
    columns: tuple[Heading, ...]


@dataclass(frozen=True)
class Layout:
    """All readings of a method, and its settings."""

    tables: tuple[Table, ...]
    singles: tuple[Heading, ...]
    order: tuple[str, ...]
    """Names of tables and single readings as they are declared: the order of the bench."""
    logs: tuple[LogFile, ...]
    settings: tuple[Heading, ...]

    def before(self, settings: BaseModel) -> dict[str, str]:
        """Return the table that each single reading is taken before in a school; "" for what comes after all."""
        drawn = {table.name for table in self.tables if table.shown_in(settings)}
        found, following = {}, ""
        for name in reversed(self.order):
            following = name if name in drawn else following
            found[name] = following
        return found


def heading_of(model: type[BaseModel], key: str) -> Heading:
    """Return how a field is headed."""
    info = model.model_fields[key]
    unit = unit_of(model, key)
    return Heading(
        key=key,
        label=info.title or key,
        unit="" if unit == info.title else unit or "",
        about=info.description or "",
        resolution=resolution_of(model, key),
        choices=choices(model, key),
        extra=declared(model, key),
    )


@cache
def layout(method: Method[Any, Any, Any]) -> Layout:
    """Return the layout of a method's readings."""
    model = method.Readings
    single = singles(model)
    return Layout(
        tables=tuple(_table(method, name, row) for name, row in tables(model).items()),
        singles=tuple(heading_of(model, name) for name in single),
        order=tuple(model.model_fields),
        logs=tuple(
            LogFile(name, model.model_fields[name].title or name, log, tuple(heading_of(log, n) for n in log.names()))
            for name, log in logs(model).items()
        ),
        settings=tuple(heading_of(method.Settings, name) for name in method.Settings.model_fields),
    )


def _table(method: Method[Any, Any, Any], name: str, model: type[Row]) -> Table:
    order = method.columns.get(name) or tuple(key for key in model.model_fields if key != "left_out")
    return Table(
        name=name,
        title=method.Readings.model_fields[name].title or name,
        model=model,
        columns=tuple(heading_of(model, key) for key in order),
        shown=heading_of(method.Readings, name).extra.get("shown") or {},
        worked=tuple(column for column in method.computed if column.table == name),
    )
