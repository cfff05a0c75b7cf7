"""How things are shown to people: the one place that turns numbers of the laboratory into those of a reader.

Pages, sheets and files show a reduction as it comes out of :func:`reduction_in`, in the units of its project. The core
reckons and the record keeps in the units of the laboratory, whatever is shown.
"""

from vadum.present.figures import drawing_in
from vadum.present.results import (
    combined_in,
    finding_in,
    number_in,
    parameter_in,
    quantity_in,
    reduction_in,
    units_of,
    value_in,
)

__all__ = [
    "combined_in",
    "drawing_in",
    "finding_in",
    "number_in",
    "parameter_in",
    "quantity_in",
    "reduction_in",
    "units_of",
    "value_in",
]
