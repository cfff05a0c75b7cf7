"""Unconfined compression."""

from vadum.soil.methods.unconfined.method import Unconfined

__all__ = ["Unconfined"]
