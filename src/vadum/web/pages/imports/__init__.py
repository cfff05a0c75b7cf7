"""Readings from a file, after a look at every cell."""
