"""Lime demand of a soil by the pH of its suspensions."""

from vadum.soil.methods.lime_demand.method import LimeDemand

__all__ = ["LimeDemand"]
