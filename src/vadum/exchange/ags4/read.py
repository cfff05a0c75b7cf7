"""A file of the transfer format taken apart: its project, locations, layers and samples, or what is wrong, line by
line."""

import csv
import io
import re
from collections import Counter
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from pydantic import Field, ValidationError

from vadum.exchange.ags4.codes import location_kind, sample_kind
from vadum.exchange.ags4.sent import Layer, Place, Taken, Way
from vadum.exchange.ags4.standard import standard
from vadum.soil.bench.position import latitude, longitude
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.field import Entered, reading

_GROUPS = ("PROJ", "LOCA", "GEOL", "SAMP")
# The library's checker reads every cell of every group; beyond this it would be waited for too long.
MOST_CHECKED = 5_000_000


class TransferError(ValueError):
    """A file that cannot be taken; the message is for the person who brought it."""


@dataclass(frozen=True)
class Fault:
    """What cannot be taken, and where: line of the file and heading, as far as known."""

    line: int | None
    heading: str
    message: str


@dataclass
class Received:
    """What a file brings. With a fault nothing of it may be taken; notes say what was done about small things."""

    name: str = ""
    client: str = ""
    note: str = ""
    places: list[Place] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)


class _Location(Entered):
    LOCA_ID: str = Field(min_length=1, max_length=80)
    LOCA_TYPE: str = ""
    LOCA_FDEP: float | None = reading("final depth", "m", low=0.1, high=500)
    LOCA_GL: float | None = reading("level", "m", low=-500, high=9000)
    LOCA_NATE: float | None = reading("easting", "m", low=-1e8, high=1e8)
    LOCA_NATN: float | None = reading("northing", "m", low=-1e8, high=1e8)
    LOCA_LOCX: float | None = reading("local x", "m", low=-1e8, high=1e8)
    LOCA_LOCY: float | None = reading("local y", "m", low=-1e8, high=1e8)
    LOCA_LAT: float | None = latitude()
    LOCA_LON: float | None = longitude()


class _Layer(Entered):
    LOCA_ID: str = Field(min_length=1)
    GEOL_TOP: float = reading("top", "m", low=0, high=500)
    GEOL_BASE: float = reading("base", "m", low=0, high=500)
    GEOL_DESC: str = ""


class _Sample(Entered):
    LOCA_ID: str = Field(min_length=1)
    SAMP_REF: str = ""
    SAMP_ID: str = ""
    SAMP_TYPE: str = ""
    SAMP_TOP: float = reading("top", "m", low=0, high=500)
    SAMP_BASE: float | None = reading("base", "m", low=0, high=500)
    SAMP_DESC: str = ""
    SAMP_WHO: str = ""
    SAMP_TECH: str = ""
    SAMP_COND: str = ""

    @property
    def name(self) -> str:
        return (self.SAMP_REF or self.SAMP_ID or f"{self.SAMP_TYPE or 'S'} {self.SAMP_TOP:g}")[:80]


def read_transfer(data: bytes) -> Received:
    """Return what a file brings; faults are listed in it, each with its line.

    Raises
    ------
    TransferError
        If it is no such file, or so damaged that its lines cannot be told apart.
    """
    text, found = _text(data)
    tables = _tables(text)
    received = Received(notes=found)
    _project(received, tables.get("PROJ", []))
    if "LOCA" not in tables:
        raise TransferError("The file has no group LOCA: there are no locations in it.")
    rows = {
        name: _rows(received, kind, tables.get(group, []))
        for group, name, kind in (
            ("LOCA", "locations", _Location),
            ("GEOL", "layers", _Layer),
            ("SAMP", "samples", _Sample),
        )
    }
    named = {row.get("LOCA_ID", "").strip() for row in tables["LOCA"] if row["HEADING"] == "DATA"}
    _gather(received, named, **rows)
    received.faults.sort(key=lambda fault: fault.line or 0)
    if len(data) <= MOST_CHECKED:
        _check(received, text)
    return received


def _text(data: bytes) -> tuple[str, list[str]]:
    if data[:4] == b"PK\x03\x04":
        raise TransferError("This is a ZIP file or a workbook, not a file of the transfer format (.ags).")
    notes = []
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
        notes.append("The file is not in UTF-8; it was read as Windows-1252. Look at the letters with accents.")
    if "\x00" in text:
        raise TransferError("This is no text: it holds zero bytes. Save it as UTF-8.")
    if re.search(r'^"?\*\*', text, re.MULTILINE) and not re.search(r'^"GROUP"', text, re.MULTILINE):
        raise TransferError("This is of an older edition, with ** before its groups; only edition 4 is read.")
    if not re.search(r'^"GROUP"', text, re.MULTILINE):
        raise TransferError('This is no file of the transfer format: no line begins with "GROUP".')
    return text, notes


