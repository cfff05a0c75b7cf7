"""Explained steps: how each number came about."""

from collections.abc import Callable
from typing import Any

from pydantic import BaseModel

from vadum.soil.physics.published import formula_of


class Step(BaseModel):
    """One line of a derivation: the formula, the values put in, what came out and where the rule stands."""

    symbol: str
    formula: str
    put_in: str
    result: str
    unit: str = ""
    basis: str = ""
    about: str = ""

    @classmethod
    def of(
        cls,
        relation: Callable[..., Any],
        put_in: str,
        result: str,
        unit: str = "",
        basis: str | None = None,
        about: str = "",
        symbol: str = "",
    ) -> "Step":
        """Return a step by a published relation, as it is written and where it stands; ``symbol`` where it is not the
        relation's left side that is sought."""
        formula = formula_of(relation)
        own = formula.source if basis is None else basis
        return cls(
            symbol=symbol or formula.symbol,
            formula=formula.equation,
            put_in=put_in,
            result=result,
            unit=unit,
            basis=own,
            about=about,
        )
