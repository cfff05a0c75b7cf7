"""Kinds of locations and samples against the format's codes, both ways."""

LOCATION_CODES = {"test pit": "TP", "borehole": "EH", "test point": "SL"}
SAMPLE_CODES = {"bag": "B", "jar": "D", "tube": "U", "ring": "U", "block": "BLK", "core": "C"}

_KINDS = {
    "TP": "test pit",
    "TT": "test pit",
    "IP": "test pit",
    "OP": "test pit",
    "EXP": "test pit",
    "SL": "test point",
    "IDEN": "test point",
    "ICBR": "test point",
    "IPLT": "test point",
    "IVAN": "test point",
}
_SAMPLES = {"B": "bag", "LB": "bag", "D": "jar", "U": "tube", "UT": "tube", "TW": "tube", "BLK": "block", "C": "core"}


def location_kind(code: str) -> str:
    """Return the kind of a location by its code, several joined by +: the first that is a pit or a point, else a
    hole."""
    return next((_KINDS[part] for part in code.split("+") if part in _KINDS), "borehole")


def sample_kind(code: str) -> str:
    return _SAMPLES.get(code, "bag")