def _tables(text: str) -> dict[str, list[dict[str, str]]]:
    """Return the rows of the groups that are taken, each with its line and the units of its headings."""
    from python_ags4 import AGS4

    try:
        data, _, _ = AGS4.AGS4_to_dict(io.StringIO(_only_taken(text)), get_line_numbers=True)
        return {
            group: [dict(zip(columns, row, strict=True)) for row in zip(*columns.values(), strict=True)]
            for group, columns in data.items()
        }
    except AGS4.AGS4Error as error:
        raise TransferError(f"The file cannot be taken apart. {error}") from error
    except (KeyError, IndexError, ValueError, csv.Error) as error:
        raise TransferError(
            "The file cannot be taken apart: a row stands before its heading, or quotes do not close."
        ) from error


def _only_taken(text: str) -> str:
    """Return the text with the lines of all other groups blank, so that line numbers stay and a large file is quick."""
    taken, lines = False, []
    for line in text.splitlines():
        if line.startswith('"GROUP"'):
            taken = line.split(",")[1].strip().strip('"') in _GROUPS if "," in line else False
        lines.append(line if taken else "")
    return "\n".join(lines) + "\n"


def _project(received: Received, rows: list[dict[str, str]]) -> None:
    data = [row for row in rows if row["HEADING"] == "DATA"]
    if not data:
        received.faults.append(Fault(None, "PROJ", "the file does not say which project it is of"))
        return
    first = data[0]
    received.name = (first.get("PROJ_NAME") or first.get("PROJ_ID") or "").strip()[:80]
    received.client = first.get("PROJ_CLNT", "").strip()
    received.note = first.get("PROJ_MEMO", "").strip()
    if not received.name:
        received.faults.append(Fault(int(first["line_number"]), "PROJ_NAME", "is empty, and so is PROJ_ID"))


def _rows(received: Received, kind: type[Any], rows: list[dict[str, str]]) -> list[tuple[int, Any]]:
    """Return the rows of a group as their model, with their line; what cannot be taken becomes a fault."""
    units = next((row for row in rows if row["HEADING"] == "UNIT"), {})
    found = []
    for row in rows:
        if row["HEADING"] != "DATA":
            continue
        line = int(row["line_number"])
        try:
            cells = {name: _cell(name, row[name], units.get(name, "")) for name in kind.model_fields if name in row}
            found.append((line, kind.model_validate({name: cell for name, cell in cells.items() if cell != ""})))
        except ValidationError as error:
            received.faults += [Fault(line, fault.place, fault.message) for fault in complaints(error)]
        except ValueError as error:
            received.faults.append(Fault(line, "LOCA_LAT or LOCA_LON", str(error)))
    return found


def _cell(name: str, text: str, unit: str) -> str:
    """Return a cell as it is typed by hand: a length with its unit where that is not metres."""
    text = text.strip()
    if name in ("LOCA_LAT", "LOCA_LON"):
        return _degrees(text)
    return f"{text} {unit}" if text and unit not in ("", "m") and re.fullmatch(r"[-+\d.]+", text) else text


def _degrees(text: str) -> str:
    """Return degrees from degrees, minutes and seconds; from decimal degrees as they are."""
    if ":" not in text:
        return text
    parts = text.split(":")
    try:
        size = sum(abs(float(part)) / 60**k for k, part in enumerate(parts))
    except ValueError as error:
        raise ValueError(f"{text} is no position in degrees, minutes and seconds") from error
    return f"{'-' if text.startswith('-') else ''}{size:.8f}"


def _gather(
    received: Received,
    named: set[str],
    locations: list[tuple[int, _Location]],
    layers: list[tuple[int, _Layer]],
    samples: list[tuple[int, _Sample]],
) -> None:
    """Put layers and samples to their locations."""
    known = {place.LOCA_ID: place for _, place in locations}
    for line, place in locations:
        if known[place.LOCA_ID] is not place:
            received.faults.append(Fault(line, "LOCA_ID", f"{place.LOCA_ID} stands twice"))
    for line, name in (*((n, row.LOCA_ID) for n, row in layers), *((n, row.LOCA_ID) for n, row in samples)):
        if name not in named:
            received.faults.append(Fault(line, "LOCA_ID", f"{name} is not among the locations"))
    _judge(received, layers, samples)
    if received.faults:
        return
    for _, place in locations:
        here = [row for _, row in layers if row.LOCA_ID == place.LOCA_ID]
        taken = [row for _, row in samples if row.LOCA_ID == place.LOCA_ID]
        received.places.append(_place(received, place, here, taken))


