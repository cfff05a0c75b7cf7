"""A project as a file of the transfer format."""

import tempfile
from collections.abc import Iterable
from datetime import date, datetime
from pathlib import Path
from typing import Any

from vadum.exchange.ags4 import EDITION
from vadum.exchange.ags4.codes import LOCATION_CODES, SAMPLE_CODES
from vadum.exchange.ags4.fillings import filling, left_out
from vadum.exchange.ags4.grading import grading
from vadum.exchange.ags4.letters import as_written, loses, told_apart
from vadum.exchange.ags4.sent import Place, Row, Sent, Taken, Transfer
from vadum.exchange.ags4.standard import Heading, standard
from vadum.soil.contract.method import GRADINGS
from vadum.soil.registry import method as method_of

# What two tests in one row may differ in.
_JOINED = {"SPEC_REF", "LLPL_METH", "TEST_STAT"}
Rows = dict[str, list[dict[str, Any]]]
Identities = dict[tuple[str, str], str]
_FIRST = ("PROJ", "TRAN", "ABBR", "TYPE", "UNIT")


def transfer_file(sent: Transfer) -> bytes:
    """Return a project as a file with its reportable tests; what is left out or lost is said in its remarks.

    Locations, and samples of a location, are known by their names: ``told_apart`` before.
    """
    rows: Rows = {}
    known = _identities(sent)
    for group, row in (*_particulars(sent), *_ground(sent, known)):
        rows.setdefault(group, []).append(row)
    for test, filled in _filled([test for test in sent.tests if test.reduction.reportable]):
        for group, row in _keyed(test, filled, sent.by, known):
            rows.setdefault(group, []).append(row)
    if "LLPL" in rows:
        rows["LLPL"] = _paired(rows["LLPL"])
    rows["TRAN"][0]["TRAN_REM"] = _remarks(sent, rows)
    return _file(_plain(rows))


def _identities(sent: Transfer) -> Identities:
    """Return what each sample goes by in the whole project: A-1 has a 2 where A has a 1-2."""
    pairs = [(place.name, sample.name) for place in sent.places for sample in place.samples]
    return dict(zip(pairs, told_apart("-".join(pair) for pair in pairs), strict=True))


def _particulars(sent: Transfer) -> list[tuple[str, dict[str, Any]]]:
    project = {
        "PROJ_ID": str(sent.number),
        "PROJ_NAME": sent.name,
        "PROJ_CLNT": sent.client,
        "PROJ_CONT": sent.by,
        "PROJ_MEMO": sent.note,
    }
    issue = {
        "TRAN_ISNO": f"{sent.made:%Y%m%d%H%M%S}",
        "TRAN_DATE": sent.made.date(),
        "TRAN_PROD": sent.by,
        "TRAN_STAT": "As on record",
        "TRAN_DESC": "Results of the tests that may be reported",
        "TRAN_AGS": EDITION,
        "TRAN_RECV": sent.client or "Not stated",
    }
    return [("PROJ", project), ("TRAN", issue)]


def omitted(sent: Transfer) -> list[tuple[Sent, str]]:
    """Return the tests that do not go out, each with the reason."""
    found = [
        (test, "may not be reported" if not test.reduction.reportable else left_out(test.method)) for test in sent.tests
    ]
    return [(test, why) for test, why in found if why]


def _remarks(sent: Transfer, rows: Rows) -> str | None:
    """Return which tests were left out, so that nobody takes the file for all that was tested, and that letters are
    lost."""
    said = [f"{method_of(test.method).title} (test {test.number}): {why}" for test, why in omitted(sent)]
    remarks = [f"Left out: {'; '.join(said)}."] if said else []
    if any(isinstance(value, str) and loses(value) for of in rows.values() for row in of for value in row.values()):
        remarks.append("A letter that this format does not hold is written as a question mark.")
    return " ".join(remarks) or None


def _ground(sent: Transfer, known: Identities) -> Iterable[tuple[str, dict[str, Any]]]:
    for place in sent.places:
        yield "LOCA", _location(place)
        for layer in place.layers:
            yield (
                "GEOL",
                {
                    "LOCA_ID": place.name,
                    "GEOL_TOP": layer.top_m,
                    "GEOL_BASE": layer.base_m,
                    "GEOL_DESC": layer.description,
                },
            )
        for sample in place.samples:
            more = {
                "SAMP_BASE": sample.base_m,
                "SAMP_DESC": sample.description,
                "SAMP_TECH": sample.way.how,
                "SAMP_WHO": sample.way.by,
                "SAMP_COND": sample.way.condition,
                "SAMP_REM": sample.way.remark,
            }
            yield "SAMP", {"LOCA_ID": place.name} | _sample(place, sample, known) | more


def _location(place: Place) -> dict[str, Any]:
    found = {
        "LOCA_ID": place.name,
        "LOCA_TYPE": LOCATION_CODES.get(place.kind, "EH"),
        "LOCA_FDEP": place.depth_m,
        "LOCA_GL": place.level_m,
        "LOCA_LOCX": place.easting_m,
        "LOCA_LOCY": place.northing_m,
    }
    if place.latitude_deg is not None and place.longitude_deg is not None:
        found |= {"LOCA_LAT": _dms(place.latitude_deg), "LOCA_LON": _dms(place.longitude_deg), "LOCA_LLZ": "WGS84"}
    return found


