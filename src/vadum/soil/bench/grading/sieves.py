"""Sieve series: openings in mm, their numbers, and what a sieve can carry."""

import re
from functools import cache
from itertools import pairwise
from math import pi

from vadum.soil.numbers.entry import EntryError, parse_entry, unit_typed
from vadum.soil.numbers.units import UnitError, convert

# Openings by designation, ASTM E11 table 1 (mm); the ISO 3310 series carries its opening as its name.
NUMBERS = {
    4: 4.75,
    6: 3.35,
    8: 2.36,
    10: 2.0,
    12: 1.7,
    16: 1.18,
    18: 1.0,
    20: 0.85,
    30: 0.6,
    35: 0.5,
    40: 0.425,
    50: 0.3,
    60: 0.25,
    70: 0.212,
    80: 0.18,
    100: 0.15,
    120: 0.125,
    140: 0.106,
    170: 0.09,
    200: 0.075,
    230: 0.063,
    270: 0.053,
    325: 0.045,
    400: 0.038,
}
INCHES = {75.0: "3 in", 50.0: "2 in", 37.5: "1½ in", 25.0: "1 in", 19.0: "¾ in", 12.5: "½ in", 9.5: "⅜ in"}
_NAMES = {opening: f"No. {number}" for number, opening in NUMBERS.items()} | INCHES

STACKS: dict[str, tuple[float, ...]] = {
    "by number": (75.0, 37.5, 19.0, 9.5, 4.75, 2.0, 0.85, 0.425, 0.25, 0.15, 0.106, 0.075),
    "in mm": (63.0, 31.5, 16.0, 8.0, 4.0, 2.0, 1.0, 0.5, 0.25, 0.125, 0.063),
}
_DESIGNATION = re.compile(r"(?:no\.?|nr\.?|#)\s*(\d+)", re.IGNORECASE)
# Sieves that go by inches, ASTM E11 table 1 (mm), beside those that have a number. What one is called (3 in, 75 mm) and
# its opening in inches (No. 200, 0.0029 in) give the opening in mm to two percent only.
_COARSE = (125.0, 106.0, 100.0, 90.0, 75.0, 63.0, 53.0, 50.0, 45.0, 37.5, 31.5, 26.5, 25.0, 22.4, 19.0, 16.0)
_BY_INCHES = (*_COARSE, 13.2, 12.5, 11.2, 9.5, 8.0, 6.7, 6.3, 5.6)
_INCHES_OFF = 0.02
_FRACTION = re.compile(r"\d/\d|[½¼¾⅛⅜⅝⅞]")


def opening_of(designation: str) -> float | None:
    """Return the opening in mm of a sieve called by its number (``No. 40``) or in inches (``½ in``), None when the text
    is no such name.

    Raises
    ------
    ValueError
        If it reads like a number of a sieve that the series does not have.

    >>> opening_of("No. 40"), opening_of("3 in"), opening_of("0.375 in"), opening_of("12.7")
    (0.425, 75.0, 9.5, None)
    """
    match = _DESIGNATION.fullmatch(designation.strip())
    if match is None:
        return _by_inches(designation)
    if int(match[1]) not in NUMBERS:
        raise ValueError(f"there is no sieve No. {match[1]} in the series; type its opening in mm")
    return NUMBERS[int(match[1])]


def _by_inches(designation: str) -> float | None:
    unit = unit_typed(designation)
    # Nobody makes sieves by fractions of a millimetre.
    if not unit and _FRACTION.search(designation):
        designation, unit = f"{designation} in", "in"
    try:
        if convert(1.0, unit, "in") != 1.0:
            return None
        called = parse_entry(designation, "mm")
    except (UnitError, EntryError):
        return None
    near = min((*_BY_INCHES, *NUMBERS.values()), key=lambda known: abs(known - called))
    return near if abs(near - called) <= _INCHES_OFF * near else None


@cache
def sieve_name(opening_mm: float) -> str:
    """Return the number or inch name of a sieve, empty when it goes by its opening."""
    near = min(_NAMES, key=lambda known: abs(known - opening_mm))
    return _NAMES[near] if abs(near - opening_mm) <= 0.005 * near else ""


_FRAME_MM = 12.7


def most_on_sieve_g(opening_mm: float, diameter_mm: float) -> float:
    """Return the mass in g that a round sieve may retain before it is overloaded.

    7 kg/m2 of sieving area below 4.75 mm, else 2.5 kg/m2 per mm of opening; a frame sieves over a circle 12.7 mm
    smaller than itself. Source: ASTM C136 (2019), clause 8.3 and table 1.
    """
    area_m2 = pi / 4 * ((diameter_mm - _FRAME_MM) / 1000) ** 2
    return 1000 * area_m2 * (7.0 if opening_mm < 4.75 else 2.5 * opening_mm)


# Largest particle in mm against least dry mass in g.
LEAST_SPECIMEN_G: dict[str, tuple[tuple[float, float], ...]] = {
    # ASTM C136 (2019), clause 7; the two finest lines by laboratory custom.
    "aggregate": (
        (2, 100),
        (4.75, 200),
        (9.5, 1000),
        (12.5, 2000),
        (19, 5000),
        (25, 10000),
        (37.5, 15000),
        (50, 20000),
        (63, 35000),
        (75, 60000),
    ),
    # ASTM D6913 (2017), table 2, method A.
    "soil": ((2, 50), (4.75, 75), (9.5, 165), (19, 1300), (25, 3000), (37.5, 10000), (50, 25000), (75, 70000)),
}


def least_specimen_g(largest_particle_mm: float, rule: str) -> float:
    """Return the least dry mass in g for a soil whose largest particle is this; a particle between sizes counts up."""
    table = LEAST_SPECIMEN_G[rule]
    return next((mass for size, mass in table if largest_particle_mm <= size * 1.001), table[-1][1])


def out_of_order(openings_mm: list[float]) -> list[int]:
    """Return the rows that are not finer than the row above."""
    return [i for i, (above, below) in enumerate(pairwise(openings_mm), 1) if below >= above]


# Preferred numbers of ISO 3, series R 20: the openings of ISO 565 in every decade.
_R20 = (1.0, 1.12, 1.25, 1.4, 1.6, 1.8, 2.0, 2.24, 2.5, 2.8, 3.15, 3.55, 4.0, 4.5, 5.0, 5.6, 6.3, 7.1, 8.0, 9.0)
# Series R 40/3 beside those that have a number or go by inches.
_R40_3 = (0.025, 0.027, 0.032, 3.75, 6.7, 13.2, 26.5, 53.0, 106.0)


@cache
def made_mm(opening_mm: float) -> float | None:
    """Return the opening of the maker's sieve that is meant, to half a percent: ISO 565, series R 20 and R 40/3, by
    number or by inches; None where nobody makes one.

    >>> made_mm(6.3), made_mm(0.0751), made_mm(42.5)
    (6.3, 0.075, None)
    """
    made = (*(ten * number for ten in (0.01, 0.1, 1.0, 10.0, 100.0) for number in _R20), *_R40_3, *_NAMES)
    near = min(made, key=lambda known: abs(known - opening_mm))
    return float(f"{near:.6g}") if abs(near - opening_mm) <= 0.005 * near else None


def of_a_series(opening_mm: float) -> bool:
    """Return whether a sieve of this opening is made: by number, by inch, or in the ISO 3310 series R 20/3."""
    return any(abs(known - opening_mm) <= 0.005 * known for known in (*_NAMES, *STACKS["in mm"]))
