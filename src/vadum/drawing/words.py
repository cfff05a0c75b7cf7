"""How much room words take, and what is shown of them where there is not enough."""

ADVANCE = 6.1
"""Of a letter of 12 px, on the mean."""


def cut(words: str, letters: int) -> str:
    """Return words as far as there is room for them; a sign says that they go on."""
    return words if len(words) <= letters else f"{words[: max(1, letters - 1)].rstrip(' ,')}…"
