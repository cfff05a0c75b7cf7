"""Fills LNMC."""

from vadum.exchange.ags4.sent import Row, Sent
from vadum.soil.methods.water_content.readings import Drying


def fill(t: Sent) -> list[Row]:
    oven = t.settings.oven_c if t.settings.drying == Drying.OVEN else None
    return [("LNMC", {"LNMC_MC": t.text("water_content"), "LNMC_TEMP": oven})]
