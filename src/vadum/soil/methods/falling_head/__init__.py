"""The falling head in one or several cylinders."""

from vadum.soil.methods.falling_head.method import FallingHead

__all__ = ["FallingHead"]
