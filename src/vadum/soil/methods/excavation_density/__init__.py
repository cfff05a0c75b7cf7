"""B5 density by an excavated hole."""

from vadum.soil.methods.excavation_density.method import ExcavationDensity

__all__ = ["ExcavationDensity"]
