"""Area and length of each specimen when shearing begins, by the rule chosen; its state from its dry mass."""

from dataclasses import dataclass
from math import pi

from vadum.soil.methods.triaxial.readings import AfterRow, SpecimenRow, TriaxialReadings
from vadum.soil.methods.triaxial.settings import AreaRule, TriaxialSettings
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.phases import void_ratio

_NOT_READ = AfterRow()


@dataclass(frozen=True)
class Size:
    """Area in mm2 and length in mm when shearing begins."""

    area_mm2: float
    length_mm: float

    @property
    def volume_cm3(self) -> float:
        return self.area_mm2 * self.length_mm / 1000


@dataclass(frozen=True)
class State:
    """Dry density and void ratio as prepared, water content when it came out; None where a mass is missing."""

    dry_density: float
    void_ratio: float
    water_content: float | None


def trimmed_cm3(row: SpecimenRow) -> float | None:
    """Return the volume as trimmed."""
    if row.diameter_mm is None or row.length_mm is None:
        return None
    return pi / 4 * row.diameter_mm**2 * row.length_mm / 1000


def after_of(number: int, readings: TriaxialReadings) -> AfterRow:
    """Return what was read of a specimen while saturating and after the test; blank where nothing was."""
    row = readings.after[number - 1] if number <= len(readings.after) else None
    return row if row is not None and row.used else _NOT_READ


def size_of(number: int, readings: TriaxialReadings, settings: TriaxialSettings, gs: float) -> Size | None:
    """Return the size of a specimen when shearing begins; None where it cannot be, or is not known by the rule."""
    row, after = readings.specimens[number - 1], after_of(number, readings)
    trimmed = trimmed_cm3(row)
    if trimmed is None or not row.length_mm:
        return None
    if settings.kind == "UU":
        # Sheared as trimmed: what was read of another school's consolidation is not of this test.
        return Size(trimmed * 1000 / row.length_mm, row.length_mm)
    swollen = after.saturating_mm or 0.0
    volume, length = tx.saturated_cm3(trimmed, row.length_mm, swollen), row.length_mm - swollen
    out, short = row.out_cm3 or 0.0, row.shortened_mm or 0.0
    if row.out_cm3 is not None and row.shortened_mm is None:
        short = length * out / volume / 3
    if out >= volume or short >= length:
        return None
    if settings.area == AreaRule.ALIKE:
        return Size(tx.area_alike_mm2(volume, out, length), length * (1 - out / volume / 3))
    if settings.area == AreaRule.FINAL:
        if not after.mass_dry_g or not after.mass_wet_g or after.mass_wet_g < after.mass_dry_g:
            return None
        return Size(tx.final_area_mm2(after.mass_wet_g, after.mass_dry_g, gs, length - short), length - short)
    return Size(tx.consolidated_area_mm2(volume, out, length, short), length - short)


def state_of(number: int, readings: TriaxialReadings, gs: float) -> State | None:
    """Return the state of a specimen as trimmed, None while its dry mass is not known."""
    after, volume = after_of(number, readings), trimmed_cm3(readings.specimens[number - 1])
    if not after.mass_dry_g or volume is None:
        return None
    dry = after.mass_dry_g / volume
    wet = 100 * (after.mass_wet_g / after.mass_dry_g - 1) if after.mass_wet_g else None
    return State(dry, void_ratio(dry, gs), wet)
