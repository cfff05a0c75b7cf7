"""A simulated instrument: shows a signal that is put before it, with its own drift, noise, steps, range and faults."""

from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Literal, get_args

import numpy as np

from vadum.instruments.port import Identity, Quantity, Sample

Fault = Literal["none", "silent", "garbage", "frozen", "out of range", "drift"]
FAULTS: tuple[str, ...] = get_args(Fault)
_TICKS_PER_S = 10
# A sound instrument creeps by this share of a step an hour, a drifting one by this many steps a minute.
_CREEP_STEPS_PER_H = 0.2
_DRIFT_STEPS_PER_MIN = 30.0
_NOISE_STEPS = 0.3


@dataclass(frozen=True)
class Signal:
    """What is before an instrument: values over minutes of the bench's own time, straight between, held after the
    last."""

    minutes: tuple[float, ...]
    values: tuple[float, ...]

    def at(self, minutes: float) -> float:
        return float(np.interp(minutes, self.minutes, self.values))


STILL = Signal((0.0,), (0.0,))


@dataclass
class StandIn:
    """One simulated instrument. Times are seconds of a clock the caller reads; ``speed`` makes the bench's time
    faster."""

    identity: Identity
    speed: float = 1.0
    fault: Fault = "none"
    noise_steps: float = _NOISE_STEPS
    signals: dict[str, Signal] = field(default_factory=dict)
    began: dict[str, float] = field(default_factory=dict)
    zeros: dict[str, float] = field(default_factory=dict)
    rng: np.random.Generator = field(default_factory=lambda: np.random.default_rng(1))
    held: dict[str, Sample] = field(default_factory=dict)
    drifting_since: float = 0.0

    def present(self, quantity: str, signal: Signal, now: float) -> None:
        """Put a signal before the instrument; its time begins now."""
        self._of(quantity)
        self.signals[quantity], self.began[quantity] = signal, now

    def zero(self, quantity: str, now: float) -> None:
        """Call what it shows now nothing."""
        self.zeros[quantity] = self._raw(self._of(quantity), now)

    def set_fault(self, fault: Fault, now: float) -> None:
        self.fault, self.drifting_since = fault, now
        self.held.clear()

    def sample(self, quantity: str, now: float) -> Sample:
        """Return what it shows now. Silence and garbage are the line's matter, not the instrument's.

        Raises
        ------
        KeyError
            If it does not measure this.
        """
        what = self._of(quantity)
        if self.fault == "frozen" and quantity in self.held:
            return self.held[quantity]
        value = self._raw(what, now) - self.zeros.get(quantity, 0.0)
        value += what.resolution * float(self.rng.normal(0, self.noise_steps)) if self.noise_steps else 0.0
        value += what.resolution * self._crept(now)
        shown = round(round(value / what.resolution) * what.resolution, 9)
        if self.fault == "out of range":
            shown = what.high + 100 * what.resolution
        at = datetime.fromtimestamp(now, UTC)
        sample = Sample(
            instrument=self.identity.name,
            quantity=quantity,
            value=shown,
            unit=what.unit,
            tick=int(now * _TICKS_PER_S),
            at=at,
        )
        self.held[quantity] = sample
        return sample

    def _of(self, quantity: str) -> Quantity:
        found = self.identity.quantity(quantity)
        if found is None:
            raise KeyError(quantity)
        return found

    def _raw(self, what: Quantity, now: float) -> float:
        minutes = (now - self.began.get(what.name, now)) * self.speed / 60.0
        return self.signals.get(what.name, STILL).at(minutes)

    def _crept(self, now: float) -> float:
        if self.fault == "drift":
            return _DRIFT_STEPS_PER_MIN * (now - self.drifting_since) * self.speed / 60.0
        first = min(self.began.values(), default=now)
        return _CREEP_STEPS_PER_H * (now - first) / 3600.0
