"""What can be wrong at the cell, and what to do next."""

from functools import partial
from itertools import pairwise

import numpy as np

from vadum.soil.bench.cylinder.begins import BEGUN_LATE, DIAL_BEGAN, WATER_BEGAN, ZERO_NOT_TAKEN
from vadum.soil.bench.peak import taken_off, unread
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.rows import next_part, numbered
from vadum.soil.methods.triaxial.draining import Drained, fastest_mm_min
from vadum.soil.methods.triaxial.findings import (
    AREAS_DIFFER,
    B_HIGH,
    B_LOW,
    CELL_NOT_ABOVE_BACK,
    CIRCLE_ODD,
    COHESION_NEGATIVE,
    DRAINING_UNREAD,
    DRY_HEAVIER,
    FINAL_MISSING,
    LEAK,
    NO_B,
    NO_PORE,
    NO_VOLUME,
    ONE_SPECIMEN,
    ORDER_ODD,
    PATCHED,
    PEAK_NOT_PASSED,
    PHI_UNDRAINED,
    PORE_ABOVE_CELL,
    PRESSURES_CLOSE,
    SLENDERNESS,
    TOO_FAST,
    TWO_SPECIMENS,
    UU_NOT_LEVEL,
)
from vadum.soil.methods.triaxial.readings import TriaxialReadings
from vadum.soil.methods.triaxial.settings import AreaRule, RateRule, TriaxialSettings
from vadum.soil.methods.triaxial.sizes import after_of, size_of
from vadum.soil.methods.triaxial.specimens import Sheared, without_pressure
from vadum.soil.physics import triaxial as tx
from vadum.soil.physics.envelope import Envelope, Issued

_LEAK_CM3_H = 0.1
# Blotting leaves water on a specimen or takes some out of it; more than this of the area is another mistake.
_AREAS = 0.05
_SPAN = 1.5
# A circle off the tangent of the others by more of its radius has another pressure, or is another soil.
_FAMILY = 0.15
# Undrained circles of one clay differ less, and grow less with the cell pressure.
_LEVEL, _PHI_U_DEG = 1.25, 3.0

LastB = dict[int, tuple[float, int]]


