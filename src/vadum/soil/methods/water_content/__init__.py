"""A1 water content: oven, low oven, hot plate, microwave."""

from vadum.soil.methods.water_content.method import WaterContent

__all__ = ["WaterContent"]
