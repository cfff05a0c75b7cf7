"""Plate loaded, unloaded and loaded again: deformation moduli."""

from vadum.soil.methods.plate_static.method import PlateStatic

__all__ = ["PlateStatic"]
