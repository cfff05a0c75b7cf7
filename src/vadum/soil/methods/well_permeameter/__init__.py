"""A constant head in an auger hole; a double ring and a percolation hole with the same sheet."""

from vadum.soil.methods.well_permeameter.method import WellPermeameter

__all__ = ["WellPermeameter"]
