"""Scripts, styles, fonts and pictures: sent small, and under a name that changes whenever one of them does, so that a
browser keeps them for good and never shows a page with those of another release."""

import hashlib
import os
from functools import cache
from pathlib import Path

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import Response
from starlette.types import Scope

from vadum import drawing

_HERE = Path(__file__).parent
# By the name under which templates ask for them; of the last two only scripts and styles, nothing else that lies there.
FOLDERS = {"static": _HERE / "static", "pages": _HERE / "pages", "drawing": Path(drawing.__file__).parent}
_SENT = {".js", ".css", ".svg", ".woff2", ".png"}
_BESIDE_CODE = {".js", ".css"}


def sent(name: str) -> list[str]:
    """Return the paths of what is sent out of a folder, below it."""
    folder, wanted = FOLDERS[name], _SENT if name == "static" else _BESIDE_CODE
    return sorted(p.relative_to(folder).as_posix() for p in folder.rglob("*") if p.suffix in wanted)


@cache
def release() -> str:
    """Return the name that all of them have together as they are now."""
    whole = hashlib.sha256()
    for name, folder in FOLDERS.items():
        for path in sent(name):
            whole.update(f"{name}/{path}\n".encode() + (folder / path).read_bytes())
    return whole.hexdigest()[:12]


class _Kept(StaticFiles):
    """A folder whose files are never asked for again under the same name."""

    def __init__(self, name: str) -> None:
        super().__init__(directory=FOLDERS[name])
        self._endings = tuple(_SENT if name == "static" else _BESIDE_CODE)

    def lookup_path(self, path: str) -> tuple[str, os.stat_result | None]:
        return super().lookup_path(path) if path.endswith(self._endings) else ("", None)

    async def get_response(self, path: str, scope: Scope) -> Response:
        answer = await super().get_response(path, scope)
        answer.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return answer


def install(app: FastAPI) -> None:
    """Let an application send them."""
    for name in FOLDERS:
        app.mount(
            f"/files/{release()}/{name}", GZipMiddleware(_Kept(name), minimum_size=500, compresslevel=6), name=name
        )
