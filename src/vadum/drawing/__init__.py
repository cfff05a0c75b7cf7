"""Figure data to SVG: one renderer for screen, print and download."""

from vadum.drawing.render import render
from vadum.drawing.theme import THEMES, stylesheet

__all__ = ["THEMES", "render", "stylesheet"]
