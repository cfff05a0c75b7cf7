"""What the tests of a whole site say together: quantities, statistics, characteristic figures."""

from vadum.soil.site.quantities import FAMILIES, QUANTITIES, Quantity
from vadum.soil.site.statistics import Spread, spread, spread_by_layer
from vadum.soil.site.values import Value, depth_words, given, values_from

__all__ = [
    "FAMILIES",
    "QUANTITIES",
    "Quantity",
    "Spread",
    "Value",
    "depth_words",
    "given",
    "spread",
    "spread_by_layer",
    "values_from",
]
