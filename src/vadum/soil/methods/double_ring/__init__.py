"""E6 double ring: water kept at one level in two rings, the outer one to keep the inner's straight."""

from vadum.soil.methods.double_ring.method import DoubleRing

__all__ = ["DoubleRing"]
