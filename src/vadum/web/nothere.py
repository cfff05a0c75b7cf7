"""Something that was asked for and is not in the records."""

from fastapi import HTTPException


class NotHere(HTTPException):
    """Something that is not in the records."""

    def __init__(self, what: str) -> None:
        super().__init__(404, f"There is no such {what} in this laboratory.")
