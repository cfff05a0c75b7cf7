"""The stages as three branches: first loading, unloading, second loading."""

from dataclasses import dataclass, field

from vadum.soil.methods.plate_static.readings import PlateStaticReadings, PlateStaticSettings
from vadum.soil.physics.plate import plate_settlement_mm

Spot = tuple[int, float, float]


@dataclass
class Branches:
    """Row, pressure in kPa and plate settlement in mm of each stage, by branch, in the order in which they were
    made."""

    first: list[Spot] = field(default_factory=list)
    back: list[Spot] = field(default_factory=list)
    second: list[Spot] = field(default_factory=list)
    left_out: list[Spot] = field(default_factory=list)

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
    for i, stage in enumerate(readings.stages):
        pressure = stage.pressure
        if pressure is None or stage.gauge_mm is None:
            continue
        if not stage.used:
            made.left_out.append((i, pressure, lever * stage.gauge_mm))
            continue
        if branch is made.first and made.first and pressure < before:
            branch = made.back
        elif branch is made.back and made.back and pressure > before:
            branch = made.second
        branch.append((i, pressure, lever * stage.gauge_mm))
        before = pressure
    return made
