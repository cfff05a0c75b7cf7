"""What a test leans on, as its method takes it and as people are told of it."""

import hashlib
import json
from dataclasses import dataclass, field
from typing import Any

from vadum.records.tables import Test


@dataclass(frozen=True)
class Lean:
    """One thing a test leans on: its place in the context, its name and value in words, and where they come from.

    ``mark`` tells one value from another where the words do not. ``state`` is that of the test it comes from.
    """

    key: str
    name: str
    text: str
    source: str
    mark: str = ""
    test: int = 0
    revision: int = 0
    state: str = ""

    @property
    def words(self) -> str:
        return " ".join(part for part in (self.name, self.text, "of", self.source) if part)


@dataclass
class Footing:
    """What a test leans on: as plain data for its method, and in words for people."""

    context: dict[str, Any] = field(default_factory=dict)
    leans: list[Lean] = field(default_factory=list)

    def of_test(self, key: str, value: Any, found: Test, name: str, text: str) -> None:
        """Lean on a result of another test."""
        self.context[key] = value
        self.leans.append(
            Lean(key, name, text, source(found), mark_of(value), found.id or 0, found.revision, found.state)
        )

    def of_register(self, key: str, value: Any, name: str, text: str, by: str = "the register") -> None:
        """Lean on what the laboratory knows of its equipment or of the sample."""
        self.context[key] = value
        self.leans.append(Lean(key, name, text, by, mark_of(value)))


def mark_of(value: Any) -> str:
    """Return what tells a value from another one, wherever it comes from."""
    if isinstance(value, dict):
        value = {name: part for name, part in value.items() if name != "source"}
    return hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:12]


def source(test: Test) -> str:
    """Return how a test is named as a source."""
    return source_named(test.id)


def source_named(test: int | None) -> str:
    """Return how a test is named as a source, by its number."""
    return f"test {test}"
