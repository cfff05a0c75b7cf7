"""A2 liquid limit: percussion cup (multipoint, one-point, replicated) and fall cone."""

from vadum.soil.methods.liquid_limit.method import LiquidLimit

__all__ = ["LiquidLimit"]
