"""Scripts and styles that belong together, sent as one file: over a slow line a first visit waits for every file.

What is written stays what a browser takes as it is: modules that import each other, styles that import styles. Files
are named as addresses name them, below the release. A script is sent with the modules that stand beside it, each in a
scope of its own; the modules of ``core`` are one file for all scripts, so that what two of a page share is there once.
"""

import re
from collections.abc import Callable, Iterable
from posixpath import dirname, join, normpath, relpath

CORE, CORE_FILE = "static/js/core", "static/js/core.js"
_IMPORT = re.compile(r'^import (?:(\* as \w+|\{[^}]*\}) from )?"(\.[^"]+)";$', re.MULTILINE)
_EXPORT = re.compile(r"^export (?=(?:const|class|(?:async )?function\*?) (\w+))", re.MULTILINE)
_NAMED = re.compile(r"(\w+)(?: as \w+)?\s*[,}]")
_STYLES = re.compile(r'^@import "([^"]+)";$', re.MULTILINE)
_ADDRESS = re.compile(r"""url\((["']?)(?!data:)([^"')]+)\1\)""")
Read = Callable[[str], str]


def named_in(name: str, text: str) -> list[str]:
    """Return the scripts or styles that a file is made of beside itself."""
    found = _STYLES.findall(text) if name.endswith(".css") else [of for _, of in _IMPORT.findall(text)]
    return [_at(name, of) for of in found]


def styles(name: str, read: Read) -> str:
    """Return a style sheet with those that it imports; what they name by address is found from where it stands."""

    def taken_in(of: str) -> str:
        def from_here(address: re.Match[str]) -> str:
            return f'url("{relpath(_at(of, address[2]), dirname(name))}")'

        return _ADDRESS.sub(from_here, read(of))

    return _STYLES.sub(lambda found: taken_in(_at(name, found[1])), read(name))


def script(name: str, read: Read) -> str:
    """Return a script with the modules beside it that it is made of."""
    if not named_in(name, read(name)):
        return read(name)
    parts = _in_order([name], read)
    shared = [of for part, text in parts.items() for of in named_in(part, text) if dirname(of) == CORE]
    asked = ", ".join(map(_word, dict.fromkeys(shared)))
    # Without a dot before it, it would be the name of a package.
    opening = f'import {{ {asked} }} from "./{relpath(CORE_FILE, dirname(name))}";\n' if asked else ""
    return opening + "".join(_part(part, text, read) for part, text in parts.items())


def core(names: Iterable[str], read: Read) -> str:
    """Return the modules of ``core`` as one, which gives each as an object of what it exports."""
    parts = _in_order(names, read)
    every = "".join(_part(part, text, read) for part, text in parts.items())
    return f"{every}export {{ {', '.join(map(_word, parts))} }};\n"


def _in_order(names: Iterable[str], read: Read) -> dict[str, str]:
    """Return modules and those beside them that they need, each after those it needs, as a browser runs them."""
    parts: dict[str, str] = {}

    def bring(name: str) -> None:
        text = read(name)
        for of in named_in(name, text):
            if of not in parts and dirname(of) == dirname(name):
                bring(of)
        parts[name] = text

    for name in names:
        if name not in parts:
            bring(name)
    return parts


def _part(name: str, text: str, read: Read) -> str:
    """Return a module in a scope of its own.

    Raises
    ------
    ValueError
        If it imports what is not exported in a way that is known here, where it would find nothing without a word, or
        from a folder that is neither its own nor ``core``.
    """

    def taken(found: re.Match[str]) -> str:
        what, of = found[1], _at(name, found[2])
        if dirname(of) not in (dirname(name), CORE):
            raise ValueError(f"{name} imports {of}, which stands neither beside it nor in {CORE}")
        if not what:
            return ""
        if what.startswith("*"):
            return f"const {what.removeprefix('* as ')} = {_word(of)};"
        lacking = set(_NAMED.findall(what)) - set(_EXPORT.findall(read(of)))
        if lacking:
            raise ValueError(f"{name} imports {', '.join(sorted(lacking))}: {of} exports no such name")
        return f"const {what.replace(' as ', ': ')} = {_word(of)};"

    body = _EXPORT.sub("", _IMPORT.sub(taken, text))
    given = ", ".join(_EXPORT.findall(text))
    return f"const {_word(name)} = (() => {{\n{body}return {{ {given} }};\n}})();\n"


def _at(name: str, of: str) -> str:
    return normpath(join(dirname(name), of))


def _word(name: str) -> str:
    return re.sub(r"\W", "_", name)
