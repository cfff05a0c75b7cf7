"""A constant head in an auger hole."""

from vadum.soil.methods.well_permeameter.method import WellPermeameter

__all__ = ["WellPermeameter"]
