"""What can be wrong in a borehole, and what to read next."""

from math import pi

import numpy as np

from vadum.soil.bench.filling import number_findings, order_findings
from vadum.soil.contract.finding import Finding
from vadum.soil.methods.borehole_permeability.findings import (
    ABOVE_WATER,
    AT_REST,
    FALLING_ONLY,
    LENGTH_DIFFERS,
    LONG_SECTION,
    NARROW_SECTION,
    NOT_CLEANED,
    NOT_LOCATED,
    NOT_STRAIGHT,
    ODD_LEVEL,
    PAST_REST,
    READ_ON,
    RUNS_APART,
    SHORT_SECTION,
    SLUG_DIFFERS,
    TURNED,
)
from vadum.soil.methods.borehole_permeability.readings import BoreholeReadings, BoreholeSettings
from vadum.soil.methods.borehole_permeability.runs import Run, Section
from vadum.soil.numbers.fit import line_fit, lines_fit
from vadum.soil.physics.borehole import Intake

# Hvorslev's factor of a section holds for lengths of more than four diameters.
_SLENDER, _LONG_M = 4.0, 5.0
_BEND, _APART, _SLUG = (0.8, 1.25), 2.0, 0.15
# Depths are taped to centimetres: more than this between them and the filter's own length is a slip.
_LENGTH, _LENGTH_M = 0.05, 0.05
_OFF_M, _OFF_TIMES = 0.02, 6.0


def section_findings(readings: BoreholeReadings, settings: BoreholeSettings) -> list[Finding]:
    """Return what is wrong with casing, section and the water at rest."""
    r = readings
    found: list[Finding] = []
    if r.services_located == "no":
        found.append(NOT_LOCATED.at("services_located"))
    if r.cleaned == "no":
        found.append(NOT_CLEANED.at("cleaned"))
    if r.casing_mm is not None and r.section_mm is not None and r.section_mm < r.casing_mm:
        found.append(NARROW_SECTION.at("section_mm", "casing_mm", section_mm=r.section_mm, casing_mm=r.casing_mm))
    by_length = settings.intake in (Intake.SECTION, Intake.SECTION_BOUNDARY)
    if by_length and r.top_m is not None and r.base_m is not None:
        length = r.base_m - r.top_m
        if length <= 0:
            found.append(TURNED.at("top_m", "base_m", top_m=r.top_m, base_m=r.base_m))
        elif r.section_mm and (x := 1000 * length / r.section_mm) < _SLENDER and not r.odd_because:
            found.append(SHORT_SECTION.at("top_m", "base_m", ratio=x, least=_SLENDER))
        elif length > _LONG_M and not r.odd_because:
            found.append(LONG_SECTION.at("top_m", "base_m", length=length, most=_LONG_M))
        if r.length_m is not None and abs(length - r.length_m) > max(_LENGTH * r.length_m, _LENGTH_M):
            found.append(LENGTH_DIFFERS.at("top_m", "base_m", "length_m", between=length, taped=r.length_m))
    upper = "top_m" if by_length else "base_m"
    depth = getattr(r, upper)
    if r.rest_m is not None and depth is not None and r.rest_m >= depth and not r.odd_because:
        found.append(ABOVE_WATER.at("rest_m", upper, rest_m=r.rest_m, depth=depth))
    return found


