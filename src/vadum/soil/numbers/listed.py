"""A list of numbers as a hand writes it."""

import re

_NUMBER = re.compile(r"\d{1,5}(\.\d{1,3})?")


def listed(text: str, most: float, *, what: str, such: str) -> tuple[float, ...]:
    """Return the numbers written in a text, rising, each once.

    Arguments
    ---------
    most : largest number allowed; all are above nothing
    what, such : what one is, and an example of a list, for whom a refusal is told

    Raises
    ------
    ValueError
        That names what is none.

    >>> listed("2 4; 8, 4", 1440.0, what="time", such="2 4 8")
    (2.0, 4.0, 8.0)
    """
    parts = text.replace(",", " ").replace(";", " ").split()
    for part in parts:
        if not _NUMBER.fullmatch(part) or not 0 < float(part) <= most:
            raise ValueError(f"“{part}” is no {what}; write such as {such}")
    return tuple(sorted({float(part) for part in parts}))


def minutes_listed(text: str, longest: float) -> tuple[float, ...]:
    """Return the minutes written in a text, rising, each once; ``ValueError`` names what is none."""
    return listed(text, longest, what="time in minutes", such="2 4 8 16 32 60 90 1440")
