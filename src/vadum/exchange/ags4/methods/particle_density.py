"""Fills LPDN."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [("LPDN", {"LPDN_PDEN": t.text("grain_density_g_cm3"), "LPDN_TYPE": "SMALL PYK"})]
