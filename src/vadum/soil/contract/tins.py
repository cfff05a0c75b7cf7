"""What is asked about the tins of any test: whether the register has them, and whether they stand elsewhere too."""

import re
from collections.abc import Iterator
from functools import lru_cache

from vadum.soil.contract.cells import tables
from vadum.soil.contract.field import Context
from vadum.soil.contract.finding import Finding, note, warn
from vadum.soil.contract.places import Taken

TIN_UNKNOWN = note(
    "tin-not-in-register",
    "Tin {name} is not in the register.",
    "Read the number again; if it is right, add the tin to the register with its empty mass.",
)
TIN_WRITTEN_OTHERWISE = warn(
    "tin-written-otherwise",
    "Tin {name} is not in the register; {known} is.",
    "Read the number on the tin again; type {known} if that is what it says.",
)
TIN_ELSEWHERE = warn(
    "tin-in-another-test",
    "Tin {name} also stands in {other}, not weighed dry there either.",
    "Read the number on the tin again, here and there: one soil is in it.",
)


def tins_asked(taken: Taken, context: Context) -> Iterator[Finding]:
    """Yield what is to be asked about tins: one outside a register that has any, one that holds two soils at once."""
    register = getattr(context, "tins", {})
    elsewhere = context.tins_elsewhere
    spelled = {bare(name): other for name, other in elsewhere.items()}
    for table, row_model in tables(type(taken.readings)).items():
        if "tin" not in row_model.model_fields:
            continue
        for i, row in taken.rows(table).get(1, []):
            if not row.tin:
                continue
            cell, other = f"{table}.{i}.tin", elsewhere.get(row.tin)
            if row.tin not in register:
                other = other or spelled.get(bare(row.tin))
                known = next((one for one in register if bare(one) == bare(row.tin)), "")
                if register:
                    yield (TIN_WRITTEN_OTHERWISE if known else TIN_UNKNOWN).at(cell, name=row.tin, known=known)
            if other and still_in(row.__dict__):
                yield TIN_ELSEWHERE.at(cell, name=row.tin, other=other)


@lru_cache(maxsize=4096)
def bare(name: str) -> str:
    """Return what is scratched into a tin, however it is typed: T-11, t-11 and T 11 are one, 1-1 and 11 are two.

    Two names that the register has are two tins, whatever this says.
    """
    apart = re.sub(r"(?<=\d)[\W_]+(?=\d)", "-", name.strip().casefold())
    return re.sub(r"(?<!\d)[\W_]+|[\W_]+(?!\d)", "", apart) or name


def still_in(row: dict[str, object]) -> bool:
    """Return whether the soil of a row is still in its tin, as far as its masses tell: not yet weighed dry."""
    return bool(row.get("tin")) and not row.get("left_out") and row.get("mass_tin_dry_g") is None
