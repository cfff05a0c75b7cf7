"""Colours of figures for files; on screen the page's own variables apply."""

import re
from functools import cache
from pathlib import Path

_LIGHT = {
    "ink": "#1d2b31",
    "soft": "#5f6d70",
    "grid": "#e6e1d3",
    "wash": "#efede4",
    "sheet": "#fffdf8",
    "water": "#1f6486",
    "kiln": "#b24a20",
    "ochre": "#8a5f00",
    "paper": "#fffdf8",
    "earth": "#efe7d6",
    "grain": "#6d5d42",
}
_DARK = {
    "ink": "#f0ebdd",
    "soft": "#a9b5b5",
    "grid": "#33434a",
    "wash": "#26353b",
    "sheet": "#1a272c",
    "water": "#7cc0e3",
    "kiln": "#ef9a6b",
    "ochre": "#e2b24a",
    "paper": "#1a272c",
    "earth": "#2c3a3b",
    "grain": "#c3b291",
}
# Paper takes ink, not tints: constructions and fits must differ in black and white too, which their dashes see to.
_PRINT = _LIGHT | {
    "grid": "#dddddd",
    "wash": "#f2f2f2",
    "sheet": "#ffffff",
    "paper": "#ffffff",
    "earth": "#f6f4ee",
    "ink": "#111111",
    "soft": "#444444",
}

THEMES: dict[str, dict[str, str]] = {"light": _LIGHT, "dark": _DARK, "print": _PRINT}


@cache
def stylesheet(theme: str | None = None) -> str:
    """Return the figure's CSS: with variables for a page, or with a theme's colours for a file."""
    css = (Path(__file__).parent / "figure.css").read_text(encoding="utf-8")
    if theme is None:
        return css
    colours = THEMES[theme]
    return re.sub(r"var\(--(\w+)\)", lambda match: colours[match[1]], css)
