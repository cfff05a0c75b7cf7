"""A list of times as a hand writes it."""

import re

_TIME = re.compile(r"\d{1,5}(\.\d{1,3})?")


def minutes_listed(text: str, longest: float) -> tuple[float, ...]:
    """Return the minutes written in a text, rising, each once; ``ValueError`` names what is none.

    >>> minutes_listed("2 4; 8, 4", 1440.0)
    (2.0, 4.0, 8.0)
    """
    parts = text.replace(",", " ").replace(";", " ").split()
    for part in parts:
        if not _TIME.fullmatch(part) or not 0 < float(part) <= longest:
            raise ValueError(f"“{part}” is no time in minutes; write such as 2 4 8 16 32 60 90 1440")
    return tuple(sorted({float(part) for part in parts}))
