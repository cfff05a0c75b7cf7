"""Forms that put right what was typed of projects, locations, samples and equipment."""

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError
from sqlmodel import Session
from starlette.datastructures import FormData

from vadum.records.corrections import Corrected, CorrectionError, correct, own_of
from vadum.records.row_number import row_number
from vadum.records.tables import Location, Sample
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.field import Entered
from vadum.web.forms import filled

Refused = tuple[dict[str, str], dict[str, Any]]
"""The complaints by field, and what the form says again."""


def corrected(session: Session, row: Corrected, model: type[Entered], form: FormData, who: str) -> Refused | None:
    """Correct a row as a form says; None when it is done."""
    made, errors = filled(model, form)
    if made is None:
        return errors, typed_in(form)
    values = {name: value for name, value in made.model_dump().items() if name in form}
    try:
        own = own_of(session, row, values, seen_by(form))
        # With what others changed meanwhile it is another whole than the one that was typed.
        whole = model.model_validate({name: getattr(row, name) for name in values} | own).model_dump()
        if fault := _out_of_its_place(row, whole):
            return fault, typed_in(form)
        correct(session, row, own, who, str(form.get("reason", "")))
    except ValidationError as error:
        return {"together": together(error)}, typed_in(form)
    except CorrectionError as error:
        return refused(error, form, row.model_dump())
    return None


def refused(error: CorrectionError, form: FormData, stands: Mapping[str, Any] | None = None) -> Refused:
    """Return why it is not made, and what the form says again: what stands of a row where others changed it and this
    hand did not, else what was typed."""
    own = {name: text for name, text in typed_in(form).items() if name not in error.others}
    return {error.field: str(error)}, {**(stands or {}), **own}


def together(error: ValidationError) -> str:
    """Return why what was typed and what somebody else changed meanwhile cannot both stand."""
    faults = "; ".join(fault.message for fault in complaints(error))
    return f"With what somebody changed meanwhile it cannot be: {faults}. Look, then save again."


def typed_in(form: FormData) -> dict[str, str]:
    return {name: str(value) for name, value in form.items()}


def seen_by(form: FormData) -> int | None:
    """Return the newest correction that stood on the page when the form was drawn; None where it does not say."""
    return row_number(form.get("seen", ""))


def _out_of_its_place(row: Corrected, values: dict[str, Any]) -> dict[str, str] | None:
    """Return the complaint about a sample below its hole, or a hole above one of its samples; None where all fits."""
    if isinstance(row, Sample) and values["base_m"] > row.location.depth_m:
        return {"base_m": f"{row.location.name} is {row.location.depth_m:g} m deep"}
    if isinstance(row, Location):
        deepest = max(row.samples, key=lambda sample: sample.base_m, default=None)
        if deepest is not None and values["depth_m"] < deepest.base_m:
            return {"depth_m": f"{deepest.name} is from {deepest.base_m:g} m"}
    return None
