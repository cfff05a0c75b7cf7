"""Facts that cannot be true together, whoever typed them."""

from collections.abc import Iterator

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.classification.findings import (
    CLAY_ABOVE_FINES,
    CURVATURE_OFF,
    FINES_TWICE,
    GRAVEL_OFF,
    PASSING_RISES,
)
from vadum.soil.methods.classification.readings import ClassificationReadings

# Shares are rounded to whole percent on many sheets.
_ROUNDED = 1.0
_ROUNDED_RATIO = 0.05


def impossible(readings: ClassificationReadings, facts: dict[str, float]) -> list[Finding]:
    """Return what cannot be of one soil."""
    return [*_ratios(facts), *_shares(readings, facts)]


def _ratios(facts: dict[str, float]) -> Iterator[Finding]:
    """D10 <= D30 <= D60, so that 1/Cu <= Cc <= Cu."""
    cu, cc = facts.get("Cu"), facts.get("Cc")
    if cu is not None and cc is not None:
        more = 1 + _ROUNDED_RATIO
        if not 1 / (cu * more) <= cc <= cu * more:
            yield CURVATURE_OFF.at("curvature", "uniformity", curvature=cc, uniformity=cu)


def _shares(readings: ClassificationReadings, facts: dict[str, float]) -> Iterator[Finding]:
    gravel, passing = facts.get("gravel"), facts.get("passing 2 mm")
    if gravel is not None and passing is not None and passing > 100 - gravel + _ROUNDED:
        yield GRAVEL_OFF.at("gravel_percent", "passing_2_mm_percent", gravel=gravel, left=100 - gravel, passing=passing)
    fines, below = readings.fines_percent, readings.passing_0_075_mm_percent
    if fines is not None and below is not None and abs(fines - below) > _ROUNDED:
        yield FINES_TWICE.at("passing_0_075_mm_percent", "fines_percent", fines=fines, passing=below)
    clay, silt = readings.clay_percent, readings.finer_0_05_mm_percent
    if clay is not None and silt is not None and clay > silt + _ROUNDED:
        cells, words = ("clay_percent", "finer_0_05_mm_percent"), {"fine": "below 0.002 mm", "coarse": "below 0.05 mm"}
        yield PASSING_RISES.at(*cells, less=clay, more=silt, **words)
    all_fines = facts.get("passing 0.075 mm")
    for cell, size in (("clay_percent", "0.002 mm"), ("finer_0_05_mm_percent", "0.05 mm")):
        finer = getattr(readings, cell)
        if finer is not None and all_fines is not None and finer > all_fines + _ROUNDED:
            yield CLAY_ABOVE_FINES.at(cell, finer=finer, size=size, fines=all_fines)
