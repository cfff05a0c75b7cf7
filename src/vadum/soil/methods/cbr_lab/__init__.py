"""The bearing ratio in the mould."""

from vadum.soil.methods.cbr_lab.method import CbrLab

__all__ = ["CbrLab"]
