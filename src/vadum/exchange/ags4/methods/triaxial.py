"""Fills TRIG and TRIT undrained, TREG and TRET with pore pressures."""

from statistics import fmean
from typing import Any

from vadum.exchange.ags4.parts import between, to_a_tenth
from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.contract.rows import numbered


def fill(t: Sent) -> list[Row]:
    return _total(t) if t.settings.kind == "UU" else _effective(t)


def _total(t: Sent) -> list[Row]:
    stages: list[dict[str, Any]] = [
        {
            "TRIT_TESN": str(k + 1),
            "TRIT_SDIA": _measured(t, k, "diameter_mm", ("top_mm", "middle_mm", "bottom_mm")),
            "TRIT_SLEN": _measured(t, k, "length_mm", ("length_mm",)),
            "TRIT_IMC": to_a_tenth(_water(t, k)),
            "TRIT_CELL": specimen.cell_kpa,
            "TRIT_DEVF": deviator,
            "TRIT_BDEN": t.at(f"specimens.{k}.density"),
            "TRIT_CU": deviator / 2,
        }
        for k, specimen in enumerate(t.readings.specimens)
        if (deviator := t.value(f"deviator_{k + 1}")) is not None
    ]
    return [("TRIG", {"TRIG_TYPE": "UU"}), *(("TRIT", stage) for stage in stages)]


def _effective(t: Sent) -> list[Row]:
    general = {
        "TREG_TYPE": t.settings.kind,
        "TREG_COH": t.value("cohesion_effective"),
        "TREG_PHI": t.value("friction_effective"),
        "TREG_FCR": t.settings.criterion,
    }
    stages = [
        {
            "TRET_TESN": str(k + 1),
            "TRET_SDIA": _measured(t, k, "diameter_mm", ("top_mm", "middle_mm", "bottom_mm")),
            "TRET_LEN": _measured(t, k, "length_mm", ("length_mm",)),
            "TRET_IMC": to_a_tenth(_water(t, k)),
            "TRET_BDEN": t.at(f"specimens.{k}.density"),
            "TRET_DDEN": t.at(f"after.{k}.dry_density"),
            "TRET_IVR": t.at(f"after.{k}.void_ratio"),
            "TRET_DEVF": deviator,
            "TRET_CELL": specimen.cell_kpa,
            "TRET_BACK": specimen.back_kpa,
            "TRET_CONP": between(specimen.cell_kpa, specimen.back_kpa),
            "TRET_BVAL": t.at(f"specimens.{k}.b"),
            "TRET_CU": deviator / 2 if t.settings.kind == "CU" else None,
            "TRET_E50": t.value(f"e50_{k + 1}"),
        }
        for k, specimen in enumerate(t.readings.specimens)
        if (deviator := t.value(f"deviator_{k + 1}")) is not None
    ]
    return [("TREG", general), *(("TRET", stage) for stage in stages)]


def _measured(t: Sent, k: int, name: str, calipers: tuple[str, ...]) -> float | None:
    """Return a size of a specimen as typed, else the mean of its calipers."""
    typed: float | None = getattr(t.readings.specimens[k], name)
    rows = [row for _, number, row in numbered(t.readings.calipers) if number == k + 1 and row.used]
    read = [value for row in rows for key in calipers if (value := getattr(row, key)) is not None]
    return typed if typed is not None else fmean(read) if read else None


def _water(t: Sent, k: int) -> float | None:
    """Return the mean water content of a specimen's trimmings."""
    rows = [i for i, number, _ in numbered(t.readings.tins) if number == k + 1]
    found = [w for i in rows if (w := t.at(f"tins.{i}.water_content")) is not None]
    return fmean(found) if found else None
