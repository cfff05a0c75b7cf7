"""Fills DCPG and DCPT."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    start = t.readings.start_m or 0.0
    key = {"DCPG_DATE": t.on, "DCPG_TESN": str(t.number), "DCPG_DPTH": start}
    rows: list[Row] = [("DCPG", key | {"DCPG_ZERO": t.readings.zero_mm})]
    blows = 0
    for i, row in enumerate(t.readings.blows):
        depth = t.at(f"blows.{i}.depth_m")
        if row.blows and isinstance(depth, float):
            blows += row.blows
            rows.append(("DCPT", key | {"DCPT_CBLO": blows, "DCPT_PEN": 1000 * (depth - start)}))
    return rows