def _judge(received: Received, layers: list[tuple[int, _Layer]], samples: list[tuple[int, _Sample]]) -> None:
    for line, layer in layers:
        if layer.GEOL_TOP is None or layer.GEOL_BASE is None or layer.GEOL_BASE < layer.GEOL_TOP:
            received.faults.append(Fault(line, "GEOL_BASE", "a layer goes from its top down to its base"))
    for line, sample in samples:
        if sample.SAMP_TOP is None:
            received.faults.append(Fault(line, "SAMP_TOP", "is empty: at which depth was it taken?"))
        elif sample.SAMP_BASE is not None and sample.SAMP_BASE < sample.SAMP_TOP:
            received.faults.append(
                Fault(line, "SAMP_BASE", f"{sample.SAMP_BASE:g} m is above SAMP_TOP, {sample.SAMP_TOP:g} m")
            )
    if received.faults:
        return
    twice = [name for name, n in Counter((s.LOCA_ID, s.name) for _, s in samples).items() if n > 1]
    for line, sample in samples:
        if (sample.LOCA_ID, sample.name) in twice:
            received.faults.append(Fault(line, "SAMP_REF", f"{sample.name} stands more than once at {sample.LOCA_ID}"))


def _place(received: Received, place: _Location, layers: list[_Layer], samples: list[_Sample]) -> Place:
    reached = max([row.GEOL_BASE for row in layers] + [row.SAMP_BASE or row.SAMP_TOP for row in samples], default=0.0)
    depth = max(place.LOCA_FDEP or 0.0, reached)
    if not depth:
        received.faults.append(Fault(None, "LOCA_FDEP", f"nothing says how deep {place.LOCA_ID} is"))
    elif place.LOCA_FDEP is None or depth > place.LOCA_FDEP:
        said = "empty" if place.LOCA_FDEP is None else f"{place.LOCA_FDEP:g} m"
        received.notes.append(
            f"{place.LOCA_ID}: final depth {said}; {depth:g} m is taken, where its layers and samples end."
        )
    return Place(
        name=place.LOCA_ID,
        kind=location_kind(place.LOCA_TYPE),
        depth_m=depth,
        level_m=place.LOCA_GL,
        easting_m=place.LOCA_NATE if place.LOCA_NATE is not None else place.LOCA_LOCX,
        northing_m=place.LOCA_NATN if place.LOCA_NATN is not None else place.LOCA_LOCY,
        latitude_deg=place.LOCA_LAT if place.LOCA_LON is not None else None,
        longitude_deg=place.LOCA_LON if place.LOCA_LAT is not None else None,
        layers=tuple(Layer(row.GEOL_TOP, row.GEOL_BASE, row.GEOL_DESC) for row in layers),
        samples=tuple(
            Taken(
                row.name,
                sample_kind(row.SAMP_TYPE),
                row.SAMP_TOP,
                row.SAMP_TOP if row.SAMP_BASE is None else row.SAMP_BASE,
                row.SAMP_DESC,
                Way(row.SAMP_WHO, row.SAMP_TECH, row.SAMP_COND),
            )
            for row in samples
        ),
    )


def _check(received: Received, text: str) -> None:
    """Add what the format's own checker finds in the whole file."""
    broken = _broken_rules(text)
    if broken is None:
        received.notes.append("The format's checker could not go through the whole file.")
    elif broken:
        received.notes.append(
            f"The format's checker finds the file against {', '.join(broken)}; the sender can mend it. What is taken"
            " here was checked by itself."
        )


@lru_cache(maxsize=2)
def _broken_rules(text: str) -> tuple[str, ...] | None:
    """Return the rules that a file breaks, None where the checker cannot tell. It takes seconds, and a file that was
    looked at is sent once more to be taken."""
    from python_ags4 import AGS4

    standard()  # silences the library's log
    try:
        said = AGS4.check_file(io.StringIO(text, newline=""))
    except Exception:  # a checker of other people's files, not ours: whatever it trips over is not this file's end
        return None
    return tuple(rule.removeprefix("AGS Format ").lower() for rule in said if rule.startswith("AGS Format Rule"))
