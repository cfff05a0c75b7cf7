"""Readings from instruments into cells: which instrument can fill which column, and what it shows now."""

from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from typing import Any

from vadum.instruments.benches import Benches
from vadum.instruments.port import Identity, InstrumentTrouble, Quantity
from vadum.records import practice
from vadum.records.certificates import Known
from vadum.records.tables import Test
from vadum.soil.contract.cells import cell_text, choices, column_of, field_at, singles, tables
from vadum.soil.contract.field import resolution_of, unit_of
from vadum.soil.contract.method import Method
from vadum.soil.numbers.units import UnitError, convert
from vadum.soil.registry import method as method_of

_SEPARATOR = " / "
STAND_IN_REFUSED = (
    "is simulated: what it shows never enters a record. Type the reading, or bind a real instrument under Instruments."
)


def bindable(method: Method[Any, Any, Any]) -> list[dict[str, str]]:
    """Return the columns an instrument can fill, in order, each with the kind of instrument."""
    found = []
    places = [(name, method.Readings, name) for name in singles(method.Readings)]
    places += [
        (f"{table}.{key}", row, key) for table, row in tables(method.Readings).items() for key in row.model_fields
    ]
    for column, model, name in places:
        extra = model.model_fields[name].json_schema_extra
        kind = extra.get("instrument") if isinstance(extra, dict) else None
        if kind:
            title = model.model_fields[name].title or name
            found.append({"column": column, "label": title, "unit": unit_of(model, name) or "", "kind": str(kind)})
    return found


def offers(column: dict[str, str], identities: list[Identity], holding: Sequence[float] = ()) -> list[str]:
    """Return the bindings (instrument and quantity) that can fill a column; ``holding`` are values that must be in
    range."""
    return [
        f"{identity.name}{_SEPARATOR}{quantity.name}"
        for identity in identities
        if identity.kind.startswith(column["kind"])
        for quantity in _of_that_name(identity, column) or identity.quantities
        if _fits(quantity, column) and all(_in_range(quantity, value, column["unit"]) for value in holding)
    ]


def _of_that_name(identity: Identity, column: dict[str, str]) -> list[Quantity]:
    """Return the quantities called as the column is: of two in one unit, latitude is not longitude."""
    words = set(column["column"].split(".")[-1].split("_"))
    return [quantity for quantity in identity.quantities if quantity.name in words]


def usual_bindings(method: Method[Any, Any, Any], identities: list[Identity], expected: Any) -> dict[str, str]:
    """Return a binding for every column that has one: fine masses to fine balances, equal gauges one after another, and
    each to an instrument whose range holds the readings ``expected``."""
    bound: dict[str, str] = {}
    for column in bindable(method):
        offered = offers(column, identities, _values(expected, column["column"]))
        model, name = field_at(method.Readings, column["column"].replace(".", ".0.", 1))
        step = resolution_of(model, name)
        if column["kind"] == "balance" and (step or 1) > 0.01:
            offered = offered[::-1]
        free = [offer for offer in offered if offer not in bound.values()] if column["kind"] == "dial gauge" else []
        if offered:
            bound[column["column"]] = (free or offered)[0]
    return bound


def _values(readings: Any, column: str) -> list[float]:
    """Return the numbers in a column of readings, or the one taken once."""
    table, _, name = column.partition(".")
    found = [getattr(row, name) for row in getattr(readings, table)] if name else [getattr(readings, table)]
    return [value for value in found if isinstance(value, int | float)]


def _in_range(quantity: Quantity, value: float, unit: str) -> bool:
    return quantity.low <= _converted(value, unit, quantity.unit) <= quantity.high


def _fits(quantity: Quantity, column: dict[str, str]) -> bool:
    if quantity.name in column["column"].split(".")[-1].split("_") or column["unit"] == quantity.unit:
        return True
    try:
        convert(1.0, quantity.unit, column["unit"])
    except UnitError:
        return False
    return bool(column["unit"])


class Taking:
    """Takes readings for one test; what cannot be had is told by path, and nothing of it is kept.

    ``simulated`` says whether stand-ins may fill its cells: in a demonstration, and in practice, which is no record.
    ``registered`` is what the register knows of an instrument by its name.
    """

    def __init__(
        self, test: Test, line: Benches, *, simulated: bool, registered: Callable[[str], Known | None] = lambda _: None
    ) -> None:
        self.test, self.line, self.simulated, self.registered = test, line, simulated, registered
        self.method = method_of(test.method)
        self.cells: dict[str, str] = {}
        self.origins: dict[str, dict[str, Any]] = {}
        self.troubles: dict[str, str] = {}

    def take(self, path: str, minutes: float | None) -> None:
        """Take one reading, ``minutes`` after the start of the test's clock where that matters.

        Raises
        ------
        UnknownCell
            If the path names no reading.
        """
        model, name = field_at(self.method.Readings, path)
        bound = self.test.bindings.get(column_of(path), "")
        try:
            shown = practice.shown_by_bench(self.test, path, minutes) if self.test.practice else None
            if self.test.practice and shown is None:
                raise InstrumentTrouble("The virtual bench shows nothing here: leave it, or type what you judge.")
            if bound:
                self._from_instrument(path, bound, unit_of(model, name) or "", shown)
            elif shown is not None:
                self.cells[path] = str(shown) if choices(model, name) else cell_text(shown, resolution_of(model, name))
            else:
                raise InstrumentTrouble(
                    "No instrument is bound to this column. Choose one under Instruments, or type the reading."
                )
        except InstrumentTrouble as trouble:
            self.troubles[path] = str(trouble)

    def _from_instrument(self, path: str, bound: str, unit: str, shown: Any) -> None:
        name, _, quantity = bound.partition(_SEPARATOR)
        remote = self.line.instrument(name)
        identity = remote.identify()
        if identity.stand_in and not self.simulated:
            raise InstrumentTrouble(f"{name} {STAND_IN_REFUSED}")
        measured = identity.quantity(quantity)
        if measured is None:
            raise InstrumentTrouble(f"{name} does not measure {quantity}. Choose another under Instruments.")
        if isinstance(shown, int | float):
            remote.present(quantity, [0.0], [_converted(float(shown), unit, measured.unit)])
        sample = remote.read(quantity)
        step = abs(_converted(measured.resolution, measured.unit, unit))
        known = self.registered(name)
        own = Known(identity.calibrated, identity.certificate)
        calibration = known if known and known.calibrated else own
        self.cells[path] = cell_text(round(_converted(sample.value, measured.unit, unit), 9), step)
        self.origins[path] = {
            "instrument": name,
            "serial": identity.serial,
            "calibrated": calibration.calibrated.isoformat() if calibration.calibrated else "",
            "certificate": calibration.certificate,
            "at": datetime.now(UTC).isoformat(timespec="seconds"),
        }
        if known and known.why_not:
            self.origins[path]["out_of_date"] = known.why_not
        if identity.stand_in:
            self.origins[path]["simulated"] = "yes"


def _converted(value: float, unit: str, wanted: str) -> float:
    """Return a value in the column's unit; a column without a unit takes the instrument's own scale."""
    return value if unit == wanted or not wanted or not unit else convert(value, unit, wanted)
