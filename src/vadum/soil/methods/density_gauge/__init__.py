"""Density gauge."""

from vadum.soil.methods.density_gauge.method import DensityGauge

__all__ = ["DensityGauge"]