def run_findings(readings: BoreholeReadings, settings: BoreholeSettings, made: list[Run]) -> list[Finding]:
    """Return what is wrong with the levels of the runs."""
    found = number_findings(readings.levels)
    for run in made:
        fill, number = run.fill, run.fill.number
        found += order_findings([fill], rises=run.above)
        if run.head_m[0] <= 0:
            found.append(AT_REST.at(fill.cell(0), "rest_m", number=number))
        past = np.flatnonzero(run.head_m < -0.01)
        if len(past) and run.head_m[0] > 0:
            k = int(past[0])
            found.append(
                PAST_REST.at(
                    fill.cell(k), "rest_m", number=number, rest_m=readings.rest_m, to_min=float(fill.minutes[k])
                )
            )
        found += _odd(run)
        if run.bend is not None and not _BEND[0] <= run.bend <= _BEND[1]:
            rest = "" if run.rest_m is None else f" It would be straight for a rest of {run.rest_m:.2f} m."
            found.append(NOT_STRAIGHT.at(fill.cell(-1), "rest_m", number=number, factor=run.bend, rest=rest))
        if 100 * run.left > settings.left_percent:
            left = 100 * run.left
            found.append(READ_ON.at(fill.cell(-1), number=number, left=left, percent=settings.left_percent))
    if made and readings.slug_l is not None and readings.casing_mm is not None:
        moved = readings.slug_l / 1000 / (pi / 4 * (readings.casing_mm / 1000) ** 2)
        head = float(made[0].head_m[0])
        if abs(moved - head) > max(_SLUG * head, 0.02):
            cells = ("slug_l", "casing_mm")
            found.append(SLUG_DIFFERS.at(*cells, slug=readings.slug_l, moved=moved, head=head))
    if made and all(run.above for run in made):
        found.append(FALLING_ONLY.at("levels"))
    return found


def _odd(run: Run) -> list[Finding]:
    """Return the levels that lie off the line of all others."""
    minutes, heads, rows = run.fill.minutes[run.used], run.head_m[run.used], np.flatnonzero(run.used)
    if len(minutes) < 5 or not run.fill.in_order:
        return []
    logs, each = np.log(heads), np.arange(len(minutes))
    # Each on a line through its four neighbours alone: ln H may bend and be right.
    five = np.clip(each - 2, 0, len(each) - 5)[:, None] + np.arange(5)
    near = five[five != each[:, None]].reshape(-1, 4)
    intercepts, slopes = lines_fit(minutes[near], logs[near])
    offs = np.abs(heads - np.exp(intercepts + slopes * minutes))
    found = []
    for k in np.flatnonzero(offs > np.maximum(_OFF_M, 0.06 * heads)).tolist():
        rough = line_fit(minutes[each != k], logs[each != k])
        if rough is not None and offs[k] > _OFF_TIMES * float(np.median(np.abs(rough.residuals))) * heads[k]:
            found.append((float(offs[k]), k))
    if not found:
        return []
    off, k = max(found)
    cell = int(rows[k])
    return [
        ODD_LEVEL.at(
            run.fill.cell(cell),
            f"levels.{run.fill.rows[cell]}.elapsed_min",
            number=run.fill.number,
            minutes=float(minutes[k]),
            off=1000 * off,
        )
    ]


def runs_findings(found: list[tuple[Run, float]]) -> list[Finding]:
    """Return what is wrong with the runs beside each other."""
    values = [k for _, k in found]
    if len(values) < 2 or (factor := max(values) / min(values)) <= _APART:
        return []
    return [RUNS_APART.at("levels", factor=factor, least=min(values), most=max(values))]


def next_step(readings: BoreholeReadings, settings: BoreholeSettings, section: Section | None, made: list[Run]) -> str:
    """Return the next thing to do at the borehole."""
    if readings.services_located is None:
        return "Locate cables and pipes before you drill; say so here."
    if readings.rest_m is None:
        return "Wait until the water stands, and measure down to it from the top of the casing."
    if section is None:
        return "Measure the casing inside, the section's diameter, where it begins and ends."
    if not made:
        return "Put water in, or bail it, by half a metre or more; read the level at once and often, then rarer."
    run = made[-1]
    if 100 * run.left > settings.left_percent:
        return f"Run {run.fill.number}: read on, {100 * run.left:.0f} % of the head is left."
    return ""


def run_words(run: Run, section: Section | None, settings: BoreholeSettings) -> str:
    """Return what run mode says of a run."""
    k = run.k_m_s(section, settings.by) if section is not None else None
    left = f"{100 * run.left:.0f} % left"
    return left if k is None else f"{left}, k {k:.1e} m/s"
