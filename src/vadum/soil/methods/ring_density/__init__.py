"""B4 density by a driven ring."""

from vadum.soil.methods.ring_density.method import RingDensity

__all__ = ["RingDensity"]
