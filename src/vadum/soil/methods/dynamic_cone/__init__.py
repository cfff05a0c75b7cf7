"""Dynamic cone."""

from vadum.soil.methods.dynamic_cone.method import DynamicCone

__all__ = ["DynamicCone"]
