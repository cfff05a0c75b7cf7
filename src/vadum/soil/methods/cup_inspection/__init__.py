"""A4 inspection of the liquid-limit cup."""

from vadum.soil.methods.cup_inspection.method import CupInspection

__all__ = ["CupInspection"]
