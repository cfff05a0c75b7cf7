"""The methods Vadum knows. Adding a method adds one line here."""

from typing import Any

from vadum.soil.method import Method
from vadum.soil.methods.cup_inspection import CupInspection
from vadum.soil.methods.liquid_limit import LiquidLimit
from vadum.soil.methods.plastic_limit import PlasticLimit
from vadum.soil.methods.water_content import WaterContent

_ALL: tuple[Method[Any, Any, Any], ...] = (WaterContent(), LiquidLimit(), PlasticLimit(), CupInspection())

METHODS: dict[str, Method[Any, Any, Any]] = {method.code: method for method in _ALL}


class UnknownMethod(KeyError):
    """No method has this code."""

    def __str__(self) -> str:
        return f"no method “{self.args[0]}”; known are {', '.join(METHODS)}"


def method(code: str) -> Method[Any, Any, Any]:
    """Return the method with this code.

    Raises
    ------
    UnknownMethod
        If there is none; the message lists the known codes.
    """
    try:
        return METHODS[code]
    except (KeyError, TypeError):
        raise UnknownMethod(code) from None
