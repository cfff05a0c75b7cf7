"""Fills GRAG and GRAT, with the hydrometer of the sample as one grading."""

from vadum.exchange.ags4.grading import curve_of, fractions, sieved
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [fractions(curve_of(t)), *sieved(t)]
