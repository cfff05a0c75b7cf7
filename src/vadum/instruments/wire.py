"""Instruments on serial lines: what a laboratory writes down of each, and what they show."""

import threading
import time
from contextlib import suppress
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from vadum.instruments.port import Identity, InstrumentTrouble, Quantity, Sample
from vadum.instruments.wording import Shown, compiled, read_line
from vadum.soil.contract.complaint import complaints
from vadum.soil.numbers.units import UnitError, convert

# A continuous line that says nothing for so long is silent; an answer is awaited a little shorter than the page waits.
_SILENT_S, _ANSWER_S = 2.0, 0.7
_RECONNECT_S = 1.0


class Wire(BaseModel):
    """An instrument on a serial line, as ``wires.toml`` says it.

    Without ``ask`` it writes by itself; with it, it writes one line for each time it is sent. ``rest`` is the word at
    ``{rest}`` of the pattern when the value is at rest.
    """

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=80)
    kind: str = "balance"
    serial: str = ""
    quantity: str = "mass"
    unit: str = "g"
    resolution: float = Field(gt=0)
    low: float = 0.0
    high: float
    calibrated: date | None = None
    certificate: str = ""
    device: str
    baud: int = Field(default=9600, ge=50, le=4_000_000)
    bits: Literal[7, 8] = 8
    parity: Literal["N", "E", "O"] = "N"
    stop: Literal[1, 2] = 1
    pattern: str = "{value} {unit}"
    rest: str = ""
    ask: str = ""
    zero: str = ""

    @field_validator("pattern")
    @classmethod
    def _whole(cls, pattern: str) -> str:
        compiled(pattern)
        return pattern

    @property
    def identity(self) -> Identity:
        quantity = Quantity(
            name=self.quantity, unit=self.unit, resolution=self.resolution, low=self.low, high=self.high
        )
        return Identity(
            name=self.name,
            kind=self.kind,
            serial=self.serial,
            quantities=[quantity],
            calibrated=self.calibrated,
            certificate=self.certificate,
        )


class WiresError(ValueError):
    """A list of wires that cannot be used; the message says what and where."""


def wires_in(path: Path) -> list[Wire]:
    """Read the wires of a laboratory: a TOML file with a table ``[[wire]]`` for each.

    Raises
    ------
    WiresError
        If it is not there, is no TOML, or says what cannot be.
    """
    import tomllib

    try:
        plain = tomllib.loads(path.read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise WiresError(f"{path}: {error}") from error
    found: list[Wire] = []
    for number, one in enumerate(plain.get("wire", []), 1):
        try:
            found.append(Wire.model_validate(one))
        except ValidationError as error:
            said = "; ".join(f"{fault.place}: {fault.message}" for fault in complaints(error))
            raise WiresError(f"{path}, wire {number}: {said}") from error
    if len({wire.name for wire in found}) < len(found):
        raise WiresError(f"{path}: two wires have one name")
    return found


class Wired:
    """An instrument on its line. A thread keeps what it wrote last; a line that broke is opened again."""

    fault = "none"

    def __init__(self, wire: Wire) -> None:
        self.wire, self.identity = wire, wire.identity
        self._line: Any = None
        self._asking = threading.Lock()
        self._last: tuple[Shown, int, float] | None = None
        self._count = 0
        self._odd = ""
        if not wire.ask:
            threading.Thread(target=self._listen, daemon=True).start()

    def sample(self, quantity: str, now: float) -> Sample:
        """Return what it shows, at rest.

        Raises
        ------
        KeyError
            If it does not measure this.
        InstrumentTrouble
            If the line is shut, silent or garbled, the value is not at rest, or its unit is another one.
        """
        if quantity != self.wire.quantity:
            raise KeyError(quantity)
        shown, count = self._asked() if self.wire.ask else self._heard()
        if not shown.at_rest:
            raise InstrumentTrouble(f"{self.wire.name} is not at rest. Wait until it is, then take the reading again.")
        return Sample(
            instrument=self.wire.name,
            quantity=quantity,
            value=self._in_its_unit(shown),
            unit=self.wire.unit,
            tick=None if self.wire.ask else count,
            at=datetime.fromtimestamp(now, UTC),
        )

    def zero(self, quantity: str, now: float) -> None:
        """Send the word that zeroes it.

        Raises
        ------
        InstrumentTrouble
            If it has none, or the line is shut.
        """
        if not self.wire.zero:
            raise InstrumentTrouble(f"{self.wire.name} is zeroed at its own key.")
        with self._asking:
            self._opened().write(_bytes(self.wire.zero))

    def _in_its_unit(self, shown: Shown) -> float:
        if not shown.unit or shown.unit == self.wire.unit:
            return shown.value
        try:
            return convert(shown.value, shown.unit, self.wire.unit)
        except UnitError as error:
            raise InstrumentTrouble(
                f"{self.wire.name} writes {shown.unit}, not {self.wire.unit}. Switch its unit; nothing was taken."
            ) from error

    def _asked(self) -> tuple[Shown, int]:
        with self._asking:
            line = self._opened()
            try:
                line.reset_input_buffer()
                line.write(_bytes(self.wire.ask))
                return self._understood(line.readline()), 0
            except OSError as error:
                self._line = None
                raise self._shut() from error

    def _heard(self) -> tuple[Shown, int]:
        if self._last is None or time.monotonic() - self._last[2] > _SILENT_S:
            if self._odd:
                raise InstrumentTrouble(self._odd)
            raise InstrumentTrouble(f"{self.wire.name} writes nothing. Look whether it is on, and at its cable.")
        return self._last[0], self._last[1]

    def _listen(self) -> None:
        while True:
            try:
                raw = self._opened().readline()
            except (OSError, InstrumentTrouble) as error:
                self._line, self._odd = None, str(error) if isinstance(error, InstrumentTrouble) else str(self._shut())
                time.sleep(_RECONNECT_S)
                continue
            if raw.strip():
                with suppress(InstrumentTrouble):
                    self._last = self._understood(raw), self._count, time.monotonic()
                    self._count, self._odd = self._count + 1, ""

    def _understood(self, raw: bytes) -> Shown:
        if not raw.strip():
            raise InstrumentTrouble(f"{self.wire.name} does not answer. Look whether it is on, and at its cable.")
        shown = read_line(self.wire.pattern, raw.decode("latin-1"), self.wire.rest)
        if shown is None:
            self._odd = (
                f"{self.wire.name} writes “{raw[:40].decode('latin-1').strip()}”, which its pattern does not read."
            )
            raise InstrumentTrouble(self._odd)
        return shown

    def _opened(self) -> Any:
        if self._line is None:
            import serial

            wire = self.wire
            try:
                self._line = serial.Serial(
                    wire.device, wire.baud, wire.bits, wire.parity, wire.stop, timeout=_ANSWER_S, exclusive=True
                )
            except (OSError, ValueError) as error:
                raise self._shut() from error
        return self._line

    def _shut(self) -> InstrumentTrouble:
        return InstrumentTrouble(
            f"The line {self.wire.device} to {self.wire.name} cannot be opened. Look at its cable."
        )


def _bytes(word: str) -> bytes:
    """Return what is sent: a word as written, with ``\\r`` and ``\\n`` for the ends of lines."""
    return word.replace("\\r", "\r").replace("\\n", "\n").encode("latin-1")
