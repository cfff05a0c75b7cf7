"""What can be wrong with a shear-box test, and what to do next."""

from functools import partial
from itertools import pairwise

import numpy as np

from vadum.soil.bench.peak import taken_off, unread
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.rows import next_part
from vadum.soil.methods.direct_shear.findings import (
    COHESION_NEGATIVE,
    DENSITIES_APART,
    DENSITY_IMPOSSIBLE,
    DIAL_BEGAN,
    DRY_HEAVIER,
    ENDED_EARLY,
    FORCE_IN_KG,
    HANGER_MISSING,
    LIMITS_TURNED,
    ONE_PASS,
    ORDER_ODD,
    PASS_HIGHER,
    RELATIVE_ODD,
    SCREWS_LEFT_IN,
    SPECIMEN_OFF,
    SPIKE,
    STILL_FALLING,
    STILL_RISING,
    STRESSES_CLOSE,
    TOO_FAST,
    TOO_FEW_STRESSES,
    TRAVEL_BACK,
    VERTICAL_REVERSED,
    ZERO_NOT_TAKEN,
)
from vadum.soil.methods.direct_shear.readings import DirectShearReadings, Screws
from vadum.soil.methods.direct_shear.settings import DirectShearSettings
from vadum.soil.methods.direct_shear.specimens import Sheared, without_load
from vadum.soil.methods.direct_shear.states import State
from vadum.soil.physics.envelope import Issued, envelope

_ZERO_KPA = 3.0
_TREMBLES_MM, _WRITTEN_MM = 0.05, 0.01
_SPIKE, _EARLY = 1.25, 0.10
_LOOSEST, _DENSEST = -10.0, 115.0
_CONTRACTS, _SOFTENS = 1.0, 0.08
_KG_RATIO = 0.14
_LEAST, _SPAN = 3, 2.0
# One end of a test is that of another where both were sheared about as far, or where nothing changes any more.
_AS_FAR, _EARLIER, _FALLS = 0.75, 0.75, 0.03
# A specimen off the line of the others by more of its strength has another load, or is another soil.
_OFF_LINE = 0.10


def setup_findings(
    readings: DirectShearReadings, settings: DirectShearSettings, states: dict[int, State]
) -> list[Finding]:
    """Return what is wrong with box and specimens."""
    found: list[Finding] = []
    if readings.screws == Screws.LEFT_IN:
        found.append(SCREWS_LEFT_IN.at("screws"))
    for k, out in enumerate(readings.after):
        if out.used and out.screws == Screws.LEFT_IN:
            found.append(SCREWS_LEFT_IN.at(f"after.{k}.screws"))
    if any(row.dead_mass_kg is not None for row in readings.specimens) and readings.hanger_kg is None:
        found.append(HANGER_MISSING.at("hanger_kg"))
    loosest, densest = readings.loosest_g_cm3, readings.densest_g_cm3
    if loosest and densest and densest <= loosest:
        found.append(LIMITS_TURNED.at("loosest_g_cm3", "densest_g_cm3", loosest=loosest, densest=densest))
    densities = {k: state.density for k, state in states.items()}
    for k, rho in densities.items():
        if not 0.8 <= rho <= 2.8:
            found.append(DENSITY_IMPOSSIBLE.at(f"specimens.{k - 1}.mass_after_g", number=k, rho=rho))
    if len(densities) > 1:
        mean = sum(densities.values()) / len(densities)
        far = max(densities, key=lambda k: abs(densities[k] - mean))
        off = 100 * (max(densities.values()) - min(densities.values())) / mean
        if off > settings.apart_percent:
            found.append(
                DENSITIES_APART.at(
                    f"specimens.{far - 1}.mass_after_g", off=off, far=far, densitie=densities[far], mean=mean
                )
            )
    for k, state in states.items():
        row = readings.specimens[k - 1]
        if state.water_content is not None and state.water_content < 0:
            moist = (row.mass_before_g or 0) - (row.mass_after_g or 0)
            dry = readings.after[k - 1].mass_dry_g
            found.append(DRY_HEAVIER.at(f"after.{k - 1}.mass_dry_g", number=k, dry=dry, moist=moist))
        relative = state.relative_density
        if relative is not None and not _LOOSEST <= relative <= _DENSEST:
            found.append(RELATIVE_ODD.at(f"after.{k - 1}.mass_dry_g", number=k, relative=relative))
    return found


