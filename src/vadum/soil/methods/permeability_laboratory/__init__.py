"""E5 permeability of a specimen in the laboratory, under a constant or a falling head."""

from vadum.soil.methods.permeability_laboratory.method import PermeabilityLaboratory

__all__ = ["PermeabilityLaboratory"]
