"""A7 linear shrinkage: a bar of soil dried from its liquid limit."""

from vadum.soil.methods.linear_shrinkage.method import LinearShrinkage

__all__ = ["LinearShrinkage"]
