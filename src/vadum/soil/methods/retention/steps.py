"""Weighings as steps of suction, and whether each may end."""

from dataclasses import dataclass, field
from itertools import pairwise

from vadum.soil.methods.retention.readings import RetentionReadings, RetentionSettings
from vadum.soil.physics.retention import Device, suction_kpa

# One suction read twice hardly agrees to the last digit: a column moves with the room, and devices are changed.
_SAME = 0.03
# A column of a few centimetres below the ring takes next to nothing of a saturated one.
SATURATED_KPA = 0.5


@dataclass
class Step:
    """One suction: as read and in kPa, with its rows, days and masses in the order of time."""

    read: float
    device: Device
    kpa: float
    rows: list[int] = field(default_factory=list)
    days: list[float] = field(default_factory=list)
    mass_g: list[float] = field(default_factory=list)

    @property
    def at(self) -> str:
        """The suction in words, as it was read."""
        return f"{self.read:g} {self.device}"

    @property
    def change_g_day(self) -> float | None:
        """Return the loss of mass in a day between the last two weighings, None with fewer."""
        if len(self.days) < 2 or self.days[-1] <= self.days[-2]:
            return None
        return (self.mass_g[-2] - self.mass_g[-1]) / (self.days[-1] - self.days[-2])

    def stable(self, settings: RetentionSettings) -> bool:
        change = self.change_g_day
        return change is not None and abs(change) < settings.stable_g_day


def steps_of(readings: RetentionReadings, settings: RetentionSettings) -> list[Step]:
    """Return the steps in order; a blank suction or device stands for the one above. The saturated state counts as a
    step."""
    made: list[Step] = []
    suction: float | None = None
    device = settings.device
    for i, row in enumerate(readings.weighings):
        suction, device = row.suction if row.suction is not None else suction, row.device or device
        if not row.used or suction is None or row.mass_g is None:
            continue
        kpa = suction_kpa(suction, device)
        if not made or abs(kpa - made[-1].kpa) > _SAME * kpa:
            made.append(Step(suction, device, kpa))
        # The last mass is told of the suction that stood then.
        made[-1].read, made[-1].device, made[-1].kpa = suction, device, kpa
        made[-1].rows.append(i)
        made[-1].days.append(row.day if row.day is not None else float(len(made[-1].days)))
        made[-1].mass_g.append(row.mass_g)
    return made


def ahead_of(kpa: float, settings: RetentionSettings, rated_kpa: float | None) -> float | None:
    """Return the next planned suction that the plate stands, in kPa; None behind the last."""
    most = rated_kpa if rated_kpa is not None else float("inf")
    return next((planned for planned in settings.plan if planned > kpa * 1.02 + 1e-9 and planned <= most), None)


def as_read(kpa: float, device: Device) -> float:
    """Return what a device shows at a suction, to three figures."""
    return float(f"{kpa / suction_kpa(1.0, device):.3g}")


def sudden_losses(step: Step) -> list[int]:
    """Return the rows at which far more is lost than in the interval before: a leak or a dry plate."""
    rates = [(r, (m0 - m1) / (d1 - d0)) for (m0, d0), (m1, d1, r) in pairwise_rows(step) if d1 > d0]
    return [r for (_, before), (r, now) in pairwise(rates) if now > 3 * max(before, 0.0) + 1.0]


def pairwise_rows(step: Step) -> list[tuple[tuple[float, float], tuple[float, float, int]]]:
    """Return each weighing with the one before it: mass and day, then mass, day and row."""
    read = list(zip(step.mass_g, step.days, step.rows, strict=True))
    return [((m0, d0), (m1, d1, r1)) for (m0, d0, _), (m1, d1, r1) in pairwise(read)]
