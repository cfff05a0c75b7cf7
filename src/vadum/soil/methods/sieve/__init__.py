"""B1 sieve analysis: the coarse limb of the grain-size curve."""

from vadum.soil.methods.sieve.method import Sieve

__all__ = ["Sieve"]
