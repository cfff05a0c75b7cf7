"""Opening an archive: is it one, is it whole, and can everything in it be taken; what is wrong is said in words."""

import hashlib
import io
import json
import zipfile
import zlib
from typing import Any

from pydantic import TypeAdapter, ValidationError

from vadum.records.archive.plain import FORMAT
from vadum.records.footing import Lean
from vadum.records.pieces import Piece
from vadum.records.tables import STATES
from vadum.soil.contract.complaint import complaints
from vadum.soil.contract.reduction import Reduction
from vadum.soil.earlier import became, renewed
from vadum.soil.registry import UnknownMethod
from vadum.soil.registry import method as method_of

MOST_UNPACKED = 400_000_000
_LEANS, _PIECES = TypeAdapter(list[Lean]), TypeAdapter(list[Piece])
_HELD = TypeAdapter(dict[int, int])


class ArchiveError(ValueError):
    """A file that is no archive of a project, or a damaged one; the message is for the person who brought it."""


def opened(data: bytes) -> tuple[dict[str, Any], dict[str, bytes]]:
    """Return the JSON and the files of an archive, every file with the hash it is named by."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED:
                raise ArchiveError("The archive unpacks to more than 400 MB.")
            plain = json.loads(packed.read("project.json"))
            files = {p.filename[6:]: packed.read(p) for p in packed.infolist() if p.filename.startswith("files/")}
    except ArchiveError:
        raise
    except KeyError as error:
        raise ArchiveError("This is no archive of a project: project.json is missing.") from error
    except (zipfile.BadZipFile, zlib.error, ValueError, RuntimeError, EOFError, OSError, RecursionError) as error:
        raise ArchiveError("This is no archive of a project, or it is damaged.") from error
    if not isinstance(plain, dict) or plain.get("format") != FORMAT:
        raise ArchiveError(f"This is not of the format {FORMAT}.")
    try:
        json.dumps(plain, ensure_ascii=False).encode()
    except UnicodeEncodeError as error:
        raise ArchiveError("The archive holds letters that are half a sign: it is damaged.") from error
    for name, content in files.items():
        if hashlib.sha256(content).hexdigest() != name:
            raise ArchiveError("A file of the archive is not what was packed: it is damaged or was changed.")
    return plain, files


def tests_of(place: dict[str, Any]) -> list[dict[str, Any]]:
    return [*place["tests"], *(t for s in place["samples"] for t in s["tests"])]


def held_against(plain: dict[str, Any]) -> dict[int, int]:
    """Return the tests whose densities are held against another soil than the lifts' own, by their numbers in the
    archive; 0 for natural ground."""
    return _HELD.validate_python(plain.get("held_against", {}))


def _as_now(kept: dict[str, Any]) -> dict[str, Any]:
    """Return the parts of an earlier release's test that its method of now names otherwise."""
    test = kept["test"]
    now = became(test["method"], test["settings"])
    if now == test["method"] and "arrangement" not in test["settings"]:
        return {}
    found = {
        name: [renewed(test["method"], now, one) for one in kept.get(name, [])] for name in ("revisions", "checks")
    }
    return found | {"test": renewed(test["method"], now, test) | {"method": now}}


def judged(plain: dict[str, Any], files: dict[str, bytes]) -> list[dict[str, Any]]:
    """Return the tests of an archive; refuse unknown methods, readings they do not take, parts and files that are
    missing."""
    try:
        tests = [t for place in plain["locations"] for t in tests_of(place)]
        for kept in tests:
            kept |= _as_now(kept)
        parts = [plain["project"]["name"], plain["equipment"], *(place["strata"] for place in plain["locations"])]
        names = [e["name"] for e in plain["equipment"]]
        if len(set(names)) < len(names):
            raise ArchiveError("Two pieces of equipment of the archive have one name.")
        held_against(plain)
        if any(one["sha256"] not in files for one in plain.get("reports", [])):
            raise ArchiveError("A report is missing in the archive.")
        for kept in (*tests, *(t for e in plain["equipment"] for t in e.get("inspections", []))):
            parts += [kept["uses"], kept["times"]]
            _test(kept, files)
    except UnknownMethod as error:
        raise ArchiveError(f"The archive holds a test of a method that is not known here: {error}.") from error
    except ValidationError as error:
        raise ArchiveError(f"Readings that cannot be taken: {said(error)}.") from error
    except (KeyError, TypeError, AttributeError) as error:
        raise ArchiveError(f"The archive is not whole: {error}.") from error
    return tests


def said(error: ValidationError) -> str:
    """Return the first thing that is wrong, with its place."""
    first = complaints(error)[0]
    return f"{first.place}: {first.message}"


def _test(kept: dict[str, Any], files: dict[str, bytes]) -> None:
    test = kept["test"]
    method = method_of(test["method"])
    name = method.title.lower()
    if test["state"] not in STATES:
        raise ArchiveError(f"A test of {name} is in a state that is none: “{test['state']}”.")
    method.Readings.model_validate(test["readings"])
    method.Settings.model_validate(test["settings"])
    numbers = [r["number"] for r in kept["revisions"]]
    if numbers != list(range(1, len(numbers) + 1)) or (numbers and test["revision"] != len(numbers)):
        raise ArchiveError(f"The revisions of a test of {name} are not numbered one after the other.")
    if len({r["save_key"] for r in kept["revisions"]}) < len(numbers):
        raise ArchiveError(f"Two revisions of a test of {name} are one save.")
    for revision in kept["revisions"]:
        method.Readings.model_validate(revision["readings"])
    for check in kept.get("checks", []):
        method.Readings.model_validate(check["readings"])
        method.Settings.model_validate(check["settings"])
        method.Context.model_validate(check["context"])
        Reduction.model_validate(check["result"])
        _LEANS.validate_python(check["leans"])
        _PIECES.validate_python(check["pieces"])
    wanted = [a["sha256"] for a in (*kept["attachments"], *kept["issued"])]
    wanted += [a["small"] for a in kept["attachments"] if a["small"]]
    if missing := [sha for sha in wanted if sha not in files]:
        raise ArchiveError(f"{len(missing)} files of {name} are missing in the archive.")
