"""Words as they are compared: without regard to capitals and accents, in any script."""

import unicodedata
from sqlite3 import Connection


def plain(text: str | None) -> str:
    """Return a text in small letters without accents.

    >>> plain("Ponte DE Água, STRASSE") == plain("ponte de agua, straße")
    True
    """
    if text is None or text.isascii():  # most are, and a search reads every name there is
        return (text or "").casefold()
    apart = unicodedata.normalize("NFKD", text.casefold())
    return "".join(letter for letter in apart if not unicodedata.combining(letter))


def teach(connection: Connection) -> None:
    """Let SQLite compare plainly: ``plain(column)`` in a query."""
    connection.create_function("plain", 1, plain, deterministic=True)