def b_values(readings: TriaxialReadings) -> LastB:
    """Return each specimen's last B and the row it was read at."""
    found: LastB = {}
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
    readings: TriaxialReadings, settings: TriaxialSettings, saturating: LastB, draining: list[Drained], shaped: set[int]
) -> list[Finding]:
    """Return what is wrong before shearing: saturation, pressures, leaks, rate; the ``shaped`` are judged by
    calipers."""
    found: list[Finding] = []
    for k, (b, row) in saturating.items():
        if b < settings.least_b and settings.kind != "UU":
            found.append(B_LOW.at(f"saturation.{row}.pore_kpa", number=k, b=b, least_b=settings.least_b))
        if b > 1.05:
            found.append(B_HIGH.at(f"saturation.{row}.pore_kpa", number=k, b=b))
    for i, specimen in enumerate(readings.specimens):
        if (
            settings.kind != "UU"
            and specimen.used
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
    return found + _unread(readings, draining) + _rate(readings, settings, draining)


def _unread(readings: TriaxialReadings, draining: list[Drained]) -> list[Finding]:
    """Return consolidations whose record misses the stretch that its times are constructed of; not where they are
    typed."""
    found = []
    for one in draining:
        stretch = one.unread_min
        if stretch is None or one.by_hand.t90_min or one.by_hand.t100_min:
            continue
        low, high = stretch
        rows = numbered(readings.consolidation)
        row = next(i for i, number, row in rows if number == one.number and row.elapsed_min == high and row.used)
        found.append(DRAINING_UNREAD.at(f"consolidation.{row}.elapsed_min", number=one.number, low=low, high=high))
    return found


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
        name, times = "t100", [one.t100_min for one in made]
    elif settings.kind == "CD":
        name, times = "t90", [one.t90_min for one in made]
    else:
        name, times = "t50", [one.t50_min for one in made]
    return f"{name} of {max(t for t in times if t is not None):.0f} min"


def shear_findings(settings: TriaxialSettings, saturating: LastB, made: list[Sheared]) -> list[Finding]:
    """Return what is wrong with the shearing of single specimens, and with their pressures."""
    found: list[Finding] = []
    for s in made:
        if settings.kind != "UU" and s.number not in saturating:
            found.append(NO_B.at(f"specimens.{s.number - 1}.back_kpa", number=s.number))
        if not s.pore_known:
            found.append(NO_PORE.at(f"specimens.{s.number - 1}.cell_kpa", number=s.number))
        if settings.kind == "CD" and len(s.volume_percent) and not s.volume_percent.any():
            row = int(s.rows[s.failure])
            found.append(NO_VOLUME.at(f"shearing.{row}.volume_cm3" if row >= 0 else "log", number=s.number))
        if s.stood_n:
            found.append(ZERO_NOT_TAKEN.at(_cell(s, 0), who=f"Specimen {s.number}: ", force=s.stood_n, most=s.most_n))
        if s.began_mm:
            found.append(DIAL_BEGAN.at(_cell(s, 0, "shortening_mm"), who=f"Specimen {s.number}: ", began=s.began_mm))
        if s.late:
            began, force = s.late
            late = BEGUN_LATE.at(_cell(s, 0), who=f"Specimen {s.number}: ", began=began, force=force, most=s.most_n)
            found.append(late)
        who, at = f"Specimen {s.number}: ", partial(_cell, s)
        found += taken_off(s.deviator_kpa, who, at, breaks=True)
        found += unread(s.strain_percent, s.deviator_kpa, who, at, "shortening")
        if s.out_cm3:
            found.append(WATER_BEGAN.at(_cell(s, 0, "volume_cm3"), who=f"Specimen {s.number}: ", out=s.out_cm3))
        cell = _cell(s, -1)
        if s.rising:
            found.append(
                PEAK_NOT_PASSED.at(
                    cell, number=s.number, strain_percent=s.strain_percent[-1], limit=settings.limit_percent
                )
            )
        if (s.pore_kpa > s.cell_kpa).any():
            found.append(PORE_ABOVE_CELL.at(cell, number=s.number))
    if len(made) < 2:
        return found
    minors = sorted(s.cell_kpa - (0.0 if settings.kind == "UU" else s.start_pore_kpa) for s in made)
    if minors[-1] < _SPAN * max(minors[0], 1.0):
        found.append(PRESSURES_CLOSE.at(least=minors[0], largest=minors[-1]))
    if settings.kind != "UU":
        for a, b in pairwise(sorted(made, key=lambda s: s.consolidated_kpa)):
            qa, qb = (float(s.deviator_kpa[s.failure]) for s in (a, b))
            if b.consolidated_kpa > 1.2 * a.consolidated_kpa and qb < qa:
                cell = f"specimens.{b.number - 1}.cell_kpa"
                pressures = {"more": b.consolidated_kpa, "less": a.consolidated_kpa}
                found.append(ORDER_ODD.at(cell, number=b.number, other=a.number, **pressures))
    return found


def envelope_findings(
    settings: TriaxialSettings, passed: list[Sheared], total: Envelope | None, effective: Issued | None
) -> list[Finding]:
    """Return what is wrong with the circles as a family, of the specimens that have passed."""
    if settings.kind == "UU":
        return _undrained(passed, total)
    found: list[Finding] = []
    if effective is not None and effective.below is not None and effective.doubtful:
        below = effective.below
        found.append(COHESION_NEGATIVE.at("specimens", cohesion=below.cohesion_kpa, phi=below.friction_deg))
    if len(passed) in (1, 2) and settings.two_because:
        found.append((ONE_SPECIMEN if len(passed) == 1 else TWO_SPECIMENS).at("specimens"))
    known = [s for s in passed if s.pore_known]
    if len(known) >= 3:
        off = {s.number: _off_others(s, known) for s in known}
        worst = max(off, key=lambda n: abs(off[n]))
        if abs(off[worst]) > _FAMILY:
            found.append(CIRCLE_ODD.at(f"specimens.{worst - 1}.cell_kpa", worst=worst, percent=100 * abs(off[worst])))
    return found


def _undrained(passed: list[Sheared], total: Envelope | None) -> list[Finding]:
    """Return what speaks against one cu for all circles."""
    if len(passed) < 2:
        return []
    radii = [s.circle(effective=False)[1] for s in passed]
    if max(radii) > _LEVEL * min(radii):
        return [UU_NOT_LEVEL.at("specimens", least=min(radii), largest=max(radii))]
    if total is not None and total.friction_deg > _PHI_U_DEG:
        return [PHI_UNDRAINED.at("specimens", phi=total.friction_deg)]
    return []


def _off_others(s: Sheared, known: list[Sheared]) -> float:
    """Return how far a circle's radius is from the one that would touch the tangent of the others, as a share of it."""
    circles = [one.circle(effective=True) for one in known if one is not s]
    line = tx.envelope_by_st([c for c, _ in circles], [r for _, r in circles])
    centre, radius = s.circle(effective=True)
    if line is None or radius <= 0:
        return 0.0
    phi = np.radians(line.friction_deg)
    return float((radius - (line.cohesion_kpa * np.cos(phi) + centre * np.sin(phi))) / radius)


def final_findings(readings: TriaxialReadings, settings: TriaxialSettings, gs: float) -> list[Finding]:
    """Return what is wrong with the specimens as they came out."""
    found: list[Finding] = []
    for k, row in enumerate(readings.specimens, 1):
        after, path = after_of(k, readings), f"after.{k - 1}"
        if not row.used:
            continue
        moist = after.mass_wet_g or row.mass_g
        if after.mass_dry_g and moist and after.mass_dry_g >= moist:
            found.append(DRY_HEAVIER.at(f"{path}.mass_dry_g", number=k, dry=after.mass_dry_g, moist=moist))
        if settings.area != AreaRule.FINAL or settings.kind == "UU" or row.cell_kpa is None:
            continue
        if not after.mass_dry_g or not after.mass_wet_g:
            cell = f"{path}.{'mass_dry_g' if after.mass_wet_g else 'mass_wet_g'}"
            found.append(FINAL_MISSING.at(cell, number=k))
            continue
        measured = settings.model_copy(update={"area": AreaRule.MEASURED})
        final, other = (size_of(k, readings, school, gs) for school in (settings, measured))
        if final is not None and other is not None and abs(final.area_mm2 / other.area_mm2 - 1) > _AREAS:
            found.append(AREAS_DIFFER.at(f"{path}.mass_wet_g", number=k, final=final.area_mm2, measured=other.area_mm2))
    return found


def next_step(
    readings: TriaxialReadings, settings: TriaxialSettings, draining: list[Drained], made: list[Sheared]
) -> str:
    """Return the next thing to do at the cell."""
    if not readings.specimens:
        return (
            "Boil the stones 10 min and cool them, take the membrane out of its water; trim, calipers at three heights"
            " both ways, weigh; a tin of trimmings."
        )
    if unknown := without_pressure(readings, settings):
        number, pressure = unknown
        return f"Type the {pressure} that specimen {number} was sheared under."
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
        limit = f"{settings.limit_percent:g} %"
        return f"Raise the cell pressure, wait 10 min, shear at about 1 % a minute to a peak or {limit}."
    following = next_part(readings.specimens, {s.number for s in made})
    if len(made) < 3 and not settings.two_because and consolidated:
        return f"Specimen {following} at another cell pressure; three circles make an envelope."
    if len(made) < 3 and not consolidated:
        return f"Specimen {following} at another cell pressure; undrained circles of one clay are alike."
    return ""


def _cell(s: Sheared, k: int, column: str = "force_n") -> str:
    row = int(s.rows[k])
    return f"shearing.{row}.{column}" if row >= 0 else f"specimens.{s.number - 1}.cell_kpa"
