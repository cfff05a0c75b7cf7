"""Results with their uncertainty held against what a project asks: what is shown to be met, and what is not."""

from collections.abc import Iterable, Iterator
from typing import Any

from vadum.soil.contract.limit import Limit, Outcome, guarded
from vadum.soil.contract.method import Method
from vadum.soil.contract.result import Result
from vadum.soil.uncertainty.combined import Combined

_SAYS: dict[Outcome, str] = {
    "meets": "met",
    "not shown": "not shown: the limit lies within the uncertainty",
    "fails": "not met",
}


def verdict(method: Method[Any, Any, Any], settings: Any, known: Iterable[Combined]) -> str:
    """Return in words how every limit that is set is met by guarded acceptance; "" where none is set.

    Printed values and printed uncertainties are compared, so that whoever reads the sheet can compare them again.
    """
    every = {one.parameter.key: one for one in known}
    values = {key: one.parameter.value for key, one in every.items() if one.parameter.value is not None}
    said = []
    for limit in method.limits_asked:
        asked = getattr(settings, limit.setting)
        if asked is None:
            continue
        excused = limit.excused is not None and limit.excused(settings, values)
        limited = [_sentence(one, limit, asked, excused=excused) for one in _limited(method, limit, every.values())]
        said += limited or [f"at {limit.side} {asked:g}: not shown, the uncertainty is not known"]
    return "; ".join(said)


def _limited(method: Method[Any, Any, Any], limit: Limit, known: Iterable[Combined]) -> Iterator[Combined]:
    declared: list[Result] = [one for one in method.results if one.key in limit.results]
    found = [one for one in known if next((r for r in method.results if r.gives(one.parameter.key)), None) in declared]
    # The places of a test are judged each for itself, and their mean only where there are no places.
    places = [one for one in found if one.parameter.key != limit.results[0]]
    return iter(places or found)


def _sentence(one: Combined, limit: Limit, asked: float, *, excused: bool) -> str:
    value, spread = one.parameter.reported or 0.0, one.printed
    outcome = guarded(value, spread, asked, limit.side)
    unit = f" {one.parameter.unit}" if one.parameter.unit else ""
    words = "exempted" if excused and outcome != "meets" else _SAYS[outcome]
    # What is known of instruments alone guards less than what is known of the hand, too.
    spread_words = f"{one.text}{unit}" + ("" if one.hand else " by instruments and constants alone")
    return f"{one.parameter.symbol} {one.parameter.text} {spread_words}, at {limit.side} {asked:g}{unit}: {words}"
