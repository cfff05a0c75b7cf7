"""Slips of the hand, one at a time, in the readings, settings and ground of a test: what findings are declared for."""

import copy
from itertools import islice, pairwise
from typing import Literal, get_args, get_origin

import numpy as np
from pydantic import ValidationError

from vadum.soil.contract.cells import choices, singles, tables
from vadum.soil.contract.field import Leant

_FACTORS = (0.0, 0.001, 0.1, 0.5, 0.8, 0.95, 1.05, 1.3, 2.0, 10.0, 1000.0)
_LEANT = (0.01, 0.9, 2.0, 2.7, 8.0, 25.0, 60.0, 120.0)


def spoilt(method, seeds=(1, 2), first=None, one_in=1):
    """Yield readings, settings and context with one thing wrong each; what cannot be taken at all is left out.

    Of the ``first`` slips every ``one_in``-th: those passed over are not read.
    """
    for readings, settings, context in islice(_slips(method, seeds), 0, first, one_in):
        try:
            yield method.Readings.model_validate(readings), settings, context
        except ValidationError:
            continue


def _slips(method, seeds):
    for settings, clean in clean_under_every_school(method, seeds):
        context = method.Context()
        yield clean, settings, context
        for readings in _wrong(method, clean):
            yield readings, settings, context
        for ground in _grounds(method, clean):
            yield clean, settings, ground
    for seed in seeds:
        for mistake in method.mistakes:
            rng = np.random.default_rng(seed)
            chosen = method.Settings()
            yield method.virtual(method.a_soil(rng), chosen, rng, frozenset({mistake})), chosen, method.Context()
    yield method.Readings(), method.Settings(), method.Context()


def clean_under_every_school(method, seeds):
    """Yield settings, and clean readings of a virtual test under them as plain data."""
    for seed in seeds:
        for settings in _settings(method):
            rng = np.random.default_rng(seed)
            try:
                made = method.virtual(method.a_soil(rng), settings, rng)
            except (ValidationError, ValueError):
                continue  # no virtual soil of this school
            yield settings, made.model_dump(mode="json", exclude_none=True)


def _settings(method):
    """Yield the default settings, and one other choice or bound at a time."""
    yield method.Settings()
    for name, info in method.Settings.model_fields.items():
        options = [*choices(method.Settings, name)] or ([True, False] if info.annotation is bool else [])
        bounds = [getattr(m, side) for m in info.metadata for side in ("ge", "le") if hasattr(m, side)]
        for value in (*options, *bounds, *(["because"] if name == "by_hand_because" else [])):
            if value != info.default:
                try:
                    yield method.Settings.model_validate({name: value})
                except ValidationError:
                    continue


def _grounds(method, clean):
    fields = method.Context.model_fields
    for name, info in fields.items():
        if info.annotation == Leant | None:
            for value in _LEANT:
                yield method.Context.model_validate({name: {"value": value, "source": "test 3"}})
        elif info.annotation is bool:
            yield method.Context.model_validate({name: True})
        elif get_origin(info.annotation) is Literal or "Literal" in str(info.annotation):
            for option in [a for arg in get_args(info.annotation) for a in (get_args(arg) or (arg,)) if a]:
                if isinstance(option, str):
                    yield method.Context.model_validate({name: option})
    if "tins" in fields:
        rows = [row for table in tables(method.Readings) for row in clean.get(table, []) if row.get("tin")]
        yield method.Context.model_validate({"tins": {row["tin"]: row.get("mass_tin_g", 17.0) + 1 for row in rows}})


def _wrong(method, clean):
    """Yield readings with one slip: a single reading, a cell, a row, two rows."""
    for name in singles(method.Readings):
        for value in _values(method.Readings, name, clean.get(name)):
            yield _with(clean, name, value)
    for table, model in tables(method.Readings).items():
        rows = clean.get(table, [])
        for i in sorted({0, len(rows) // 2, len(rows) - 1} & set(range(len(rows)))):
            for name in model.model_fields:
                for value in _values(model, name, rows[i].get(name)):
                    yield _row(clean, table, i, {name: value})
            names = [name for name, value in rows[i].items() if isinstance(value, float)]
            for one, other in pairwise(names):
                yield _row(clean, table, i, {one: rows[i][other], other: rows[i][one]})
            yield clean | {table: [*rows[:i], rows[i], *rows[i:]]}
            yield clean | {table: [*rows[:i], *rows[i + 1 :]]}
            yield clean | {table: rows[: i + 1]}
        for name in model.model_fields:
            column = [row.get(name) for row in rows]
            if any(isinstance(value, float) for value in column):
                for factor in (0.1, 0.5, 0.8, 1.25, 2.0, 10.0):
                    scaled = [r | {name: r[name] * factor} if isinstance(r.get(name), float) else r for r in rows]
                    yield clean | {table: scaled}
                turned = [r | {name: v} if v is not None else r for r, v in zip(rows, column[::-1], strict=True)]
                yield clean | {table: turned}
            else:
                for value in _values(model, name, None):
                    yield clean | {table: [row | {name: value} for row in rows]}
        yield clean | {table: rows[::-1]}
        yield clean | {table: []}


def _values(model, name, now):
    """Yield other values of a reading: choices, bounds, factors, nothing."""
    info = model.model_fields[name]
    yield from choices(model, name)
    if isinstance(now, str):
        yield "another"
    if now is not None:
        yield None
    bounds = [getattr(m, side) for m in info.metadata for side in ("ge", "le") if hasattr(m, side)]
    yield from bounds
    if isinstance(now, int | float) and not isinstance(now, bool):
        yield from (now * factor for factor in _FACTORS)
        yield from (now + step for step in (-2.0, -1.0, -0.1, 0.1, 1.0, 2.0))
    elif len(bounds) == 2:
        yield from (bounds[0] + share * (bounds[1] - bounds[0]) for share in (0.001, 0.01, 0.1, 0.3, 0.6, 0.9))


def _with(clean, name, value):
    made = copy.copy(clean)
    if value is None:
        made.pop(name, None)
    else:
        made[name] = value
    return made


def _row(clean, table, i, change):
    rows = list(clean[table])
    rows[i] = {key: value for key, value in (rows[i] | change).items() if value is not None}
    return clean | {table: rows}
