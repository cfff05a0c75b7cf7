"""What can be wrong at the cell, and what to do next."""

import numpy as np

from vadum.soil.contract.finding import Finding
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.triaxial.draining import Drained, fastest_mm_min
from vadum.soil.methods.triaxial.findings import (
    B_HIGH,
    B_LOW,
    CELL_NOT_ABOVE_BACK,
    CIRCLE_ODD,
    LEAK,
    PATCHED,
    PEAK_NOT_PASSED,
    PORE_ABOVE_CELL,
    PRESSURES_CLOSE,
    SLENDERNESS,
    TOO_FAST,
    UU_NOT_LEVEL,
)
from vadum.soil.methods.triaxial.readings import RateRule, TriaxialReadings, TriaxialSettings
from vadum.soil.methods.triaxial.specimens import Sheared
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.envelope import Envelope

_LEAK_CM3_H = 0.1
_SPAN = 1.5
_FAMILY = 0.10


def b_values(readings: TriaxialReadings) -> dict[int, tuple[float, int]]:
    """Return each specimen's last B and the row it was read at."""
    found: dict[int, tuple[float, int]] = {}
    before = None
    for i, number, row in numbered(readings.saturation):
        if not row.used or row.cell_kpa is None or row.pore_kpa is None:
            continue
        now = (number, row.cell_kpa, row.pore_kpa)
        if before is not None and before[0] == number and now[1] > before[1] + 5:
            b = float(tx.pore_pressure_coefficient([before[1], now[1]], [before[2], now[2]])[0])
            found[number] = (b, i)
        before = now
    return found


def stage_findings(
    readings: TriaxialReadings, settings: TriaxialSettings, draining: list[Drained], shaped: set[int]
) -> list[Finding]:
    """Return what is wrong before shearing: saturation, pressures, leaks, rate; the ``shaped`` are judged by
    calipers."""
    found: list[Finding] = []
    for k, (b, row) in b_values(readings).items():
        if b < settings.least_b and settings.kind != "UU":
            found.append(B_LOW.at(f"saturation.{row}.pore_kpa", number=k, b=b, least_b=settings.least_b))
        if b > 1.05:
            found.append(B_HIGH.at(f"saturation.{row}.pore_kpa", number=k, b=b))
    for i, specimen in enumerate(readings.specimens):
        if (
            settings.kind != "UU"
            and specimen.cell_kpa is not None
            and specimen.back_kpa is not None
            and specimen.cell_kpa <= specimen.back_kpa
        ):
            found.append(
                CELL_NOT_ABOVE_BACK.at(
                    f"specimens.{i}.cell_kpa", number=i + 1, cell_kpa=specimen.cell_kpa, back_kpa=specimen.back_kpa
                )
            )
        if i + 1 in shaped:
            continue
        if specimen.diameter_mm and specimen.length_mm and not 1.9 <= specimen.length_mm / specimen.diameter_mm <= 2.6:
            found.append(
                SLENDERNESS.at(
                    f"specimens.{i}.length_mm", number=i + 1, ratio=specimen.length_mm / specimen.diameter_mm
                )
            )
    if readings.leak_cm3_h is not None and abs(readings.leak_cm3_h) > _LEAK_CM3_H:
        found.append(LEAK.at("leak_cm3_h", leak_cm3_h=readings.leak_cm3_h))
    if readings.patched == "yes":
        found.append(PATCHED.at("patched"))
    return found + _rate(readings, settings, draining)


def _rate(readings: TriaxialReadings, settings: TriaxialSettings, made: list[Drained]) -> list[Finding]:
    fastest = fastest_mm_min(made, readings, settings)
    if fastest is None or readings.rate_mm_min is None or readings.rate_mm_min <= 1.05 * fastest:
        return []
    return [
        TOO_FAST.at("rate_mm_min", rate_mm_min=readings.rate_mm_min, slowest=_slowest(made, settings), fastest=fastest)
    ]


