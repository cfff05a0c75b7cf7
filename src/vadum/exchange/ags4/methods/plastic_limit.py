"""Fills LLPL, with the liquid limit of the sample in one row."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [("LLPL", {"LLPL_PL": t.text("plastic_limit"), "LLPL_PI": t.value("plasticity_index")})]
