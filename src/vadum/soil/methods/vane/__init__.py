"""Vane shear in the ground."""

from vadum.soil.methods.vane.method import Vane

__all__ = ["Vane"]