def passes_findings(made: list[Sheared], settings: DirectShearSettings) -> list[Finding]:
    """Return what keeps the passes of the specimens from saying the residual strength."""
    found: list[Finding] = []
    for s in made if settings.reversals else []:
        apart, within, last = s.apart_percent, settings.passes_within_percent, _cell(s, -1)
        if apart is None:
            found.append(ONE_PASS.at(last, number=s.number))
        elif apart > within:
            found.append(STILL_FALLING.at(last, number=s.number, apart=apart, within=within))
        elif apart < -within:
            found.append(PASS_HIGHER.at(last, number=s.number, apart=-apart))
    return found


def record_findings(readings: DirectShearReadings, settings: DirectShearSettings, made: list[Sheared]) -> list[Finding]:
    """Return what is wrong with single records."""
    found: list[Finding] = []
    side = readings.side_mm or 1.0
    for s in made:
        first, last = _cell(s, 0), _cell(s, -1)
        travelled = 100 * float(s.horizontal_mm[-1]) / side
        if s.rising and travelled < settings.travel_percent:
            found.append(
                STILL_RISING.at(
                    last,
                    number=s.number,
                    horizontal_mm=s.horizontal_mm[-1],
                    travelled=travelled,
                    travel_percent=settings.travel_percent,
                )
            )
        # A logger's gauge trembles; a hand does not write that down.
        trembles = _TREMBLES_MM if s.rows[0] < 0 else _WRITTEN_MM
        if s.began_mm:
            found.append(DIAL_BEGAN.at(_cell(s, 0, "horizontal_mm"), number=s.number, began=s.began_mm))
        if (np.diff(s.horizontal_mm) < -trembles).any():
            back = int(np.argmax(np.diff(s.horizontal_mm) < -trembles)) + 1
            found.append(TRAVEL_BACK.at(_cell(s, back), number=s.number, horizontal_mm=s.horizontal_mm[back]))
            continue
        if s.horizontal_mm[0] < 0.05 and abs(s.shear_kpa[0]) > max(_ZERO_KPA, 0.05 * s.peak_kpa):
            found.append(ZERO_NOT_TAKEN.at(first, number=s.number, shear_kpa=s.shear_kpa[0]))
        who, at = f"Specimen {s.number}: ", partial(_cell, s)
        found += taken_off(s.shear_kpa, who, at, breaks=False)
        found += unread(100 * s.horizontal_mm / side, s.shear_kpa, who, at, "travel")
        over = s.peak_kpa / s.end_kpa - 1 if s.end_kpa > 0 else 0.0
        if s.dilation_deg is not None and s.dilation_deg < -_CONTRACTS and over > _SOFTENS:
            # What is stronger at the peak than at the end owes it to dilation: Bolton (1986), Géotechnique 36.
            found.append(
                VERTICAL_REVERSED.at(
                    _cell(s, -1, "vertical_mm"), number=s.number, degrees=-s.dilation_deg, over=100 * over
                )
            )
        if _spike(s):
            found.append(SPIKE.at(first, number=s.number))
    found += _ended_early(made)
    if made and all(s.peak_kpa < _KG_RATIO * s.normal_kpa for s in made):
        found.append(FORCE_IN_KG.at(_cell(made[0], 0), percent=100 * made[0].peak_kpa / made[0].normal_kpa))
    return found


def _ended_early(made: list[Sheared]) -> list[Finding]:
    """Return the specimens whose end is not that of the others: sheared less far, and still losing strength there."""
    longest = max((float(s.horizontal_mm[-1]) for s in made), default=0.0)
    found = []
    for s in made:
        ended = float(s.horizontal_mm[-1])
        before = float(np.interp(_EARLIER * ended, s.horizontal_mm, s.shear_kpa))
        if ended < _AS_FAR * longest and s.passed and before > (1 + _FALLS) * s.end_kpa > 0:
            found.append(ENDED_EARLY.at(_cell(s, -1), number=s.number, ended=ended, longest=longest))
    return found


def _spike(s: Sheared) -> bool:
    """Return whether the stress falls far at the very start and rises again: a soil rises once to its peak."""
    if s.horizontal_mm[-1] <= 0:
        return False  # it did not travel, which is said elsewhere
    share = s.horizontal_mm / float(s.horizontal_mm[-1])
    i = int(np.argmax(np.where(share <= _EARLY, s.shear_kpa, -np.inf)))
    after = s.shear_kpa[i:][share[i:] <= _EARLY + share[i]]
    j = i + int(np.argmin(after))
    low = float(s.shear_kpa[j])
    again = float(s.shear_kpa[j:].max())
    return float(s.shear_kpa[i]) > max(_SPIKE * low, 0.3 * again) and again > _SPIKE * low


