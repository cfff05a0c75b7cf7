"""What is read at the jack of a plate: the pressure below the plate, a force, or the pump's oil pressure."""

from collections.abc import Sequence
from typing import Any, Protocol

from vadum.soil.choice import Choice
from vadum.soil.contract.field import HARMLESS, reading
from vadum.soil.contract.finding import Finding, stop
from vadum.soil.physics.plate import pressure_kpa


class LoadAs(Choice):
    """What is read at the jack."""

    PRESSURE = "pressure", "pressure below the plate"
    FORCE = "force", "force of the jack"
    PUMP = "pump", "oil pressure of the pump"


class Loaded(Protocol):
    """A row that says how the plate is loaded."""

    pressure_kpa: float | None
    force_kn: float | None
    pump_bar: float | None


TWO_LOADS = stop(
    "two-loads",
    "Row {number}: the {what} is {by:.0f kPa}, {typed:g kPa} is typed beside it.",
    "Clear one of the two; look at the areas of piston and plate.",
)
LOAD_ELSEWHERE = stop(
    "load-elsewhere",
    "{count} rows say {what}, and the school reads the {read}.",
    "Say under School how the load is typed.",
)
PISTON_MISSING = stop(
    "piston-missing",
    "The oil pressure is no pressure below the plate: the piston's area is missing.",
    "Type the area of the jack's piston.",
)
_APART = 0.05


def force_reading() -> Any:
    """Declare the force of the jack in a row."""
    return reading(
        "jack",
        "kN",
        about="force of the jack; the pressure is worked out from the plate's area",
        low=0,
        high=2000,
        resolution=0.1,
        also=("force", "jack force", "load"),
        shown={"load_as": [LoadAs.FORCE]},
        absent=HARMLESS,
    )


def pump_reading() -> Any:
    """Declare the oil pressure of the pump in a row."""
    return reading(
        "pump",
        "bar",
        about="oil pressure; the pressure is worked out from the areas of piston and plate",
        low=0,
        high=1000,
        resolution=1,
        also=("oil pressure", "pump pressure"),
        shown={"load_as": [LoadAs.PUMP]},
        absent=HARMLESS,
    )


def piston_reading() -> Any:
    """Declare the area of the jack's piston."""
    return reading(
        "piston",
        "cm²",
        about="area of the jack's piston, for the pump's gauge",
        low=1,
        high=2000,
        absent=HARMLESS,
        piece=True,
    )


def pressure_of(row: Loaded, load_as: LoadAs, area_m2: float, piston_cm2: float | None) -> float | None:
    """Return the pressure below the plate in kPa: as typed, else by the force or the oil pressure read."""
    if row.pressure_kpa is not None:
        return row.pressure_kpa
    return _by_jack(row, load_as, area_m2, piston_cm2)


def _by_jack(row: Loaded, load_as: LoadAs, area_m2: float, piston_cm2: float | None) -> float | None:
    if load_as == LoadAs.FORCE and row.force_kn is not None:
        return round(pressure_kpa(row.force_kn, area_m2), 2)
    if load_as == LoadAs.PUMP and row.pump_bar is not None and piston_cm2 is not None:
        return round(pressure_kpa(row.pump_bar * piston_cm2 / 100, area_m2), 2)
    return None


def _elsewhere(rows: Sequence[tuple[str, Loaded]], load_as: LoadAs) -> list[Finding]:
    """Return that loads stand in a column that the school does not read: a file may have brought them."""
    hidden = [
        (path, what)
        for path, row in rows
        for value, of, what in ((row.force_kn, LoadAs.FORCE, "a force"), (row.pump_bar, LoadAs.PUMP, "an oil pressure"))
        if value is not None and of != load_as and row.pressure_kpa is None
    ]
    if not hidden:
        return []
    path, what = hidden[0]
    return [LOAD_ELSEWHERE.at(f"{path}.pressure_kpa", count=len(hidden), what=what, read=load_as.label)]


def load_findings(
    rows: Sequence[tuple[str, Loaded]], load_as: LoadAs, area_m2: float, piston_cm2: float | None
) -> list[Finding]:
    """Return a pressure that the force or oil pressure beside it contradicts, and a piston nobody measured.

    Arguments
    ---------
    rows : path and row as typed
    """
    found = _elsewhere(rows, load_as)
    if load_as == LoadAs.PRESSURE:
        return found
    for path, row in rows:
        by, typed = _by_jack(row, load_as, area_m2, piston_cm2), row.pressure_kpa
        if by is not None and typed is not None and abs(by - typed) > _APART * max(by, typed):
            number = int(path.split(".")[1]) + 1
            found.append(TWO_LOADS.at(f"{path}.pressure_kpa", number=number, what=load_as.label, by=by, typed=typed))
    if load_as == LoadAs.PUMP and piston_cm2 is None and any(row.pump_bar is not None for _, row in rows):
        found.append(PISTON_MISSING.at("piston_cm2"))
    return found
