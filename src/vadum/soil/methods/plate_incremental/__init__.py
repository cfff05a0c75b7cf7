"""Plate loaded in increments: bearing capacity and settlement."""

from vadum.soil.methods.plate_incremental.method import PlateIncremental

__all__ = ["PlateIncremental"]
