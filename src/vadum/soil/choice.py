"""Choices: kept as a code, shown as a label.

A code is stored, compared and sent; it never changes. A label is for people and may be put better at any time. What
was a code or a label in an earlier release is still read, so that bench files, archives and scripts stay valid.
"""

from enum import StrEnum
from typing import Any, Self

from pydantic import GetJsonSchemaHandler
from pydantic_core import CoreSchema


class Choice(StrEnum):
    """One of a few words. ``NAME = code, label, *earlier words``; the label is the code where none is given.

    It compares, sorts and is kept as its code, and prints as its label.
    """

    label: str
    earlier: tuple[str, ...]

    def __new__(cls, code: str, label: str = "", *earlier: str) -> Self:
        member = str.__new__(cls, code)
        member._value_ = code
        member.label, member.earlier = label or code, earlier
        return member

    def __str__(self) -> str:
        return self.label

    def __format__(self, spec: str) -> str:
        return format(self.label, spec)

    @classmethod
    def _missing_(cls, value: object) -> Self | None:
        return next((one for one in cls if value == one.label or value in one.earlier), None)

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        found = handler(schema)
        handler.resolve_ref_schema(found)["x-labels"] = {one.value: one.label for one in cls}
        return found


def labels_of(kind: type[Choice]) -> dict[str, str]:
    """Return the label of each code, in order."""
    return {one.value: one.label for one in kind}
