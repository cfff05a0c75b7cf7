"""Each specimen's shearing as stresses, and where it fails."""

from dataclasses import dataclass
from operator import itemgetter

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.cylinder.begins import began_mm, begun_late, out_before_cm3, stood_before
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.triaxial.readings import SpecimenRow, TriaxialReadings
from vadum.soil.methods.triaxial.settings import Criterion, TriaxialSettings
from vadum.soil.methods.triaxial.sizes import Size, size_of
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.peak import peak_passed

Array = NDArray[np.float64]
_DRAINS_FROM = 0.02
# A line so near the limit, as a share of it, stands on it.
_ON_IT = 1e-5
_LINE = itemgetter("shortening_mm", "force_n", "pore_kpa", "volume_cm3")


@dataclass(frozen=True)
class Sheared:
    """One specimen: strain in percent, deviator, cell and pore pressure in kPa along the shearing, and the failure
    line."""

    number: int
    rows: NDArray[np.int64]
    strain_percent: Array
    deviator_kpa: Array
    pore_kpa: Array
    volume_percent: Array
    cell_kpa: float
    start_pore_kpa: float
    failure: int
    rising: bool
    pore_known: bool = True
    """Whether the pore pressure at failure was read: without it there is no effective circle."""
    began_mm: float = 0.0
    """Where the gauge of the shortening stood that was not set to zero."""
    out_cm3: float = 0.0
    """What was out of it by then, where the burette was not set to zero."""
    stood_n: float = 0.0
    """What stood on the specimen before it was shortened."""
    most_n: float = 0.0
    late: tuple[float, float] | None = None
    """Shortening in mm and load in N at the first line, where lines before it are missing."""

    @property
    def major_kpa(self) -> float:
        return self.cell_kpa + float(self.deviator_kpa[self.failure])

    @property
    def consolidated_kpa(self) -> float:
        """Effective pressure when shearing began."""
        return self.cell_kpa - self.start_pore_kpa

    @property
    def pore_at_failure(self) -> float:
        return float(self.pore_kpa[self.failure])

    def circle(self, *, effective: bool) -> tuple[float, float]:
        """Return centre and radius of the Mohr circle at failure, kPa; from total stresses the back pressure is taken
        off."""
        t = float(self.deviator_kpa[self.failure]) / 2
        return self.cell_kpa + t - (self.pore_at_failure if effective else self.start_pore_kpa), t

    @property
    def secant_deg(self) -> float | None:
        """Return the angle of friction of this circle alone, with no cohesion; None without its pore pressure."""
        return tx.secant_friction_deg(*self.circle(effective=True)) if self.pore_known else None

    @property
    def pore_coefficient(self) -> float | None:
        """Return A at failure: change of pore pressure over the deviator."""
        q = float(self.deviator_kpa[self.failure])
        return (self.pore_at_failure - self.start_pore_kpa) / q if q > 0 else None


def sheared(readings: TriaxialReadings, settings: TriaxialSettings, gs: float) -> list[Sheared]:
    """Return the specimens whose size, pressures and shearing are known, in their order."""
    columns = _columns(readings)
    found = []
    for k, row in enumerate(readings.specimens, 1):
        mine = columns[columns[:, 1] == k]
        size = size_of(k, readings, settings, gs)
        if not row.used or size is None or row.cell_kpa is None or len(mine) < 4:
            continue
        if settings.kind != "UU" and row.back_kpa is None:
            continue
        found.append(_one(k, mine, row, size, readings, settings))
    return found


def without_pressure(readings: TriaxialReadings, settings: TriaxialSettings) -> tuple[int, str] | None:
    """Return the first specimen that was sheared under a pressure not written, and which that is."""
    on_record = set(_columns(readings)[:, 1])
    for k, row in enumerate(readings.specimens, 1):
        if not row.used or k not in on_record:
            continue
        if row.cell_kpa is None:
            return k, "cell pressure"
        if settings.kind != "UU" and row.back_kpa is None:
            return k, "back pressure"
    return None


