"""Which methods go out, and why others do not: found by the module of each method."""

from collections.abc import Callable
from functools import cache
from importlib import import_module
from importlib.util import find_spec
from types import ModuleType

from vadum.exchange.ags4.sent import Row, Sent

_UNKNOWN = "no group of the format is filled by it"


@cache
def _module(code: str) -> ModuleType | None:
    name = f"vadum.exchange.ags4.methods.{code.replace('-', '_')}"
    return import_module(name) if find_spec(name) else None


def filling(code: str) -> Callable[[Sent], list[Row]] | None:
    """Return what fills the groups of a method, None when it does not go out."""
    return getattr(_module(code), "fill", None)


def left_out(code: str) -> str:
    """Return why a method does not go out, "" when it does."""
    return "" if filling(code) else str(getattr(_module(code), "LEFT_OUT", _UNKNOWN))
