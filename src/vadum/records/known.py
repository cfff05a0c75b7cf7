"""How well the results of a test on record are known: by the step of the balance in use, the calibrations in force and
the laboratory's own duplicates."""

from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from sqlmodel import Session

from vadum.present import combined_in, units_of
from vadum.records.duplicates import own_repeatability
from vadum.records.pieces import Piece, of_kind
from vadum.records.standing import standing_of
from vadum.records.tables import Test
from vadum.records.units import units_of_test
from vadum.soil.contract.equipment import READ_BY
from vadum.soil.contract.field import instrument_of
from vadum.soil.registry import method as method_of
from vadum.soil.uncertainty.combined import Combined, Hand, combined
from vadum.soil.uncertainty.disturbing import Cell, Shared, cells_of
from vadum.soil.uncertainty.verdict import verdict

_REMEMBERED = 64


def known_of(session: Session, test: Test) -> list[Combined]:
    """Return every numeric result of a test with its uncertainty, in the units of its project."""
    units = units_of(method_of(test.method), units_of_test(test))
    return [combined_in(one, units) for one in known_in_own_units(session, test)]


def verdict_of(session: Session, test: Test) -> str:
    """Return how the project's limits are met by guarded acceptance, in the units of the project."""
    standing = standing_of(session, test)
    settings = standing.method.Settings.model_validate(standing.settings)
    return units_of_test(test).words(verdict(standing.method, settings, known_in_own_units(session, test)))


def known_in_own_units(session: Session, test: Test) -> list[Combined]:
    """Return every numeric result of a test with its uncertainty, in the units of its method."""
    standing = standing_of(session, test)
    method = standing.method
    readings = method.Readings.model_validate(standing.readings)
    settings = method.Settings.model_validate(standing.settings)
    context = method.Context.model_validate(standing.context)
    shown = {p.key for p in standing.reduction.parameters}
    own = tuple(own_repeatability(session, test.method, standing.reduction.parameters).items())
    shared = tuple(_calibrations(standing.pieces, readings))
    resolutions = tuple(_resolutions(standing.pieces, readings).items())
    plain = (readings.model_dump_json(), settings.model_dump_json(), context.model_dump_json())
    found = _worked_out(test.method, *plain, resolutions, shared, own)
    return [one for one in found if one.parameter.key in shown]


@lru_cache(maxsize=_REMEMBERED)
def _worked_out(
    code: str,
    readings: str,
    settings: str,
    context: str,
    resolutions: tuple[tuple[str, float], ...],
    shared: tuple[Shared, ...],
    own: tuple[tuple[str, Hand], ...],
) -> tuple[Combined, ...]:
    """Return the uncertainties of plain data; seconds for a test of many rows, so the last ones are remembered."""
    method = method_of(code)
    models = (
        method.Readings.model_validate_json(readings),
        method.Settings.model_validate_json(settings),
        method.Context.model_validate_json(context),
    )
    return tuple(combined(method, *models, dict(resolutions), shared, dict(own)))


def _resolutions(pieces: list[Piece], readings: Any) -> dict[str, float]:
    """Return the resolution of the balance in use for every mass, where it is the only one."""
    steps = [piece.resolution for piece in of_kind(pieces, "balance") if piece.resolution]
    if len(steps) != 1:
        return {}
    return {cell.path: steps[0] for cell in cells_of(readings) if _by(cell, "balance")}


def _calibrations(pieces: list[Piece], readings: Any) -> Iterator[Shared]:
    """Yield the calibrations in force on the test's day whose certificate states an uncertainty.

    Of two pieces of a kind nothing tells which readings came from which: then neither counts.
    """
    kinds = Counter(piece.kind for piece in pieces)
    for piece in pieces:
        if kinds[piece.kind] == 1 and piece.uncertainty:
            paths = frozenset(cell.path for cell in cells_of(readings) if _by(cell, piece.kind))
            if paths:
                yield Shared(f"calibration of {piece.name}", paths, piece.uncertainty / 2)


def _by(cell: Cell, kind: str) -> bool:
    return READ_BY.get(instrument_of(type(cell.holder), cell.name) or "") == kind