def _slowest(made: list[Drained], settings: TriaxialSettings) -> str:
    """Return the time of the slowest specimen that sets the rate, in words."""
    if settings.rate_rule == RateRule.T100:
        name, times = "t100", [one.root.t100_min for one in made if one.root]
    elif settings.kind == "CD":
        name, times = "t90", [one.root.t90_min for one in made if one.root and one.root.t90_min]
    else:
        name, times = "t50", [one.log.t50_min for one in made if one.log]
    return f"{name} of {max(times):.0f} min"


def shear_findings(settings: TriaxialSettings, made: list[Sheared], line: Envelope | None) -> list[Finding]:
    """Return what is wrong with shearing and with the circles as a family."""
    found: list[Finding] = []
    for s in made:
        cell = _cell(s, -1)
        if s.rising:
            found.append(PEAK_NOT_PASSED.at(cell, number=s.number, strain_percent=s.strain_percent[-1]))
        if (s.pore_kpa > s.cell_kpa).any():
            found.append(PORE_ABOVE_CELL.at(cell, number=s.number))
    if len(made) < 2:
        return found
    minors = sorted(s.cell_kpa - (0.0 if settings.kind == "UU" else s.start_pore_kpa) for s in made)
    if minors[-1] < _SPAN * max(minors[0], 1.0):
        found.append(PRESSURES_CLOSE.at(least=minors[0], largest=minors[-1]))
    if line is not None and settings.kind != "UU" and len(made) >= 3:
        effective = True
        off = {s.number: _off(s, line, effective) for s in made}
        worst = max(off, key=lambda n: abs(off[n]))
        if abs(off[worst]) > _FAMILY:
            found.append(CIRCLE_ODD.at(f"specimens.{worst - 1}.cell_kpa", worst=worst, percent=100 * abs(off[worst])))
    if settings.kind == "UU" and len(made) >= 2:
        radii = [s.circle(effective=False)[1] for s in made]
        if max(radii) > 1.25 * min(radii):
            found.append(UU_NOT_LEVEL.at(least=min(radii), largest=max(radii)))
    return found


def _off(s: Sheared, line: Envelope, effective: bool) -> float:
    """Return how far a circle's radius is from the one that would touch the line, as a share of it."""
    centre, radius = s.circle(effective=effective)
    phi = np.radians(line.friction_deg)
    return float((radius - (line.cohesion_kpa * np.cos(phi) + centre * np.sin(phi))) / radius) if radius > 0 else 0.0


def next_step(
    readings: TriaxialReadings, settings: TriaxialSettings, draining: list[Drained], made: list[Sheared]
) -> str:
    """Return the next thing to do at the cell."""
    if not readings.specimens:
        return (
            "Boil the stones 10 min and cool them, soak the membrane; trim, calipers at three heights both ways, weigh."
        )
    consolidated = settings.kind != "UU"
    if consolidated and not made:
        if not b_values(readings):
            return (
                f"Saturate by steps of back pressure, cell always above it; measure B until it is {settings.least_b:g}."
            )
        fastest = fastest_mm_min(draining, readings, settings)
        if fastest is None and not any(s.length_mm for s in readings.specimens):
            return "Calipers on every specimen: the length sets the rate."
        if fastest is None:
            return "Consolidate: read the water out against time until it stands still."
        return f"The slowest has {_slowest(draining, settings)}: shear at {fastest:.2g} mm/min or slower."
    if not made:
        return "Raise the cell pressure, wait 10 min, shear at about 1 % a minute to a peak or 15 %."
    if len(made) < 3:
        return f"Specimen {len(made) + 1} at another cell pressure; three circles make an envelope."
    return ""


def _cell(s: Sheared, k: int) -> str:
    row = int(s.rows[k])
    return f"shearing.{row}.force_n" if row >= 0 else f"specimens.{s.number - 1}.cell_kpa"
