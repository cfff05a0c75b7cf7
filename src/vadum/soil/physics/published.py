"""A published relation says once how it reads and where it stands; pages and derivations take it from there."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

Relation = TypeVar("Relation", bound=Callable[..., Any])


@dataclass(frozen=True)
class Formula:
    """What a relation gives, how it is written, and its source."""

    gives: str
    equation: str
    source: str

    @property
    def symbol(self) -> str:
        return self.equation.partition("=")[0].strip()


def published(gives: str, equation: str, source: str) -> Callable[[Relation], Relation]:
    """Return a decorator that puts the formula on a relation, for :func:`formula_of`."""

    def put(relation: Relation) -> Relation:
        relation.formula = Formula(gives, equation, source)  # type: ignore[attr-defined]
        return relation

    return put


def formula_of(relation: Callable[..., Any]) -> Formula:
    """Return the formula of a published relation.

    Raises
    ------
    AttributeError
        If the relation says none.
    """
    formula: Formula = relation.formula  # type: ignore[attr-defined]
    return formula
