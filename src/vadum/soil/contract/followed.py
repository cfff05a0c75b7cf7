"""Whose rules a sheet may say were kept: a setting tells between which values its standards have it."""

from collections.abc import Sequence
from functools import cache
from typing import Any

from pydantic import BaseModel

from vadum.soil.contract.field import declared, unit_of


def followed(kept: Sequence[str], basis: Sequence[str], settings: BaseModel) -> list[str]:
    """Return the standards whose way was gone as a sheet names them: with what was set otherwise than they have it.

    ``kept`` are those of the school; none where there is one way, that of the method's ``basis``.
    """
    apart = [_set_to(type(settings), name, value) for name, value in _outside(settings)]
    return [f"{one} but for {' and '.join(apart)}" for one in kept or basis] if apart else list(kept)


def _outside(settings: BaseModel) -> list[tuple[str, float]]:
    found = []
    for name, (low, high) in _bounded(type(settings)).items():
        value = getattr(settings, name)
        if value is not None and not (low is None or value >= low) & (high is None or value <= high):
            found.append((name, value))
    return found


@cache
def _bounded(model: type[BaseModel]) -> dict[str, Any]:
    """Return the settings that standards bound, each with the least and the most they have, None without one."""
    return {name: bounds for name in model.model_fields if (bounds := declared(model, name).get("followed"))}


def _set_to(model: type[BaseModel], name: str, value: float) -> str:
    return f"{model.model_fields[name].title} {value:g} {unit_of(model, name) or ''}".rstrip()
