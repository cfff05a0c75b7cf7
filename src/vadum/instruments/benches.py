"""Several benches as one: each instrument is asked on the line on which it is."""

from collections.abc import Sequence
from typing import Any

from vadum.instruments.client import BenchLine, Remote
from vadum.instruments.port import Identity, InstrumentTrouble


class Benches:
    """Lines to several benches. One that does not answer takes nothing from the others; of two instruments of one name
    the one on the first line is meant."""

    def __init__(self, lines: Sequence[BenchLine]) -> None:
        self.lines = tuple(lines)
        self._on: dict[str, BenchLine] = {}

    def identities(self) -> list[Identity]:
        return [one for line in self._answering() for one in line.identities()]

    def listed(self) -> list[dict[str, Any]]:
        """Return every instrument of every bench that answers, as plain data.

        Raises
        ------
        InstrumentTrouble
            If none of them does.
        """
        return [one for line in self._answering() for one in line.listed()]

    def instrument(self, name: str) -> Remote:
        return Remote(self._line_of(name), name)

    def ask(self, name: str, request: dict[str, Any]) -> dict[str, Any]:
        return self._line_of(name).ask(name, request)

    def _line_of(self, name: str) -> BenchLine:
        if name not in self._on:
            self._answering()
        return self._on.get(name, self.lines[0])

    def _answering(self) -> list[BenchLine]:
        """Return the lines that answer, and note what is on each."""
        found, trouble = [], None
        for line in self.lines:
            try:
                listed = line.listed()
            except InstrumentTrouble as said:
                trouble = trouble or said
                continue
            found.append(line)
            for one in listed:
                self._on.setdefault(str(one.get("name", "")), line)
        if not found and trouble:
            raise trouble
        return found
