"""Triaxial compression."""

from vadum.soil.methods.triaxial.method import Triaxial

__all__ = ["Triaxial"]
