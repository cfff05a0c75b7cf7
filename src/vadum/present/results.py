"""Results and findings in a reader's units."""

from vadum.present.figures import drawing_in
from vadum.soil.contract.finding import Finding
from vadum.soil.contract.reduction import Reduction
from vadum.soil.contract.result import Parameter
from vadum.soil.numbers.written import SI, Units, fill


def reduction_in(reduction: Reduction, units: Units = SI) -> Reduction:
    """Return what a test says with results, findings and figures in a set of units.

    The derivation stays in the units of the laboratory: it is the arithmetic as it was done.
    """
    if units == SI:
        return reduction
    return reduction.model_copy(
        update={
            "parameters": [parameter_in(one, units) for one in reduction.parameters],
            "findings": [finding_in(one, units) for one in reduction.findings],
            "figures": [drawing_in(one, units) for one in reduction.figures],
        }
    )


def parameter_in(parameter: Parameter, units: Units = SI) -> Parameter:
    """Return a result in a set of units, to the step it is reported to."""
    unit, reported, doubt = parameter.unit, parameter.reported, parameter.doubt
    if reported is None or units.unit(unit) == unit:
        return parameter
    text = units.text(reported, unit, parameter.text)
    return parameter.model_copy(
        update={
            "unit": units.unit(unit),
            "text": text,
            "reported": float(text),
            "value": None if parameter.value is None else units.value(parameter.value, unit),
            # A doubt is a length on the scale, not a place on it: degrees have another zero.
            "doubt": None if doubt is None else units.value(doubt, unit) - units.value(0.0, unit),
        }
    )


def finding_in(finding: Finding, units: Units = SI) -> Finding:
    """Return a finding with its numbers in a set of units; as it was written where it was kept without its numbers."""
    if units == SI or not finding.says:
        return finding
    message, action = (fill(sentence, finding.values, units) for sentence in (finding.says, finding.do))
    return finding.model_copy(update={"message": message, "action": action})
