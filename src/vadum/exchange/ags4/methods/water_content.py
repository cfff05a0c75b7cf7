"""Fills LNMC."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [("LNMC", {"LNMC_MC": t.text("water_content"), "LNMC_TEMP": t.settings.oven_c})]
