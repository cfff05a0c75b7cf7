"""Fills LSTG and LSTT."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    general = {
        "LSTG_ICL": t.value("lime_percent"),
        "LSTG_PH": t.value("highest_ph"),
        "LSTG_LIME": t.readings.lime,
        "LSTG_SUIT": t.value("lime_only_ph"),
    }
    bottles = [
        {"LSTT_TESN": str(i + 1), "LSTT_LCON": bottle.lime_percent, "LSTT_PH": ph}
        for i, bottle in enumerate(t.readings.bottles)
        if (ph := t.at(f"bottles.{i}.ph25")) is not None and bottle.lime_percent is not None
    ]
    return [("LSTG", general), *(("LSTT", bottle) for bottle in bottles)]
