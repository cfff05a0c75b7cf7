"""E6 percolation: how fast the water in a soaked hole falls, and what the ground takes by it."""

from vadum.soil.methods.percolation.method import Percolation

__all__ = ["Percolation"]