def _dms(degrees: float) -> str:
    """Return degrees, minutes and seconds; a thousandth of a second is three centimetres."""
    thousandths = round(abs(degrees) * 3_600_000)
    minutes, rest = divmod(thousandths, 60_000)
    return f"{'-' if degrees < 0 else ''}{minutes // 60}:{minutes % 60:02d}:{rest / 1000:06.3f}"


def _sample(place: Place, sample: Taken, known: Identities) -> dict[str, Any]:
    return {
        "SAMP_TOP": sample.top_m,
        "SAMP_REF": sample.name,
        "SAMP_TYPE": SAMPLE_CODES.get(sample.kind, "D"),
        "SAMP_ID": known[place.name, sample.name],
    }


def _filled(tests: list[Sent]) -> Iterable[tuple[Sent, list[Row]]]:
    """Return what each test fills; the sieves and the hydrometer of a sample make one grading."""
    pairs: dict[Any, dict[str, Sent]] = {}
    for test in tests:
        limb = method_of(test.method).curve_is
        if limb in GRADINGS and test.sample is not None:
            pairs.setdefault((test.place.name, test.sample.name), {}).setdefault(limb, test)
    coarse, fine = GRADINGS
    whole = {pair[fine].number: pair[coarse] for pair in pairs.values() if len(pair) == 2}
    for test in tests:
        fill = filling(test.method)
        if test.number in whole:
            yield test, grading(whole[test.number], test)
        elif fill is not None and test not in whole.values():
            yield test, fill(test)


def _keyed(test: Sent, filled: list[Row], by: str, ids: Identities) -> Iterable[Row]:
    """Return rows with the keys of location, sample and specimen, and with what is said of every test."""
    known: dict[str, Any] = {"LOCA_ID": test.place.name}
    if test.sample is not None:
        known |= _sample(test.place, test.sample, ids) | {"SPEC_REF": str(test.number), "SPEC_DPTH": test.sample.top_m}
    for number, (group, values) in enumerate(filled):
        headings = {h.name: h for h in standard().groups[group]}
        row = {name: value for name, value in known.items() if name in headings and headings[name].key}
        if number == 0 or f"{group}_METH" in headings:
            general = {f"{group}_METH": test.basis, f"{group}_LAB": by, f"{group}_CONT": by, "TEST_STAT": test.state}
            row |= {name: value for name, value in general.items() if name in headings}
        yield group, row | values


def _paired(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the liquid and the plastic limit of a sample in one row, as the group is meant; a second test stays
    alone."""
    found: list[dict[str, Any]] = []
    for row in ({name: value for name, value in row.items() if value is not None} for row in rows):
        for other in found:
            both = row.keys() & other.keys() - _JOINED
            if all(row[name] == other[name] for name in both) and "LLPL_LAB" in both:
                joint = {name: "; ".join(dict.fromkeys([other[name], row[name]])) for name in _JOINED & row.keys()}
                other |= row | joint | {"SPEC_REF": other["SPEC_REF"]}
                break
        else:
            found.append(row)
    return found


def _plain(rows: Rows) -> Rows:
    return {group: [{n: _cell(v) for n, v in row.items()} for row in of] for group, of in rows.items()}


def _cell(value: Any) -> Any:
    if isinstance(value, date | datetime):
        return value.isoformat()[:10]
    if not isinstance(value, str):
        return value
    return as_written(value) or None


def _file(rows: Rows) -> bytes:
    from python_ags4 import AGS4

    known = standard()
    filled = {
        group: [h for h in known.groups[group] if h.key or any(row.get(h.name) is not None for row in rows[group])]
        for group in rows
    }
    rows["ABBR"] = _codes(rows, filled)
    used = [h for headings in filled.values() for h in headings]
    for group in ("ABBR", "TYPE", "UNIT"):
        filled[group] = [h for h in known.groups[group] if h.name[5:] in ("HDNG", "CODE", "TYPE", "UNIT", "DESC")]
        used += filled[group]
    rows["TYPE"] = [{"TYPE_TYPE": kind, "TYPE_DESC": known.types[kind]} for kind in sorted({h.kind for h in used})]
    rows["UNIT"] = [{"UNIT_UNIT": u, "UNIT_DESC": known.units[u]} for u in sorted({h.unit for h in used} - {""})]
    order = [*_FIRST, *(group for group in known.groups if group in rows and group not in _FIRST)]
    tables = {group: AGS4.convert_to_text(_table(rows[group], filled[group])) for group in order if rows[group]}
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "transfer.ags"
        AGS4.dataframe_to_AGS4(tables, {group: list(table.columns) for group, table in tables.items()}, str(path))
        return path.read_bytes()


def _table(rows: list[dict[str, Any]], headings: list[Heading]) -> Any:
    from pandas import DataFrame

    top = [
        {"HEADING": "UNIT"} | {h.name: h.unit for h in headings},
        {"HEADING": "TYPE"} | {h.name: h.kind for h in headings},
    ]
    body = [{"HEADING": "DATA"} | {h.name: row.get(h.name) for h in headings} for row in rows]
    return DataFrame(top + body, columns=["HEADING", *(h.name for h in headings)], dtype=object)


def _codes(rows: Rows, filled: dict[str, list[Heading]]) -> list[dict[str, Any]]:
    """Return the codes used, with what each stands for."""
    used = {
        (h.name, code)
        for group, headings in filled.items()
        for h in headings
        if h.kind == "PA"
        for row in rows[group]
        if (code := row.get(h.name)) is not None
    }
    return [
        {"ABBR_HDNG": name, "ABBR_CODE": code, "ABBR_DESC": standard().codes[name, code]} for name, code in sorted(used)
    ]
