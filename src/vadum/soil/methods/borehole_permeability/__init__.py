"""E6 permeability in a borehole: the level falls or rises back to rest."""

from vadum.soil.methods.borehole_permeability.method import BoreholePermeability

__all__ = ["BoreholePermeability"]
