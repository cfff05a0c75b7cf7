"""A list of samples as people paste it: location, name, kind, from, to, mass."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from vadum.records.custody import KINDS
from vadum.records.tables import Location
from vadum.web.forms import SampleForm, filled

_COLUMNS = ("location", "name", "kind", "top_m", "base_m", "mass_g")


@dataclass(frozen=True)
class NewSample:
    """A sample of the list with the name of its location."""

    location: str
    form: SampleForm


@dataclass(frozen=True)
class Pasted:
    """The samples of a list, or the lines that cannot be taken."""

    samples: list[NewSample]
    faults: list[str]


def pasted(text: str, places: Sequence[Location]) -> Pasted:
    """Read a list, a line for each sample; a heading is passed over, nothing is kept."""
    taken = {(place.name.casefold(), sample.name.casefold()) for place in places for sample in place.samples}
    depths = {place.name.casefold(): place.depth_m for place in places}
    samples, faults = [], []
    for number, line in enumerate(text.splitlines(), 1):
        cells = _cells(line)
        if not cells or (number == 1 and not re.search(r"\d", line)):
            continue
        if len(cells) < 5:
            faults.append(
                f"Line {number}: location, name, kind, from and to are needed, separated by tabs or semicolons."
            )
            continue
        said = dict(zip(_COLUMNS, cells, strict=False))
        place = said.pop("location")
        said["kind"] = said["kind"].casefold()
        made, errors = filled(SampleForm, said)
        key = (place.casefold(), said["name"].casefold())
        if said["kind"] not in KINDS:
            faults.append(f"Line {number}: “{said['kind']}” is no kind of sample; {', '.join(KINDS)}.")
        elif made is None:
            faults += [f"Line {number}, {name.replace('_', ' ')}: {why}." for name, why in errors.items()]
        elif key in taken:
            faults.append(f"Line {number}: there is “{said['name']}” at {place} already.")
        elif made.base_m > depths.get(place.casefold(), made.base_m):
            faults.append(f"Line {number}: {place} is {depths[place.casefold()]:g} m deep.")
        else:
            taken.add(key)
            samples.append(NewSample(place, made))
    return Pasted(samples, faults)


def _cells(line: str) -> list[str]:
    mark = "\t" if "\t" in line else ";" if ";" in line else None
    return [cell.strip() for cell in line.split(mark)] if line.strip() else []
