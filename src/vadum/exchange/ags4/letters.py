"""The letters of the format: what it cannot hold in those it can, and names that are still told apart in them."""

import unicodedata
from collections.abc import Iterable

# Beyond Latin-1, in plain letters; the rest is decomposed or becomes a question mark.
# Double quotes and bars are allowed, but the checker takes some of them for faults.
_PLAIN = str.maketrans(
    {
        "–": "-",
        "—": "-",
        "−": "-",
        "“": "'",
        "”": "'",
        '"': "'",
        "|": "/",
        "‘": "'",
        "’": "'",
        "≤": "<=",
        "≥": ">=",
        "σ": "sigma",
        "φ": "phi",
        "μ": "u",
        "α": "alpha",
        "…": "...",
        "ł": "l",
        "Ł": "L",
        "đ": "d",
        "Đ": "D",
        "ı": "i",
        "œ": "oe",
        "Œ": "OE",
    }
)
_UNKNOWN = "?"


def as_written(text: str) -> str:
    """Return a text in the letters of the format, on one line."""
    line = unicodedata.normalize("NFC", " ".join(text.translate(_PLAIN).split()))
    return "".join(c if 32 <= ord(c) < 127 or 160 <= ord(c) < 256 else _bare(c) for c in line)


def loses(text: str) -> bool:
    """Return whether letters of a text are not to be had again from the file."""
    return as_written(text).count(_UNKNOWN) > text.count(_UNKNOWN)


def told_apart(names: Iterable[str]) -> list[str]:
    """Return names, with a number behind one that would be written as another before it: they are keys in the file."""
    found: list[str] = []
    written: set[str] = set()
    for name in names:
        number, wanted = 2, name
        while as_written(wanted) in written:
            wanted, number = f"{name} ({number})", number + 1
        found.append(wanted)
        written.add(as_written(wanted))
    return found


def _bare(letter: str) -> str:
    """Return a letter without its marks, or a question mark."""
    return "".join(c for c in unicodedata.normalize("NFKD", letter) if 32 <= ord(c) < 127) or _UNKNOWN
