"""Fills TRIG and TRIT undrained, TREG and TRET with pore pressures."""

from typing import Any

from vadum.exchange.ags4.parts import between
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return _total(t) if t.settings.kind == "UU" else _effective(t)


def _total(t: Sent) -> list[Row]:
    stages: list[dict[str, Any]] = [
        {
            "TRIT_TESN": str(k + 1),
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
            "TRET_BDEN": t.at(f"specimens.{k}.density"),
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
