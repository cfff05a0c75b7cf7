"""B6 compaction: dry density against water content."""

from vadum.soil.methods.compaction.method import Compaction

__all__ = ["Compaction"]
