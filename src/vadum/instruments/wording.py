"""What an instrument writes on its line: one pattern says where the value, its unit and the word for rest stand."""

import re
from dataclasses import dataclass
from functools import cache

# Nothing here can be read in two ways: a line is gone through once, however it is made.
_PARTS = {
    "value": r"(?P<value>[+-]?[ \t]*\d+(?:[.,]\d+)?)",
    "unit": r"(?P<unit>[^\W\d_]{1,8}(?:/[^\W\d_]{1,4})?)?",
    "rest": r"(?P<rest>[^\s,;]{1,12})?",
    "any": r"[^\s,;]*",
}
_PART = re.compile(r"\{(\w+)\}|([ \t]+)|([^{ \t]+|\{)")
LONGEST = 200


class PatternError(ValueError):
    """A pattern that says nothing; the message is for the person who wrote it."""


@dataclass(frozen=True)
class Shown:
    """What a line says: the value, its unit ("" where the line says none), and whether the instrument is at rest."""

    value: float
    unit: str
    at_rest: bool


@cache
def compiled(pattern: str) -> re.Pattern[str]:
    """Return a pattern for lines such as ``{rest},{any},{value} {unit}``; other letters stand for themselves, blanks
    for any blanks or none.

    Raises
    ------
    PatternError
        If it names a part that there is not, one twice, or no value.
    """
    if len(pattern) > LONGEST:
        raise PatternError(f"a pattern has at most {LONGEST} letters")
    parts, seen = [], []
    for name, blank, letters in _PART.findall(pattern.strip()):
        if name and name not in _PARTS:
            raise PatternError(f"{{{name}}} is none of {', '.join(f'{{{one}}}' for one in _PARTS)}")
        if name and name != "any" and name in seen:
            raise PatternError(f"{{{name}}} stands twice")
        seen.append(name)
        parts.append(_PARTS[name] if name else r"[ \t]*" if blank else re.escape(letters))
    if "value" not in seen:
        raise PatternError("say where the value stands: {value}")
    return re.compile(r"[ \t]*" + "".join(parts) + r"[ \t]*")


def read_line(pattern: str, line: str, rest: str = "") -> Shown | None:
    """Return what a line says; None where it is not of this pattern.

    Arguments
    ---------
    pattern : see :func:`compiled`
    rest : the word that stands at ``{rest}`` when the instrument is at rest; "" when its lines say nothing of it

    >>> read_line("{rest},{any},{value} {unit}", "ST,GS,+  38.62 g", "ST")
    Shown(value=38.62, unit='g', at_rest=True)
    """
    found = compiled(pattern).fullmatch(line[:LONGEST].strip("\r\n\x02\x03"))
    if found is None:
        return None
    groups = found.groupdict()
    value = float(re.sub(r"[ \t]", "", groups["value"]).replace(",", "."))
    return Shown(value, groups.get("unit") or "", not rest or (groups.get("rest") or "") == rest)
