"""The rooms of the laboratory: which pages stand together, and what waits in each today."""

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Room:
    """A room: its name, what is counted on its door, its pages by word and route (the first is where the door leads),
    and the addresses that lie in it."""

    name: str
    counts: str
    doors: tuple[tuple[str, str], ...]
    within: tuple[str, ...]


ROOMS = (
    Room(
        "Bench",
        "due now or late",
        (("Due", "board_page"), ("Plan", "plan_page"), ("With me", "pack_page"), ("Instruments", "instruments_page")),
        ("/board", "/plan", "/with-me", "/instruments"),
    ),
    Room(
        "Records",
        "waiting for a check",
        (
            ("Projects", "start"),
            ("Search", "search_page"),
            ("From files", "transfer_page"),
            ("Archives", "archives_page"),
        ),
        ("/projects", "/locations", "/samples", "/tests", "/search", "/transfer", "/archives", "/reports", "/summary"),
    ),
    Room(
        "Laboratory",
        "out of date",
        (
            ("Equipment", "register"),
            ("Tins", "tins_page"),
            ("Duplicates", "duplicates_page"),
            ("Competence", "own_competence"),
            ("People", "people_page"),
            ("Letterhead", "letterhead_page"),
            ("Presets", "presets"),
        ),
        # The forms of the letterhead's page come back from addresses of their own.
        (
            *("/equipment", "/duplicates", "/competence", "/people", "/presets"),
            *("/letterhead", "/zone", "/hours", "/units", "/rules"),
        ),
    ),
    Room(
        "Help",
        "",
        (("Help", "contents"), ("Glossary", "symbols"), ("Practice", "practice_page")),
        ("/help", "/practice"),
    ),
)


def room_of(path: str) -> Room:
    """Return the room that an address lies in; the records where it lies in none."""
    return next((room for room in ROOMS if path.startswith(room.within)), ROOMS[1])


def door_of(path: str, addresses: Iterable[str]) -> str:
    """Return which of the addresses behind the doors of a room a page lies under, the nearest; "" where it lies under
    none."""
    under = (address for address in addresses if f"{path}/".startswith(f"{address}/"))
    return max(under, key=len, default="")
