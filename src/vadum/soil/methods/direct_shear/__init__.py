"""Direct shear in the box."""

from vadum.soil.methods.direct_shear.method import DirectShear

__all__ = ["DirectShear"]
