"""By what factor each depth is corrected, and in which words the sheet says so."""

from vadum.soil.contract.derivation import Step
from vadum.soil.contract.field import Leant
from vadum.soil.methods.vane import equations as eq
from vadum.soil.methods.vane.depths import Sheared
from vadum.soil.methods.vane.equations import failures_correction, plasticity_correction
from vadum.soil.methods.vane.readings import Correction, Plasticity, VaneContext, VaneReadings, VaneSettings

_FISSURED = 1 / 3
_RELATIONS = {Correction.BY_PLASTICITY: plasticity_correction, Correction.BY_FAILURES: failures_correction}


def indices(readings: VaneReadings, settings: VaneSettings, context: VaneContext) -> list[Leant | None]:
    """Return the plasticity index of every depth and where it comes from, None where it is not known."""
    index = context.plasticity_index
    if readings.plasticity_index is not None:
        index = Leant(value=readings.plasticity_index, source="typed on this sheet")
    found = []
    for row in readings.profile:
        if settings.plasticity == Plasticity.EACH and row.used and row.plasticity_index is not None:
            index = Leant(value=row.plasticity_index, source="typed at its depth")
        found.append(index)
    return found


def factor(settings: VaneSettings, index: Leant | None) -> float | None:
    """Return by what a strength is multiplied, None where it is not corrected."""
    if settings.fissured:
        return _FISSURED
    if settings.correction == Correction.NONE or index is None:
        return None
    return _RELATIONS[settings.correction](index.value)


def factor_words(settings: VaneSettings, known: list[Leant | None]) -> str:
    """Return the correction in words: one factor, or the range of those of the depths."""
    if settings.fissured:
        return "fissured: a third"
    values = sorted({index.value for index in known if index is not None})
    if settings.correction == Correction.NONE or not values:
        return "not corrected"
    low, high = eq.MU_BOUNDS
    factors = [_RELATIONS[settings.correction](value) for value in values]
    if len(values) > 1:
        mu, pi = f"{min(factors):.2f}-{max(factors):.2f}", f"{values[0]:g}-{values[-1]:g} by depth"
    else:
        source = next(index.source for index in known if index is not None)
        mu, pi = f"{factors[0]:.2f}", f"{values[0]:g} ({source})"
    return f"μ {mu} {settings.correction}, PI {pi}, bounded {low:g}-{high:g}"


def correction_steps(settings: VaneSettings, used: list[Sheared], known: list[Leant | None]) -> list[Step]:
    """Return how each factor in use was found, once for each PI."""
    if settings.fissured or settings.correction == Correction.NONE:
        return []
    relation = _RELATIONS[settings.correction]
    in_use = {index.value: index for s in used if (index := known[s.row]) is not None}
    return [
        Step.of(relation, put_in=f"PI {index.value:g}, {index.source}", result=f"{relation(index.value):.3f}")
        for index in in_use.values()
    ]
