"""B2 hydrometer analysis: the sedimentation limb of the grain-size curve."""

from vadum.soil.methods.hydrometer.method import Hydrometer

__all__ = ["Hydrometer"]
