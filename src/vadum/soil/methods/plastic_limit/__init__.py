"""A3 plastic limit, plasticity index, liquidity and consistency index."""

from vadum.soil.methods.plastic_limit.method import PlasticLimit

__all__ = ["PlasticLimit"]
