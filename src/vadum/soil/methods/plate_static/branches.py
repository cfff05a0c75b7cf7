"""The stages as three branches: first loading, unloading, second loading."""

from dataclasses import dataclass, field

from vadum.soil.methods.plate_static.readings import PlateStaticReadings, PlateStaticSettings
from vadum.soil.physics.plate import plate_settlement_mm

Spot = tuple[int, float, float]
# The first stage of unloading is half of the largest pressure.
_UNLOADED = 0.75


@dataclass
class Branches:
    """Row, pressure in kPa and plate settlement in mm of each stage, by branch, in the order in which they were
    made."""

    first: list[Spot] = field(default_factory=list)
    back: list[Spot] = field(default_factory=list)
    second: list[Spot] = field(default_factory=list)
    left_out: list[Spot] = field(default_factory=list)
    dips: list[Spot] = field(default_factory=list)
    """Row, pressure and the pressure before it of stages inside the first loading whose pressure fell."""

    @property
    def every(self) -> list[Spot]:
        return [*self.first, *self.back, *self.second]

    @property
    def largest_kpa(self) -> float:
        return max((p for _, p, _ in self.first), default=0.0)


def branches(readings: PlateStaticReadings, settings: PlateStaticSettings) -> Branches:
    """Return the stages that are read, sorted into branches by how the pressure goes."""
    lever = 1.0
    if settings.gauge == "beam" and readings.lever_plate_mm and readings.lever_gauge_mm:
        lever = float(plate_settlement_mm(1.0, readings.lever_plate_mm, readings.lever_gauge_mm))
    made = Branches()
    branch, before = made.first, 0.0
    coming = [stage.pressure for stage in readings.stages if stage.used and stage.gauge_mm is not None]
    number = -1
    for i, stage in enumerate(readings.stages):
        pressure = stage.pressure
        if pressure is None or stage.gauge_mm is None:
            continue
        if not stage.used:
            made.left_out.append((i, pressure, lever * stage.gauge_mm))
            continue
        number += 1
        if branch is made.first and made.first and pressure < before:
            if _a_dip(pressure, made.largest_kpa, next((p for p in coming[number + 1 :] if p is not None), None)):
                made.dips.append((i, pressure, before))
            else:
                branch = made.back
        elif branch is made.back and made.back and pressure > before:
            branch = made.second
        branch.append((i, pressure, lever * stage.gauge_mm))
        before = pressure
    return made


def _a_dip(pressure: float, largest: float, after: float | None) -> bool:
    """Return whether a fall of the pressure is a dip inside the first loading and no unloading: it falls little, or
    the next stage goes beyond all before it."""
    return pressure > _UNLOADED * largest or (after is not None and after > largest)
