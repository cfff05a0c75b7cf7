"""The number of a row of the record as somebody wrote it: in an address, a form, a search."""

import re
from collections.abc import Iterable

# As a database numbers its rows. One of more digits is none of them, and Python refuses to read one of thousands.
_NUMBER = re.compile(r"0|[1-9][0-9]{0,17}", re.ASCII)


def row_number(written: object) -> int | None:
    """Return the number that stands there in plain digits, None for anything else."""
    return int(str(written)) if _NUMBER.fullmatch(str(written)) else None


def row_numbers(written: Iterable[object]) -> set[int]:
    """Return the numbers among what stands there."""
    return {number for one in written if (number := row_number(one)) is not None}