def envelope_findings(made: list[Sheared], peak: Issued | None, settings: DirectShearSettings) -> list[Finding]:
    """Return what is wrong with the specimens as a set."""
    found: list[Finding] = []
    if not made:
        return found
    stresses = sorted(s.normal_kpa for s in made)
    if len({round(x, 1) for x in stresses}) < _LEAST:
        found.append(TOO_FEW_STRESSES.at(count=len({round(x, 1) for x in stresses}), least=_LEAST))
    elif stresses[-1] < _SPAN * stresses[0]:
        found.append(STRESSES_CLOSE.at(least=stresses[0], largest=stresses[-1], factor=_SPAN))
    if peak is not None and len(made) >= _LEAST:
        if settings.cohesion == "free" and peak.below is not None and peak.doubtful:
            below = peak.below
            found.append(COHESION_NEGATIVE.at("specimens", cohesion=below.cohesion_kpa, phi=below.friction_deg))
        # Whether or not a line through the origin is drawn: one specimen lies off what the others say.
        off = [(s.peak_kpa - _line_of_others(s, made), s) for s in made]
        worst, far = max(off, key=lambda pair: abs(pair[0]) / pair[1].peak_kpa if pair[1].peak_kpa > 0 else 0.0)
        if abs(worst) > _OFF_LINE * far.peak_kpa:
            found.append(
                SPECIMEN_OFF.at(
                    f"specimens.{far.number - 1}.dead_mass_kg",
                    number=far.number,
                    off=abs(worst),
                    side="above" if worst > 0 else "below",
                )
            )
    for a, b in pairwise(sorted(made, key=lambda s: s.normal_kpa)):
        if b.normal_kpa > 1.2 * a.normal_kpa and b.peak_kpa < a.peak_kpa:
            found.append(
                ORDER_ODD.at(
                    f"specimens.{b.number - 1}.dead_mass_kg",
                    number=b.number,
                    normal_kpa=b.normal_kpa,
                    a_number=a.number,
                    a_normal_kpa=a.normal_kpa,
                )
            )
    return found


def _line_of_others(s: Sheared, made: list[Sheared]) -> float:
    """Return the shear stress that the other specimens say for the normal stress of one, kPa."""
    others = [one for one in made if one is not s]
    line = envelope([o.peak_normal_kpa for o in others], [o.peak_kpa for o in others])
    return line.at(s.peak_normal_kpa) if line is not None else s.peak_kpa


def rate_findings(readings: DirectShearReadings) -> list[Finding]:
    """Return a warning when drained clay is sheared faster than its consolidation allows."""
    if readings.soil != "clay" or readings.t50_min is None or readings.rate_mm_min is None:
        return []
    # Failure within a few mm must take 50 t50. ASTM D3080 (2011), clause 9.
    fastest = 5.0 / (50 * readings.t50_min)
    if readings.rate_mm_min <= 1.05 * fastest:
        return []
    return [TOO_FAST.at("rate_mm_min", rate_mm_min=readings.rate_mm_min, t50_min=readings.t50_min, fastest=fastest)]


def next_step(readings: DirectShearReadings, settings: DirectShearSettings, made: list[Sheared]) -> str:
    """Return the next thing to do at the box."""
    if readings.side_mm is None:
        return "Measure the box; weigh hanger and cap; fill the first specimen to a known mass and height."
    if (unknown := without_load(readings, settings)) is not None:
        return f"Type the dead mass that stood on specimen {unknown} while it was sheared."
    if len(made) < _LEAST:
        following = next_part(readings.specimens, {one.number for one in made})
        if readings.rate_mm_min is None:
            slow = f"{5.0 / (50 * readings.t50_min):.2g}" if readings.t50_min else "1"
            return (
                f"Load specimen {following}, take the screws out, lift the upper half by a grain, zero, shear at"
                f" about {slow} mm/min."
            )
        return f"Shear specimen {following} under another load: three at least, the largest twice the smallest or more."
    return ""


def _cell(s: Sheared, k: int, key: str = "") -> str:
    row = int(s.rows[k])
    return f"record.{row}.{key or s.force_key}" if row >= 0 else f"specimens.{s.number - 1}.dead_mass_kg"
