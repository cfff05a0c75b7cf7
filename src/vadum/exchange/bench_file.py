"""The bench file: readings of one test as JSON, read by ``vadum reduce`` and the HTTP API.

``{"format": "vadum-bench/1", "method": "liquid-limit", "settings": {}, "context": {}, "readings": {}}``
"""

import json
from dataclasses import dataclass
from importlib.resources import files
from typing import Any

from pydantic import BaseModel, ValidationError

from vadum.soil.contract.complaint import Complaint, complaints
from vadum.soil.contract.method import Method
from vadum.soil.contract.reduction import Reduction
from vadum.soil.earlier import became, renewed
from vadum.soil.registry import UnknownMethod
from vadum.soil.registry import method as method_of

FORMAT = "vadum-bench/1"
LARGEST_BYTES = 8_000_000
_KEYS = ("format", "method", "settings", "context", "readings")


class BenchFileError(ValueError):
    """A file that cannot be taken; every fault is named with its place."""

    def __init__(self, *faults: Complaint) -> None:
        super().__init__("; ".join(f"{fault.place}: {fault.message}" for fault in faults))
        self.faults = list(faults)


@dataclass(frozen=True)
class BenchFile:
    """A validated bench file."""

    method: Method[Any, Any, Any]
    readings: Any
    settings: Any
    context: Any

    def reduce(self) -> Reduction:
        return self.method.reduce(self.readings, self.settings, self.context)


def example_of(code: str) -> str:
    """Return the example of a method as it stands in the method's package, "" when there is none.

    Raises
    ------
    UnknownMethod
        If there is no such method.
    """
    package = type(method_of(code)).__module__.rpartition(".")[0]
    file = files(package) / "example.json"
    return file.read_text(encoding="utf-8") if file.is_file() else ""


def parse(raw: bytes) -> BenchFile:
    """Read a bench file from bytes.

    Raises
    ------
    BenchFileError
        Naming every fault with its place.
    """
    if len(raw) > LARGEST_BYTES:
        raise _fault("file", f"is {len(raw) / 1e6:.0f} MB; a bench file has at most {LARGEST_BYTES / 1e6:.0f} MB")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise _fault("file", f"is not UTF-8 text (byte {error.start})") from error
    try:
        data = json.loads(text)
    except json.JSONDecodeError as error:
        raise _fault(f"line {error.lineno}, column {error.colno}", f"is not JSON: {error.msg}") from error
    except (RecursionError, ValueError) as error:
        raise _fault("file", "is not JSON this program can read") from error
    return from_data(data)


def from_data(data: Any) -> BenchFile:
    """Validate a bench file that is already plain data; raises as :func:`parse`."""
    if not isinstance(data, dict):
        raise _fault("file", "must be an object with format, method and readings")
    given = data.get("format")
    if given != FORMAT:
        said = f"is {_shown(given)}" if given is not None else "is missing"
        raise _fault("format", f"{said}; this program reads {FORMAT}")
    if extra := [key for key in data if key not in _KEYS]:
        raise BenchFileError(
            *(Complaint(place=str(key)[:80], message="is not a part of a bench file") for key in extra[:20])
        )
    data = _as_now(data)
    try:
        method = method_of(data.get("method", ""))
    except UnknownMethod as error:
        raise _fault("method", str(error)) from error
    faults: list[Complaint] = []
    parts: list[Any] = []
    models: tuple[tuple[str, type[BaseModel]], ...] = (
        ("readings", method.Readings),
        ("settings", method.Settings),
        ("context", method.Context),
    )
    for name, model in models:
        try:
            parts.append(model.model_validate(data.get(name) if data.get(name) is not None else {}))
        except ValidationError as error:
            faults += complaints(error, name)
    if faults:
        raise BenchFileError(*faults)
    return BenchFile(method, *parts)


def _as_now(data: dict[str, Any]) -> dict[str, Any]:
    """Return a file of an earlier release in the words of this one; what is no bench file is refused as it is."""
    method, settings = data.get("method", ""), data.get("settings")
    if not isinstance(settings, dict) or "arrangement" not in settings or not isinstance(data.get("readings"), dict):
        return data
    now = became(method, settings)
    return data | renewed(method, now, {"readings": data["readings"], "settings": settings}) | {"method": now}


def compose(method: str, readings: Any, settings: Any, context: Any) -> dict[str, Any]:
    """Return a bench file as plain data; :func:`from_data` takes it back."""
    return {"format": FORMAT, "method": method, "settings": settings, "context": context, "readings": readings}


def _fault(place: str, message: str) -> BenchFileError:
    return BenchFileError(Complaint(place=place, message=message))


def _shown(value: Any) -> str:
    text = json.dumps(value)
    return text if len(text) <= 40 else text[:40] + "…"
