"""Drop plate."""

from vadum.soil.methods.drop_plate.method import DropPlate

__all__ = ["DropPlate"]
