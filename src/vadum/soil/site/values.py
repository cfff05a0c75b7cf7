"""Results put in their place: which quantity, where, how deep, of which test."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from vadum.soil.contract.result import Result
from vadum.soil.site.quantities import BY_KEY, Quantity


@dataclass(frozen=True)
class Value:
    """A quantity at a place, as reported; depths in m, none for a test in the ground that tells no depth.

    ``layer`` is what was logged where it comes from, "" where nothing was.
    """

    quantity: Quantity
    location: str
    sample: str
    top_m: float | None
    base_m: float | None
    test: int
    reported: float
    text: str
    layer: str = ""

    @property
    def depth_m(self) -> float | None:
        return None if self.top_m is None else (self.top_m + (self.base_m or self.top_m)) / 2


def values_from(
    results: Sequence[Result],
    parameters: Mapping[str, Mapping[str, Any]],
    *,
    location: str,
    sample: str = "",
    top_m: float | None = None,
    base_m: float | None = None,
    test: int = 0,
    layer: str = "",
) -> list[Value]:
    """Return the quantities that a test's parameters give.

    Arguments
    ---------
    results : those the test's method declares
    parameters : reported value and text by the parameter's key; words without a number give nothing
    """
    return [
        Value(BY_KEY[key], location, sample, top_m, base_m, test, float(found["reported"]), str(found["text"]), layer)
        for key, found in given(results, parameters).items()
    ]


def given(results: Sequence[Result], parameters: Mapping[str, Mapping[str, Any]]) -> dict[str, Mapping[str, Any]]:
    """Return the parameters that give a quantity as a number, by the quantity's key."""
    return {
        one.quantity: found
        for one in results
        if one.quantity and (found := parameters.get(one.key)) is not None and found["reported"] is not None
    }


def depth_words(top_m: float | None, base_m: float | None) -> str:
    """Return a depth range in m as written in tables; "" for what has none."""
    return "" if top_m is None else f"{top_m:.2f}–{base_m:.2f}"
