"""Fills CMPG and CMPT."""

from typing import Any

from vadum.exchange.ags4.parts import to_a_tenth
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    scheme, oversize = t.settings.scheme, t.readings.oversize_percent
    own: dict[str, Any] = {"CMPG_TESN": str(t.number)}
    general: dict[str, Any] = {
        "CMPG_TYPE": "2.5KG" if scheme.light else "4.5KG",
        "CMPG_MOLD": "1 LITRE" if scheme.small else "CBR",
        # What is too coarse: above 20 mm for the small mould, above 37.5 mm for the large one.
        "CMPG_200" if scheme.small else "CMPG_375": oversize,
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
