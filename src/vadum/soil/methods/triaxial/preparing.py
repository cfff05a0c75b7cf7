"""Specimens as measured: calipers and trimmings, gathered by specimen."""

from vadum.soil.bench.cylinder.specimen import Specimen, specimen_findings, specimen_of
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.rows import numbered
from vadum.soil.methods.triaxial.findings import CALIPERS_DIFFER, NO_TRIMMINGS
from vadum.soil.methods.triaxial.readings import TriaxialReadings

_DIFFER = 0.005


def measured(readings: TriaxialReadings, tins: dict[str, float]) -> dict[int, Specimen]:
    """Return the specimens of which calipers or trimmings are read, by number; a blank number stands for the one
    above."""
    made, measures, weighings = {}, numbered(readings.calipers), numbered(readings.tins)
    for k in range(1, len(readings.specimens) + 1):
        calipers = [row for _, number, row in measures if number == k]
        trimmings = [row for _, number, row in weighings if number == k]
        if calipers or trimmings:
            made[k] = specimen_of(readings.specimens[k - 1].mass_g, calipers, trimmings, tins)
    return made


def sized(readings: TriaxialReadings, made: dict[int, Specimen]) -> TriaxialReadings:
    """Return the readings with blank diameters and lengths filled from the calipers."""
    rows = []
    for k, row in enumerate(readings.specimens, 1):
        mean = made.get(k)
        found = {
            "diameter_mm": row.diameter_mm or (mean.diameter_mm if mean else None),
            "length_mm": row.length_mm or (mean.length_mm if mean else None),
        }
        rows.append(row.model_copy(update=found))
    return readings.model_copy(update={"specimens": rows})


def preparation_findings(readings: TriaxialReadings, made: dict[int, Specimen], gs: float) -> list[Finding]:
    """Return what is wrong with the specimens as cut, and where a typed size is not what the calipers say."""
    found, measures = [], numbered(readings.calipers)
    for k, specimen in made.items():
        row = next((i for i, number, _ in measures if number == k), 0)
        found += specimen_findings(
            specimen, gs, who=f"Specimen {k}: ", calipers=f"calipers.{row}", mass=f"specimens.{k - 1}.mass_g"
        )
        typed = readings.specimens[k - 1]
        for name, value, mean in (
            ("diameter", typed.diameter_mm, specimen.diameter_mm),
            ("length", typed.length_mm, specimen.length_mm),
        ):
            if value is not None and mean is not None and abs(value / mean - 1) > _DIFFER:
                found.append(
                    CALIPERS_DIFFER.at(f"specimens.{k - 1}.{name}_mm", number=k, name=name, typed=value, mean=mean)
                )
    if any(row.mass_g for row in readings.specimens) and not readings.tins:
        found.append(NO_TRIMMINGS.at("tins.0.mass_tin_wet_g"))
    return found
