"""The bearing ratio in the ground."""

from vadum.soil.methods.cbr_in_situ.method import CbrInSitu

__all__ = ["CbrInSitu"]
