"""Forms that put right what was typed of projects, locations, samples and equipment."""

from typing import Any

from sqlmodel import Session
from starlette.datastructures import FormData

from vadum.records.corrections import Corrected, CorrectionError, correct
from vadum.records.tables import Location, Sample
from vadum.soil.contract.field import Entered
from vadum.web.forms import filled


def corrected(session: Session, row: Corrected, model: type[Entered], form: FormData, who: str) -> dict[str, str]:
    """Correct a row as a form says; return the complaints by field, none when it is done."""
    made, errors = filled(model, form)
    if made is None:
        return errors
    values = {name: value for name, value in made.model_dump().items() if name in form}
    if (fault := _out_of_its_place(row, values)) is not None:
        return fault
    try:
        correct(session, row, values, who, str(form.get("reason", "")), seen_by(form))
    except CorrectionError as error:
        return {error.field: str(error)}
    return {}


def seen_by(form: FormData) -> int | None:
    """Return the newest correction that stood on the page when the form was drawn; None where it does not say."""
    said = str(form.get("seen", ""))
    return int(said) if said.isdecimal() else None


def _out_of_its_place(row: Corrected, values: dict[str, Any]) -> dict[str, str] | None:
    """Return the complaint about a sample below its hole, or a hole above one of its samples; None where all fits."""
    if isinstance(row, Sample) and values["base_m"] > row.location.depth_m:
        return {"base_m": f"{row.location.name} is {row.location.depth_m:g} m deep"}
    if isinstance(row, Location):
        deepest = max(row.samples, key=lambda sample: sample.base_m, default=None)
        if deepest is not None and values["depth_m"] < deepest.base_m:
            return {"depth_m": f"{deepest.name} is from {deepest.base_m:g} m"}
    return None
