"""A8 shrinkage limit: a pat dried from its liquid limit, its dry volume by wax and water."""

from vadum.soil.methods.shrinkage_limit.method import ShrinkageLimit

__all__ = ["ShrinkageLimit"]
