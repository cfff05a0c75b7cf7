"""The port: what Vadum asks of any instrument, and how an instrument's trouble is said."""

from collections.abc import Iterator
from datetime import date, datetime
from typing import Protocol

from pydantic import BaseModel, ConfigDict


class Quantity(BaseModel):
    """Something an instrument measures, within a range and to a smallest step, in one unit."""

    name: str
    unit: str
    resolution: float
    low: float
    high: float


class Identity(BaseModel):
    """What an instrument says it is. What it says of its calibration goes with every reading taken from it, where the
    laboratory's register knows no better."""

    name: str
    kind: str
    serial: str = ""
    quantities: list[Quantity]
    calibrated: date | None = None
    certificate: str = ""
    stand_in: bool = False

    def quantity(self, name: str) -> Quantity | None:
        return next((q for q in self.quantities if q.name == name), None)


class Sample(BaseModel):
    """One value an instrument shows. ``tick`` counts its own conversions: one that stands still has frozen; None where
    it does not count."""

    model_config = ConfigDict(allow_inf_nan=False)

    instrument: str
    quantity: str
    value: float
    unit: str
    tick: int | None = None
    at: datetime


class InstrumentTrouble(Exception):
    """An instrument that cannot be believed now: the reading is refused, in words, with what to do."""


class Instrument(Protocol):
    """One instrument. Every call may raise :class:`InstrumentTrouble`."""

    def identify(self) -> Identity: ...

    def read(self, quantity: str) -> Sample: ...

    def zero(self, quantity: str) -> None: ...

    def stream(self, quantity: str) -> Iterator[Sample]: ...


def within_range(identity: Identity, sample: Sample) -> Sample:
    """Return the sample if the instrument can show such a value.

    Raises
    ------
    InstrumentTrouble
        If the quantity or unit is not the instrument's, or the value lies outside its range.
    """
    quantity = identity.quantity(sample.quantity)
    if quantity is None or quantity.unit != sample.unit:
        raise InstrumentTrouble(
            f"{identity.name} answers with {sample.quantity} in {sample.unit}, which it does not measure. Look at its"
            " settings."
        )
    if not quantity.low <= sample.value <= quantity.high:
        raise InstrumentTrouble(
            f"{identity.name} shows {sample.value:g} {sample.unit}, outside its range {quantity.low:g} to"
            f" {quantity.high:g}. Unload it, zero it, read again."
        )
    return sample
