"""What ships with Vadum and what it stands on, each with its version and licence as its own metadata say."""

import importlib.metadata
import json
import re
from dataclasses import dataclass
from pathlib import Path

_MANIFEST = Path(__file__).parent / "web" / "static" / "vendor" / "MANIFEST.json"
_NAME = re.compile(r"[A-Za-z0-9._-]+")


@dataclass(frozen=True)
class Part:
    """A package or a shipped file: ``where`` is "installed" beside Vadum or "shipped" within it."""

    name: str
    version: str
    licence: str
    where: str


def parts() -> list[Part]:
    """Return every package that Vadum needs, and theirs, and every file that ships with it, by name."""
    found: dict[str, Part] = {}
    _walk("vadum", found)
    shipped = json.loads(_MANIFEST.read_text(encoding="utf-8"))["packages"]
    return [
        *sorted(found.values(), key=lambda part: part.name.lower()),
        *(Part(one["name"], one["version"], one["license"], "shipped") for one in shipped),
    ]


def _walk(name: str, found: dict[str, Part]) -> None:
    key = name.lower().replace("_", "-")
    if key in found:
        return
    try:
        about = importlib.metadata.distribution(name)
    except importlib.metadata.PackageNotFoundError:
        return  # asked for by an extra or on another system only
    found[key] = Part(about.metadata["Name"], about.version, _licence(about.metadata), "installed")
    for wanted in about.requires or ():
        if "extra ==" not in wanted and (match := _NAME.match(wanted)):
            _walk(match[0], found)


def _licence(metadata: importlib.metadata.PackageMetadata) -> str:
    if expression := metadata.get_all("License-Expression"):
        return str(expression[0])
    classified = [c.rpartition(" :: ")[2] for c in metadata.get_all("Classifier") or () if c.startswith("License ::")]
    words = [text.splitlines()[0][:60] for text in metadata.get_all("License") or () if text.strip()]
    return ", ".join(classified) or next(iter(words), "not said")
