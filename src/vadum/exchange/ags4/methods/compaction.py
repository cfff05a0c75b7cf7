"""Fills CMPG and CMPT."""

from typing import Any

from vadum.exchange.ags4.parts import to_a_tenth
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    scheme = t.settings.scheme
    own: dict[str, Any] = {"CMPG_TESN": str(t.number)}
    general: dict[str, Any] = {
        "CMPG_TYPE": "2.5KG" if scheme.startswith("light") else "4.5KG",
        "CMPG_MOLD": "1 LITRE" if "1 L" in scheme else "CBR",
        "CMPG_PDEN": t.readings.particle_density,
        "CMPG_MAXD": t.value("maximum_dry_density"),
        "CMPG_MCOP": t.value("optimum_water_content"),
    }
    points = [
        {"CMPT_TESN": str(i + 1), "CMPT_MC": to_a_tenth(t.at(f"points.{i}.water_percent")), "CMPT_DDEN": dry}
        for i in range(len(t.readings.points))
        if (dry := t.at(f"points.{i}.dry_density")) is not None
    ]
    return [("CMPG", own | general), *(("CMPT", own | point) for point in points)]