def _columns(readings: TriaxialReadings) -> Array:
    """Return row, specimen, shortening, force, pore pressure, volume of every line."""
    log = readings.log
    if log is not None and len(log):
        return np.column_stack(
            [np.full(len(log), -1.0), log.specimen, log.shortening_mm, log.force_n, log.pore_kpa, log.volume_cm3]
        )
    lines = [(i, number, *_LINE(row.__dict__)) for i, number, row in numbered(readings.shearing) if not row.left_out]
    read = np.array(lines, dtype=float).reshape(-1, 6)  # what is blank is nan
    return read[~np.isnan(read[:, 2:4]).any(axis=1)]


def _one(
    number: int, mine: Array, row: SpecimenRow, size: Size, readings: TriaxialReadings, settings: TriaxialSettings
) -> Sheared:
    area, length = size.area_mm2, size.length_mm
    began, stood = began_mm(mine[:, 2], mine[:, 3]), stood_before(mine[:, 2], mine[:, 3])
    late = (float(mine[0, 2]), float(mine[0, 3])) if not stood and begun_late(mine[:, 2], mine[:, 3]) else None
    mine[:, 2] -= began
    out = out_before_cm3(mine[:, 2], mine[:, 5])
    mine[:, 5] -= out
    mine = _with_limit(mine, settings.limit_percent / 100 * length)
    strain = mine[:, 2] / length
    volume = np.nan_to_num(mine[:, 5]) / (area * length / 1000) if settings.kind == "CD" else np.zeros(len(mine))
    deviator = mine[:, 3] / tx.sheared_area_mm2(area, strain, volume) * 1000
    diameter = float(np.sqrt(4 * area / np.pi))
    deviator = deviator - tx.membrane_kpa(strain, diameter, readings.membrane_mm or 0.0, settings.membrane_modulus_kpa)
    if settings.filter_kpa:
        deviator = deviator - settings.filter_kpa * np.minimum(strain / _DRAINS_FROM, 1.0)
    start = 0.0 if settings.kind == "UU" else row.back_kpa or 0.0
    pore = np.where(np.isnan(mine[:, 4]), start, mine[:, 4]) if settings.kind == "CU" else np.full(len(mine), start)
    cell = row.cell_kpa or 0.0
    unfinished = float(strain[-1]) * 100 < settings.limit_percent - 1e-6
    k = _failure(100 * strain, deviator, cell - pore, settings)
    return Sheared(
        number,
        mine[:, 0].astype(np.int64),
        100 * strain,
        deviator,
        pore,
        100 * volume,
        cell,
        start,
        k,
        rising=unfinished and not peak_passed(deviator, settings.peak_fall_percent),
        pore_known=settings.kind != "CU" or bool(~np.isnan(mine[k, 4]) and (mine[:, 4] != 0).any()),
        began_mm=began,
        out_cm3=out if settings.kind == "CD" else 0.0,
        stood_n=stood,
        most_n=float(mine[:, 3].max()),
        late=late,
    )


def _with_limit(mine: Array, shortening_mm: float) -> Array:
    """Return the lines with one read between its neighbours where the strain limit lies between two of them."""
    at = mine[:, 2]
    k = int(np.searchsorted(at, shortening_mm))
    if (
        not 0 < k < len(at)
        or (at[1:] < at[:-1]).any()
        or min(shortening_mm - at[k - 1], at[k] - shortening_mm) <= _ON_IT * shortening_mm
    ):
        return mine
    share = (shortening_mm - at[k - 1]) / (at[k] - at[k - 1])
    between = mine[k - 1] + share * (mine[k] - mine[k - 1])
    between[0] = -1.0
    return np.concatenate([mine[:k], between[None], mine[k:]])


def _failure(strain_percent: Array, deviator: Array, minor: Array, settings: TriaxialSettings) -> int:
    within = strain_percent <= settings.limit_percent + 1e-9
    if settings.criterion == Criterion.STRAIN:
        return int(np.argmin(np.abs(strain_percent - settings.limit_percent)))
    if settings.criterion == Criterion.OBLIQUITY and settings.kind != "UU":
        with np.errstate(divide="ignore", invalid="ignore"):
            ratio = np.where((minor > 0) & within, 1 + deviator / minor, -np.inf)
        return int(np.argmax(ratio))
    return int(np.argmax(np.where(within, deviator, -np.inf)))
