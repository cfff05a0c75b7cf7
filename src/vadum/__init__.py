"""Vadum: soil tests from the bench to the sheet."""

__version__ = "0.5.0"
