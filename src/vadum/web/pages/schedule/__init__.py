"""The tests of a whole project planned on one page: samples by methods, samples pasted from a list."""
