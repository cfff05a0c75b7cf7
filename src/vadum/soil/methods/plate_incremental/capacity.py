"""Ultimate pressure by each construction, and what it means for the footing."""

from dataclasses import dataclass

import numpy as np

from vadum.soil.methods.plate_incremental.equations import footing_ultimate_kpa, settlement_ratio
from vadum.soil.methods.plate_incremental.readings import (
    Construction,
    PlateIncrementalReadings,
    PlateIncrementalSettings,
)
from vadum.soil.methods.plate_incremental.stages import Stage
from vadum.soil.physics.yielding import TwoLines, two_lines

LEAST_FOR_LINES = 4
_STEP_MM = 0.03
_STEP_LOG = 0.01
_LOG = Construction.LOGARITHMS


@dataclass(frozen=True)
class Capacity:
    """Ultimate pressures in kPa with their bands where the test reached them; the largest pressure where it did not."""

    pressure_kpa: list[float]
    settlement_mm: list[float]
    straight: TwoLines | None
    logarithmic: TwoLines | None
    by_width: float | None

    def ultimate(self, construction: str) -> float | None:
        if construction == Construction.DOUBLE_TANGENT:
            return self.straight.meet if self.straight else None
        if construction == _LOG:
            return float(10**self.logarithmic.meet) if self.logarithmic else None
        return self.by_width

    def band(self, construction: str) -> tuple[float, float] | None:
        if construction == Construction.DOUBLE_TANGENT and self.straight:
            return self.straight.band
        if construction == _LOG and self.logarithmic:
            low, high = self.logarithmic.band
            return float(10**low), float(10**high)
        return None

    def pressure_at(self, settlement_mm: float) -> float | None:
        """Return the pressure at which the plate settles this much, None beyond the readings."""
        s = np.maximum.accumulate([0.0, *self.settlement_mm])
        if settlement_mm > s[-1]:
            return None
        return float(np.interp(settlement_mm, s, [0.0, *self.pressure_kpa]))


@dataclass(frozen=True)
class Footing:
    """What the plate says of the footing, kPa; None where the test did not reach it.

    ``tested_kpa`` is the largest pressure on the plate, ``safe_at_least_kpa`` what that pressure alone makes safe.
    """

    ultimate_kpa: float | None
    safe_kpa: float | None
    settlement_kpa: float | None
    plate_settlement_mm: float
    tested_kpa: float
    safe_at_least_kpa: float
    ratio: float

    @property
    def allowable_kpa(self) -> float | None:
        """Return the smaller of safe pressure and settlement; None where the part that is missing could be smaller.

        A settlement that was not reached lies above the tested pressure, an ultimate pressure that was not reached too:
        nothing is said beyond what was loaded.
        """
        if self.safe_kpa is not None and self.settlement_kpa is not None:
            return min(self.safe_kpa, self.settlement_kpa)
        if self.safe_kpa is not None and self.safe_kpa <= self.tested_kpa:
            return self.safe_kpa
        if self.settlement_kpa is not None and self.settlement_kpa <= self.safe_at_least_kpa:
            return self.settlement_kpa
        return None

    @property
    def open_part(self) -> str:
        """Return which part of the minimum the test did not reach, in words; "" when the minimum is known."""
        if self.allowable_kpa is not None:
            return ""
        if self.settlement_kpa is None:
            return f"the plate's settlement of {self.plate_settlement_mm:.1f} mm was not reached"
        return "the ultimate pressure was not reached"


def capacity(loaded: list[Stage], settings: PlateIncrementalSettings) -> Capacity:
    """Return the constructions on the last settlements of the loading stages."""
    p, s = [stage.pressure_kpa for stage in loaded], [stage.last_mm for stage in loaded]
    straight = (
        two_lines(p, s, _STEP_MM, settings.elastic_to_kpa, settings.yielding_from_kpa)
        if len(p) >= LEAST_FOR_LINES
        else None
    )
    positive = [(a, b) for a, b in zip(p, s, strict=True) if a > 0 and b > 0]
    logarithmic = None
    if len(positive) >= LEAST_FOR_LINES:
        by_hand = [np.log10(k) if k else None for k in (settings.log_elastic_to_kpa, settings.log_yielding_from_kpa)]
        logs = np.log10(positive)
        logarithmic = two_lines(logs[:, 0], logs[:, 1], _STEP_LOG, *by_hand)
    found = Capacity(p, s, straight, logarithmic, None)
    return Capacity(p, s, straight, logarithmic, found.pressure_at(settings.width_mm / 10))


def footing(found: Capacity, readings: PlateIncrementalReadings, settings: PlateIncrementalSettings) -> Footing | None:
    """Return the footing's pressures; None while its width or the kind of ground is unknown."""
    width, soil = readings.footing_width_m, readings.soil
    if width is None or soil is None:
        return None
    plate = settings.width_mm / 1000
    ultimate = found.ultimate(settings.construction)
    allowed = settings.allowed_settlement_mm / settlement_ratio(width, plate, soil)
    below = footing_ultimate_kpa(ultimate, width, plate, soil) if ultimate is not None else None
    tested = max(found.pressure_kpa, default=0.0)
    return Footing(
        ultimate_kpa=below,
        safe_kpa=below / settings.safety_factor if below is not None else None,
        settlement_kpa=found.pressure_at(allowed),
        plate_settlement_mm=allowed,
        tested_kpa=tested,
        safe_at_least_kpa=footing_ultimate_kpa(tested, width, plate, soil) / settings.safety_factor,
        ratio=width / plate,
    )
