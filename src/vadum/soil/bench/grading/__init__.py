"""Grain size: the curve of a sample, its fractions, sieve series and the figure they share."""
