"""The standard dictionary of the edition sent: which headings a group has, in which order, of which unit and type."""

import logging
from dataclasses import dataclass
from functools import cache

from vadum.exchange.ags4 import EDITION

# The library narrates every group at INFO and repeats in the log what it raises.
logging.getLogger("python_ags4").setLevel(logging.CRITICAL)


@dataclass(frozen=True)
class Heading:
    """A heading of a group as the dictionary defines it."""

    name: str
    unit: str
    kind: str
    key: bool


@dataclass(frozen=True)
class Dictionary:
    """Groups with their headings in the order of the dictionary, and what the codes of a heading stand for."""

    groups: dict[str, list[Heading]]
    codes: dict[tuple[str, str], str]
    units: dict[str, str]
    types: dict[str, str]


@cache
def standard() -> Dictionary:
    """Return the dictionary; read once, it is some ten thousand lines."""
    from python_ags4 import AGS4, check

    tables, _ = AGS4.AGS4_to_dataframe(check.pick_standard_dictionary(dict_version=EDITION))
    groups: dict[str, list[Heading]] = {}
    for row in tables["DICT"].itertuples():
        if row.DICT_TYPE == "HEADING":
            key = "KEY" in row.DICT_STAT
            groups.setdefault(row.DICT_GRP, []).append(Heading(row.DICT_HDNG, row.DICT_UNIT, row.DICT_DTYP, key))
    return Dictionary(
        groups=groups,
        codes={(row.ABBR_HDNG, row.ABBR_CODE): row.ABBR_DESC for row in tables["ABBR"].itertuples()},
        units={row.UNIT_UNIT: row.UNIT_DESC for row in tables["UNIT"].itertuples()},
        types={row.TYPE_TYPE: row.TYPE_DESC for row in tables["TYPE"].itertuples()},
    )
