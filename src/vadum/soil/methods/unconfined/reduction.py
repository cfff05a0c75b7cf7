"""From shortening and force to the unconfined strength."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from vadum.soil.bench.cylinder.begins import BEGUN_LATE, ZERO_NOT_TAKEN, begun_late, stood_before
from vadum.soil.bench.cylinder.failure import Failed, failure_figure
from vadum.soil.bench.cylinder.specimen import Specimen, specimen_findings, specimen_of, specimen_parameters, too_short
from vadum.soil.bench.particle import particle_density
from vadum.soil.bench.peak import LEAST_PERCENT, taken_off, unread
from vadum.soil.bench.weighing import weighing_findings
from vadum.soil.contract.by_hand import unexplained
from vadum.soil.contract.derivation import Step
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.methods.unconfined.advice import failure_findings, next_step, run_findings
from vadum.soil.methods.unconfined.figure import stress_figure
from vadum.soil.methods.unconfined.findings import (
    BEDDING,
    BEYOND_LIMIT,
    HALF_UNREAD,
    PEAK_NOT_PASSED,
    REMOULDED_HIGHER,
    REMOULDED_UNFINISHED,
)
from vadum.soil.methods.unconfined.readings import LoadingRow, UnconfinedContext, UnconfinedReadings, UnconfinedSettings
from vadum.soil.methods.unconfined.results import (
    CONSISTENCY,
    E50,
    MINUTES_TO_FAILURE,
    QU,
    QU_REMOULDED,
    SENSITIVITY,
    SENSITIVITY_CLASS,
    STRAIN_PERCENT,
    SU,
)
from vadum.soil.physics import compression as cp
from vadum.soil.physics.compression import corrected_area_mm2
from vadum.soil.physics.peak import unread_before
from vadum.soil.physics.strength_classes import sensitivity_class, strength_class

_BEDDING_PERCENT = 0.3
_AT_LIMIT = 1e-6


def reduce_unconfined(
    readings: UnconfinedReadings, settings: UnconfinedSettings, context: UnconfinedContext
) -> Reduction:
    """Return all that specimen and loading say so far."""
    made = specimen_of(readings.mass_g, readings.calipers, readings.tins, context.tins)
    gs = particle_density(readings.particle_density, context.particle_density, settings.assumed_particle_density)
    curve = _curve(readings, made, settings)
    result = Reduction(
        school=(
            f"peak within {settings.limit_percent:g} %, corrected area, start"
            f" {'put right' if settings.toe else 'as read'}"
        ),
        findings=weighing_findings("tins", readings.tins, context.tins) + specimen_findings(made, gs.value),
        follows=["ASTM D2166"],
    )
    for table in ("loading", "remoulded"):
        result.findings += too_short(table, getattr(readings, table), made.length_mm)
    result.computed = _computed(readings, made)
    if curve is not None:
        _strength(result, readings, settings, curve, made)
    result.findings += run_findings(readings, settings, made, gs.value) + unexplained(
        settings, {"peak_percent": "the peak"}
    )
    result.parameters += specimen_parameters(made, gs.value)
    result.complete = curve is not None and result.parameter("qu") is not None
    result.figures = [stress_figure(readings, settings, curve, result)]
    if readings.failure is not None:
        result.figures.append(failure_figure([Failed(readings.failure, readings.plane_angle)]))
    result.next_step = next_step(readings, settings, made, curve)
    return result


def _columns(readings: UnconfinedReadings) -> tuple[np.ndarray, np.ndarray]:
    log = readings.log
    if log is not None and len(log):
        return np.asarray(log.shortening_mm), np.asarray(log.force_n)
    kept = [
        (r.shortening_mm, r.force_n)
        for r in readings.loading
        if r.used and r.shortening_mm is not None and r.force_n is not None
    ]
    both = np.array(kept, dtype=float).reshape(-1, 2)
    return both[:, 0], both[:, 1]


def _curve(readings: UnconfinedReadings, made: Specimen, settings: UnconfinedSettings) -> cp.Curve | None:
    short, force = _columns(readings)
    if len(short) < 3 or made.length_mm is None or made.area_mm2 is None or float(np.max(force)) <= 0:
        return None
    found = cp.stress_strain(short, force, made.length_mm, made.area_mm2)
    return cp.Curve(found.strain_percent, found.stress_kpa, cp.toe_percent(found)) if settings.toe else found


def _computed(readings: UnconfinedReadings, made: Specimen) -> dict[str, float | str]:
    computed: dict[str, float | str] = {}
    for table in ("loading", "remoulded"):
        for i, row in enumerate(getattr(readings, table)):
            stress = _stress(row, made)
            if stress is not None and made.length_mm is not None:
                computed[f"{table}.{i}.strain_percent"] = 100 * row.shortening_mm / made.length_mm
                computed[f"{table}.{i}.stress_kpa"] = stress
    return computed


def _stress(row: LoadingRow, made: Specimen) -> float | None:
    if row.shortening_mm is None or row.force_n is None or made.length_mm is None or made.area_mm2 is None:
        return None
    return row.force_n * (1 - row.shortening_mm / made.length_mm) / made.area_mm2 * 1000


def _strength(
    result: Reduction, readings: UnconfinedReadings, settings: UnconfinedSettings, curve: cp.Curve, made: Specimen
) -> None:
    result.findings += _beyond_limit("loading", curve, settings)
    strain, qu, passed = cp.peak(curve, settings.limit_percent, settings.peak_fall_percent)
    if settings.peak_percent is not None:
        strain, qu = settings.peak_percent, curve.at(settings.peak_percent)
    last = float(curve.strain_percent[-1] - curve.start_percent)
    if not passed and last < settings.limit_percent - 1e-6:
        result.findings.append(
            PEAK_NOT_PASSED.at(_last_cell(readings), last=last, limit_percent=settings.limit_percent)
        )
    rows = [] if readings.log is not None and len(readings.log) else readings.loading
    result.findings += _record_findings("loading", *_columns(readings), rows, made.length_mm or 1.0)
    bedding = cp.toe_percent(curve)
    if not settings.toe and bedding > _BEDDING_PERCENT:
        result.findings.append(BEDDING.at("loading.0.shortening_mm", bedding=bedding))
    basis = "ASTM D2166"
    how = _how(strain - curve.start_percent, settings, passed=passed)
    result.parameters = [QU.of(qu, how=how), SU.of(qu / 2), STRAIN_PERCENT.of(strain - curve.start_percent)]
    stiffness = cp.secant_modulus_mpa(curve, qu)
    if stiffness is not None:
        result.parameters.append(E50.of(stiffness))
        k = int(np.argmax(curve.stress_kpa >= qu / 2))
        if k in unread_before(curve.strain_percent, LEAST_PERCENT):
            low, high = curve.strain_percent[k - 1 : k + 1] - curve.start_percent
            result.findings.append(HALF_UNREAD.at("loading", low=low, high=high))
    words = settings.strength_words
    result.parameters.append(CONSISTENCY.word(strength_class(qu / 2, words), basis=words.label))
    if readings.rate_mm_min and made.length_mm:
        minutes = (strain - curve.start_percent) / 100 * made.length_mm / readings.rate_mm_min
        result.parameters.append(MINUTES_TO_FAILURE.of(minutes))
        result.findings += failure_findings(minutes)
    _remoulded(result, readings, settings, made, qu)
    short = strain / 100 * (made.length_mm or 0)
    area = float(cp.corrected_area_mm2(made.area_mm2 or 1, strain / 100))
    result.derivation += [
        Step.of(
            corrected_area_mm2,
            put_in=f"{made.area_mm2:.1f} / (1 − {strain / 100:.4f})",
            result=f"{area:.1f}",
            unit="mm²",
            basis=basis,
            about="at failure",
        ),
        Step(
            symbol="qu",
            formula="qu = F / A",
            put_in=f"{qu * area / 1000:.1f} N at {short:.2f} mm / {area:.1f} mm²",
            result=f"{qu:.2f}",
            unit="kPa",
            basis=basis,
            about=how,
        ),
        Step(
            symbol="su", formula="su = qu / 2", put_in=f"{qu:.2f} / 2", result=f"{qu / 2:.2f}", unit="kPa", basis=basis
        ),
    ]


def _how(strain_percent: float, settings: UnconfinedSettings, *, passed: bool) -> str:
    """Return in words which stress the strength is."""
    limit = f"{settings.limit_percent:g} %"
    if settings.peak_percent is not None:
        return "peak by hand"
    if passed:
        return "peak"
    return f"at {limit}" if strain_percent > settings.limit_percent - _AT_LIMIT else f"largest within {limit}"


def _beyond_limit(table: str, curve: cp.Curve, settings: UnconfinedSettings) -> list[Finding]:
    """Return that no reading lies within the limit: a strength at the limit would be one that nobody read."""
    first = float((curve.strain_percent - curve.start_percent).min())
    if first <= settings.limit_percent:
        return []
    values = {"table": table.capitalize(), "first": first, "limit_percent": settings.limit_percent}
    return [BEYOND_LIMIT.at(f"{table}.0.shortening_mm", **values)]


def _record_findings(
    table: str, short: NDArray[np.float64], force: NDArray[np.float64], rows: Sequence[LoadingRow], length_mm: float
) -> list[Finding]:
    """Return what a run does not show, its beginning or its peak, and a load that was taken off; ``rows`` are those
    typed, none of a logged one."""
    read = [i for i, row in enumerate(rows) if row.used and row.shortening_mm is not None and row.force_n is not None]
    cells = [f"{table}.{i}.force_n" for i in read] or ["log"] * len(force)
    percent, found = 100 * short / length_mm, []
    who = "Remoulded: " if table == "remoulded" else ""
    if stood := stood_before(short, force):
        found.append(ZERO_NOT_TAKEN.at(cells[0], who=who, force=stood, most=max(force)))
    elif begun_late(short, force):
        found.append(BEGUN_LATE.at(cells[0], who=who, began=short[0], force=force[0], most=max(force)))
    at = cells.__getitem__
    return found + taken_off(force, who, at, breaks=True) + unread(percent, force, who, at, "shortening")


def _remoulded(
    result: Reduction, readings: UnconfinedReadings, settings: UnconfinedSettings, made: Specimen, qu: float
) -> None:
    rows = [r for r in readings.remoulded if r.used and r.shortening_mm is not None and r.force_n is not None]
    length, across = readings.remoulded_length_mm or made.length_mm, readings.remoulded_diameter_mm
    area = made.area_mm2 if across is None else float(np.pi) / 4 * across**2
    if len(rows) < 3 or length is None or area is None:
        return
    short, force = (np.array([getattr(r, name) for r in rows]) for name in ("shortening_mm", "force_n"))
    curve = cp.stress_strain(short, force, length, area)
    result.findings += _record_findings("remoulded", short, force, readings.remoulded, length)
    result.findings += _beyond_limit("remoulded", curve, settings)
    _, left, passed = cp.peak(curve, settings.limit_percent, settings.peak_fall_percent)
    last = float(curve.strain_percent[-1])
    if not passed and last < settings.limit_percent - 1e-6:
        result.findings.append(
            REMOULDED_UNFINISHED.at(
                f"remoulded.{len(readings.remoulded) - 1}.force_n", last=last, limit_percent=settings.limit_percent
            )
        )
    result.parameters.append(QU_REMOULDED.of(left))
    if left > 0:
        result.parameters += [SENSITIVITY.of(qu / left), _class_of(qu / left, settings)]
    if left > qu:
        result.findings.append(REMOULDED_HIGHER.at("remoulded.0.force_n", left=left, qu=qu))


def _class_of(sensitivity: float, settings: UnconfinedSettings) -> Parameter:
    words = settings.sensitivity_words
    return SENSITIVITY_CLASS.word(sensitivity_class(sensitivity, words), basis=words.label)


def _last_cell(readings: UnconfinedReadings) -> str:
    return f"loading.{max(0, len(readings.loading) - 1)}.force_n"
