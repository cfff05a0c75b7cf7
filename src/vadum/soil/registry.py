"""The methods Vadum knows, found by package: those it ships with, and those a laboratory has installed beside it.

A package of ``vadum.soil.methods`` exports its method's class by ``__all__``. A wheel of the laboratory's own names
such a class in the entry-point group ``vadum.methods``.
"""

from collections.abc import Iterator
from importlib import import_module
from importlib.metadata import entry_points
from pkgutil import iter_modules
from typing import Any

from vadum.soil import methods
from vadum.soil.contract.method import Method

GROUP = "vadum.methods"


def _classes() -> Iterator[type[Method[Any, Any, Any]]]:
    for found in iter_modules(methods.__path__, f"{methods.__name__}."):
        package = import_module(found.name)
        yield from (getattr(package, name) for name in package.__all__)
    yield from (entry.load() for entry in entry_points(group=GROUP))


def _found() -> dict[str, Method[Any, Any, Any]]:
    """Return one method of each class by its code, in the order in which lists show them."""
    every = sorted((method() for method in _classes()), key=lambda method: (method.place, method.code))
    return {method.code: method for method in every}


METHODS: dict[str, Method[Any, Any, Any]] = _found()


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
