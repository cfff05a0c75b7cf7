"""Fills GRAG and GRAT, with the sieve of the sample as one grading."""

from vadum.exchange.ags4.grading import curve_of, fractions, settled
from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    return [fractions(curve_of(t)), *settled(t)]
