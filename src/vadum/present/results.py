"""Results and findings in a reader's units."""

from dataclasses import replace
from functools import cache
from typing import Any

from vadum.present.figures import drawing_in
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.layout import layout
from vadum.soil.contract.method import GRADINGS, Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.numbers.written import Units, fill
from vadum.soil.site.quantities import GRAINS, Quantity
from vadum.soil.site.values import Value
from vadum.soil.uncertainty.combined import Combined


def reduction_in(reduction: Reduction, units: Units, method: Method[Any, Any, Any]) -> Reduction:
    """Return what a test says with results, findings and figures in a set of units.

    The derivation stays in the units of the laboratory: it is the arithmetic as it was done. A finding speaks of
    readings in the unit of their columns, or nobody would find them there.
    """
    if units.plain:
        return reduction
    own = units_of(method, units)
    beside_readings = own.without(read_in(method))
    return reduction.model_copy(
        update={
            "parameters": [parameter_in(one, own) for one in reduction.parameters],
            "findings": [finding_in(one, beside_readings) for one in reduction.findings],
            "figures": [drawing_in(one, own) for one in reduction.figures],
        }
    )


def units_of(method: Method[Any, Any, Any], units: Units) -> Units:
    """Return the units of a method's results: sizes of grains are in millimetres for every reader.

    Where no result is a length, millimetres in words are sizes of grains, too.
    """
    if method.curve_is in GRADINGS:
        return units.without(["mm"])
    lengths = any(one.unit == "mm" for one in method.results)
    return units if lengths else replace(units, unsaid=units.unsaid | {"mm"})


def parameter_in(parameter: Parameter, units: Units) -> Parameter:
    """Return a result in a set of units, to the step it is reported to."""
    unit, doubt = parameter.unit, parameter.doubt
    shown = number_in(parameter.text, unit, parameter.reported, units)
    shown |= {"name": units.words(parameter.name), "rounding": units.marked(parameter.rounding)}
    if parameter.reported is not None and units.unit(unit) != unit:
        shown["value"] = None if parameter.value is None else units.value(parameter.value, unit)
        shown["doubt"] = None if doubt is None else units.step(doubt, unit)
        shown["rounding"] = f"{units.marked(parameter.rounding)} ({unit})" if parameter.rounding else ""
    return replace(parameter, **shown)


def number_in(text: str, unit: str, reported: float | None, units: Units) -> dict[str, Any]:
    """Return a reported number as it is shown: its text, unit and value; of words the numbers before a unit."""
    if reported is None:
        other = units.unit(unit)
        said = units.words(f"{text} {unit}" if unit else text)
        return {"text": said.removesuffix(f" {other}") if unit else said, "unit": other, "reported": None}
    if units.unit(unit) == unit:
        return {"text": units.marked(text), "unit": unit, "reported": reported}
    shown = units.text(reported, unit, text)
    return {"text": units.marked(shown), "unit": units.unit(unit), "reported": float(shown)}


def quantity_in(quantity: Quantity, units: Units) -> Quantity:
    """Return a quantity in the unit it is shown in; sizes of grains stay."""
    return quantity if quantity.family == GRAINS else replace(quantity, unit=units.unit(quantity.unit))


def value_in(value: Value, units: Units) -> Value:
    """Return a value of a site in the unit it is shown in, written with a point."""
    quantity = quantity_in(value.quantity, units)
    if quantity == value.quantity:
        return value
    number = number_in(value.text, value.quantity.unit, value.reported, replace(units, mark="."))
    return replace(value, quantity=quantity, text=number["text"], reported=number["reported"])


def combined_in(one: Combined, units: Units) -> Combined:
    """Return a result with its uncertainty in a set of units."""
    unit = one.parameter.unit
    hand = one.hand and replace(one.hand, standard=units.step(one.hand.standard, unit))
    instruments = units.step(one.instruments, unit)
    return replace(one, parameter=parameter_in(one.parameter, units), instruments=instruments, hand=hand)


def finding_in(finding: Finding, units: Units) -> Finding:
    """Return a finding with its numbers in a set of units; as it was written where it was kept without its numbers."""
    if units.plain or not finding.says:
        return finding
    message, action = (fill(sentence, finding.values, units) for sentence in (finding.says, finding.do))
    return finding.model_copy(update={"message": message, "action": action})


@cache
def read_in(method: Method[Any, Any, Any]) -> frozenset[str]:
    """Return the units that a method's readings are typed in."""
    laid = layout(method)
    found = {one.unit for one in laid.singles}
    found |= {column.unit for table in laid.tables for column in table.columns}
    found |= {column.unit for table in laid.tables for column in table.worked}
    found |= {column.unit for file in laid.logs for column in file.columns}
    return frozenset(found - {""})
