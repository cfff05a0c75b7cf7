"""Water retention in a pressure cell."""

from vadum.soil.methods.retention.method import RetentionCell

__all__ = ["RetentionCell"]
