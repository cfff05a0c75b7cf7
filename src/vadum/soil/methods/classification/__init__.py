"""B7 classification of a sample from its other tests."""

from vadum.soil.methods.classification.method import Classification

__all__ = ["Classification"]
