"""Explained steps: how each number came about."""

from pydantic import BaseModel


class Step(BaseModel):
    """One line of a derivation: the formula, the values put in, what came out and where the rule stands."""

    symbol: str
    formula: str
    put_in: str
    result: str
    unit: str = ""
    basis: str = ""
    about: str = ""
