"""Numbers of what is issued: counted within a year."""

import re
from collections.abc import Iterable


def next_number(prefix: str, given: Iterable[str]) -> str:
    """Return the number after the largest one given, such as ``2026-0008``; those with more behind them, which came
    with an archive, count too.

    Arguments
    ---------
    prefix : what stands before the count, such as ``2026-``
    """
    counts = [int(found[1]) for number in given if (found := re.match(re.escape(prefix) + r"(\d+)", number))]
    return f"{prefix}{max(counts, default=0) + 1:04}"
