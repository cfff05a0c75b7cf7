"""Scales: from data to a share of the axis, and the ticks that suit them."""

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from vadum.soil.contract.figure import Axis

_TRANSFORMS: dict[str, Callable[[float], float]] = {
    "linear": lambda value: value,
    "log": lambda value: math.log10(value) if value > 0 else -math.inf,
    "root-time": lambda value: math.sqrt(max(0.0, value)),
}


def _log10(values: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.log10(values, out=np.full(len(values), -np.inf), where=values > 0)


_OF_MANY: dict[str, Callable[[NDArray[np.float64]], NDArray[np.float64]]] = {
    "linear": lambda values: values,
    "log": _log10,
    "root-time": lambda values: np.sqrt(np.maximum(0.0, values)),
}


class Scale:
    """An axis laid along ``start`` to ``end`` in pixels."""

    def __init__(self, axis: Axis, start: float, end: float) -> None:
        self.axis, self.start, self.end = axis, start, end
        self._transform = _TRANSFORMS[axis.scale]
        self._low = self._transform(axis.low)
        self._span = self._transform(axis.high) - self._low

    def __call__(self, value: float) -> float:
        """Return the pixel of a value; values beyond the axis land beyond its ends, never at infinity."""
        share = (self._transform(value) - self._low) / self._span if self._span > 0 else 0.5
        return self.start + min(3.0, max(-2.0, share)) * (self.end - self.start)

    def of_many(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Return the pixels of many values, shape (n,)."""
        if not self._span > 0:
            return np.full(len(values), self(self.axis.low))
        share = (_OF_MANY[self.axis.scale](values) - self._low) / self._span
        return self.start + np.minimum(3.0, np.maximum(-2.0, share)) * (self.end - self.start)

    def ticks(self) -> list[float]:
        """Return the ticks of the axis, its own where given."""
        if self.axis.ticks is not None:
            return [tick for tick in self.axis.ticks if self.axis.low <= tick <= self.axis.high]
        about = max(2, round(abs(self.end - self.start) / 80))
        if self.axis.scale == "log":
            return log_ticks(self.axis.low, self.axis.high)
        if self.axis.scale == "root-time":
            roots = linear_ticks(math.sqrt(max(0.0, self.axis.low)), math.sqrt(self.axis.high), about)
            return [root * root for root in roots]
        return linear_ticks(self.axis.low, self.axis.high, about)


def linear_ticks(low: float, high: float, about: int) -> list[float]:
    """Return round values 1, 2 or 5 times a power of ten apart, roughly ``about`` of them."""
    if not high > low:
        return [low]
    rough = (high - low) / about
    power = 10.0 ** math.floor(math.log10(rough))
    step = next(factor * power for factor in (1, 2, 5, 10) if factor * power >= rough * 0.999)
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    return [round(i * step, 12) for i in range(first, last + 1)]


def log_ticks(low: float, high: float) -> list[float]:
    """Return 1, 2 and 5 of each decade; whole decades only when there are many."""
    first, last = math.floor(math.log10(low)), math.ceil(math.log10(high))
    steps = (1,) if last - first > 4 else (1, 2, 5)
    ticks = [step * 10.0**decade for decade in range(first, last + 1) for step in steps]
    return [float(f"{tick:.6g}") for tick in ticks if low * 0.999 <= tick <= high * 1.001]
