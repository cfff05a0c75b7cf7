"""The beginning of a method: a package that reduces from its first minute, and says what is still to be written.

The files of a new method stand beside this one as text; ``$Name`` and its like are filled in.
"""

import re
from importlib.resources import files
from pathlib import Path
from string import Template

_SUFFIX = ".txt"
_CODE = re.compile(r"[a-z][a-z0-9]*(-[a-z0-9]+)*")


class NotAName(ValueError):
    """A method cannot be called this."""


def new_method(code: str, title: str, methods: Path, transfer: Path) -> list[Path]:
    """Write the package of a new method and its file of the transfer format; return the paths written.

    Arguments
    ---------
    code : slug of the method, such as ``linear-shrinkage``
    methods, transfer : folders of the methods and of their fillings

    Raises
    ------
    NotAName
        If the slug is not one, or the method exists.
    """
    if not _CODE.fullmatch(code):
        raise NotAName(f"“{code}” is no slug: small letters, digits and single dashes, such as linear-shrinkage")
    package = code.replace("-", "_")
    folder = methods / package
    if folder.exists():
        raise NotAName(f"{folder} exists already")
    names = {
        "code": code,
        "package": package,
        "Name": "".join(part.capitalize() for part in code.split("-")),
        "title": title,
        "CONST": package.upper(),
    }
    folder.mkdir(parents=True)
    written = []
    for file in sorted(files(__name__).iterdir(), key=lambda file: file.name):
        if file.name.endswith(_SUFFIX):
            name = file.name.removesuffix(_SUFFIX)
            target = transfer / f"{package}.py" if name == "transfer.py" else folder / name
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_text(Template(file.read_text(encoding="utf-8")).substitute(names), encoding="utf-8")
            written.append(target)
    return written
