"""Results of several specimens, places or fills as one table: a line for what it is, a column for each of them."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from string import Formatter

from vadum.soil.contract.result import Parameter, Result

_FEWEST = 2


@dataclass(frozen=True)
class SideBySide:
    """What the columns are called, the lines (symbol, words, unit, a text for each column), and what stands in them."""

    columns: list[str]
    lines: list[tuple[str, str, str, list[str]]]
    keys: frozenset[str]


def side_by_side(results: Sequence[Result], parameters: Sequence[Parameter], known: Mapping[str, str]) -> SideBySide:
    """Return the parameters that are numbered by one slot of their result; none where fewer than two by two are.

    Arguments
    ---------
    known : how well each is known in words, by key
    """
    found: dict[Result, dict[str, Parameter]] = {}
    for parameter in parameters:
        for one in results:
            if (number := _number(one, parameter.key)) is not None:
                found.setdefault(one, {})[number] = parameter
                break
    numbers = sorted({number for cells in found.values() for number in cells}, key=int)
    shown = {one: cells for one, cells in found.items() if len(cells) >= _FEWEST}
    if len(shown) < _FEWEST or len(numbers) < _FEWEST:
        return SideBySide([], [], frozenset())
    words = {_word(one) for one in shown}
    word = words.pop() if len(words) == 1 else ""
    lines = []
    for one, cells in shown.items():
        symbol, meaning, _ = one.entry
        unit = next(iter(cells.values())).unit
        texts = [_text(cells.get(number), known) for number in numbers]
        lines.append((symbol, meaning, unit, texts))
    keys = frozenset(parameter.key for cells in shown.values() for parameter in cells.values())
    return SideBySide([f"{word} {number}".strip() for number in numbers], lines, keys)


def _number(one: Result, key: str) -> str | None:
    """Return the number that fills a result's one slot; None of results with other slots, which say more than that."""
    slots = _slots(one.key)
    if len(slots) != 1 or _slots(one.symbol) - slots or _slots(one.name) - slots or not one.gives(key):
        return None
    before, _, after = one.key.partition("{")
    number = key[len(before) : len(key) - len(after.partition("}")[2]) or None]
    return number if number.isdigit() else None


def _slots(text: str) -> set[str]:
    return {name for _, name, _, _ in Formatter().parse(text) if name}


def _word(one: Result) -> str:
    """Return what the numbers count, by the word before the slot in its name: specimen, cylinder, run."""
    found = re.search(r"(\w+) \{", one.name)
    return found[1] if found else ""


def _text(parameter: Parameter | None, known: Mapping[str, str]) -> str:
    if parameter is None:
        return "–"
    return f"{parameter.text} {known.get(parameter.key, '')}".strip()
