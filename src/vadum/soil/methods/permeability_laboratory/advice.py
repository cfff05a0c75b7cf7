"""What can be wrong at the cell, and what to measure next."""

from statistics import median

from vadum.soil.contract.finding import Finding
from vadum.soil.methods.permeability_laboratory.findings import (
    DENSITY_FAR,
    FALLS_WITH_TIME,
    FEW,
    GRAINS,
    NOT_DEAIRED,
    NOT_FALLEN,
    NOT_LAMINAR,
    NOT_SATURATED,
    ODD_ROW,
    ONE_HEAD,
    RISES_WITH_TIME,
    STEEP,
    TAPS,
    TOO_OPEN,
    TOO_TIGHT,
)
from vadum.soil.methods.permeability_laboratory.flow import Measured
from vadum.soil.methods.permeability_laboratory.readings import Head, PermeabilityReadings, PermeabilitySettings
from vadum.soil.numbers.fit import line_fit

# Beyond these gradients grains of sand begin to move, and clay is pressed together by the seepage: ASTM D2434, D5084.
_STEEPEST = {Head.CONSTANT: 1.5, Head.FALLING: 30.0}
_GRAINS, _LAMINAR, _HEADS_ALIKE = 8.0, (0.85, 1.2), 1.15
_TIGHT_M_S, _OPEN_M_S = 2e-6, 3e-4
_ODD, _FAR = 0.12, (90.0, 105.0)


def specimen_findings(readings: PermeabilityReadings, settings: PermeabilitySettings) -> list[Finding]:
    """Return what is wrong with the specimen, its cell and its water."""
    r = readings
    found: list[Finding] = []
    if r.saturated == "no":
        found.append(NOT_SATURATED.at("saturated"))
    if r.deaired == "no":
        found.append(NOT_DEAIRED.at("deaired"))
    constant = settings.head == Head.CONSTANT
    if constant and r.taps_mm is not None and r.length_mm is not None and r.taps_mm > r.length_mm:
        found.append(TAPS.at("taps_mm", "length_mm", taps_mm=r.taps_mm, length_mm=r.length_mm))
    if r.largest_mm is not None and r.diameter_mm is not None and r.diameter_mm < _GRAINS * r.largest_mm:
        found.append(GRAINS.at("largest_mm", "diameter_mm", largest_mm=r.largest_mm, diameter_mm=r.diameter_mm))
    return found


def row_findings(readings: PermeabilityReadings, settings: PermeabilitySettings, made: list[Measured]) -> list[Finding]:
    """Return what is wrong with single measurements."""
    found: list[Finding] = []
    if settings.head == Head.FALLING:
        for i, row in enumerate(readings.falls):
            if row.used and row.from_mm is not None and row.to_mm is not None and row.to_mm >= row.from_mm:
                cells = (f"falls.{i}.from_mm", f"falls.{i}.to_mm")
                found.append(NOT_FALLEN.at(*cells, row=i + 1, from_mm=row.from_mm, to_mm=row.to_mm))
    head, most = ("head_mm" if settings.head == Head.CONSTANT else "from_mm"), _STEEPEST[settings.head]
    for k, one in enumerate(made):
        place = f"{one.table}.{one.row}"
        if one.gradient > most:
            found.append(STEEP.at(f"{place}.{head}", row=one.row + 1, gradient=one.gradient, most=most))
        others = [other.k_ref_m_s for j, other in enumerate(made) if j != k]
        # What grows with time or with the gradient is another doubt: that is asked of its neighbours.
        beside = [other.k_ref_m_s for other in (*made[max(0, k - 1) : k], *made[k + 1 : k + 2])]
        near = median(others) if others else 0.0
        far = [abs(one.k_ref_m_s - other) > _ODD * other for other in (near, *beside)]
        if len(made) > 2 and all(far):
            second = "volume_cm3" if settings.head == Head.CONSTANT else "to_mm"
            all_cells = [f"{place}.{name}" for name in (head, second, "seconds", "temperature_c")]
            found.append(ODD_ROW.at(*all_cells, row=one.row + 1, k=one.k_ref_m_s, near=near))
    return found


def agreement_findings(settings: PermeabilitySettings, made: list[Measured]) -> list[Finding]:
    """Return what the measurements say beside each other."""
    found: list[Finding] = []
    if not made:
        return found
    if len(made) < settings.needed:
        found.append(FEW.at(made[0].table, count=len(made), needed=settings.needed))
    mean = sum(one.k_ref_m_s for one in made) / len(made)
    if len(made) >= settings.needed:
        drift = _drift(made) / mean
        if abs(drift) > settings.within_percent / 100:
            doubt = RISES_WITH_TIME if drift > 0 else FALLS_WITH_TIME
            found.append(doubt.at(made[0].table, percent=100 * abs(drift)))
    ratio = linearity(made)
    if ratio is not None and not _LAMINAR[0] <= ratio <= _LAMINAR[1] and not found:
        slopes = [one.gradient for one in made]
        found.append(NOT_LAMINAR.at(made[0].table, most=max(slopes), least=min(slopes), ratio=ratio))
    elif ratio is None and len(made) >= settings.needed and settings.head == Head.CONSTANT:
        found.append(ONE_HEAD.at(made[0].table))
    if settings.head == Head.CONSTANT and mean < _TIGHT_M_S:
        found.append(TOO_TIGHT.at(made[0].table, k=mean))
    if settings.head == Head.FALLING and mean > _OPEN_M_S:
        found.append(TOO_OPEN.at(made[0].table, k=mean))
    return found


def state_findings(degree: float) -> list[Finding]:
    """Return what is to be said of the density in which it was measured."""
    return [] if _FAR[0] <= degree <= _FAR[1] else [DENSITY_FAR.at("mass_dry_g", degree=degree)]


def linearity(made: list[Measured]) -> float | None:
    """Return the permeability at the largest gradient over that at the least; None where all are alike."""
    slopes = [one.gradient for one in made]
    if not slopes or max(slopes) < _HEADS_ALIKE * min(slopes):
        return None

    def mean(of: float) -> float:
        near = [one.k_ref_m_s for one in made if of / _HEADS_ALIKE < one.gradient < of * _HEADS_ALIKE]
        return sum(near) / len(near)

    return mean(max(slopes)) / mean(min(slopes))


def _drift(made: list[Measured]) -> float:
    """Return how far a straight line through k in the order of time goes from the first to the last."""
    fit = line_fit(range(len(made)), [one.k_ref_m_s for one in made])
    return fit.slope * (len(made) - 1) if fit else 0.0


def next_step(readings: PermeabilityReadings, settings: PermeabilitySettings, made: list[Measured]) -> str:
    """Return the next thing to do at the cell."""
    if readings.diameter_mm is None or readings.length_mm is None:
        return "Place the soil in the cell at the density that is asked; measure diameter and length."
    if settings.head == Head.CONSTANT and readings.taps_mm is None:
        return "Measure how far the two tubes stand apart along the specimen."
    if settings.head == Head.FALLING and readings.tube_mm is None:
        return "Measure the tube inside, or take it from the register."
    if not made:
        return "Drive the air out from below; open the water, wait until the outflow is steady, then measure."
    if len(made) < settings.needed:
        other = "under another head" if settings.head == Head.CONSTANT else "from the top mark again"
        return f"Measurement {len(made) + 1} of {settings.needed}: {other}."
    if readings.mass_dry_g is None:
        return "Dry the specimen and weigh it."
    return ""
