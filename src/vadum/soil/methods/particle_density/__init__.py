"""B3 particle density by water pycnometer."""

from vadum.soil.methods.particle_density.method import ParticleDensity

__all__ = ["ParticleDensity"]
