"""Scripts, styles, fonts and pictures: sent small, and under a name that changes whenever one of them does, so that a
browser keeps them for good and never shows a page with those of another release."""

import gzip
import hashlib
from functools import cache
from pathlib import Path

from fastapi import FastAPI
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from vadum import drawing
from vadum.web import joining

_HERE = Path(__file__).parent
# By the name under which templates ask for them; of the last two only scripts and styles, nothing else that lies there.
FOLDERS = {"static": _HERE / "static", "pages": _HERE / "pages", "drawing": Path(drawing.__file__).parent}
_KINDS = {
    ".js": "text/javascript",
    ".css": "text/css",
    ".svg": "image/svg+xml",
    ".woff2": "font/woff2",
    ".png": "image/png",
}
_BESIDE_CODE = {".js", ".css"}
_SHRINK, _SHORT = (".js", ".css", ".svg"), 500


def _lying(name: str) -> list[str]:
    """Return the paths of what lies in a folder to be sent, below it."""
    folder, wanted = FOLDERS[name], _KINDS.keys() if name == "static" else _BESIDE_CODE
    return sorted(p.relative_to(folder).as_posix() for p in folder.rglob("*") if p.suffix in wanted)


@cache
def _ours() -> dict[str, str]:
    """Return our own scripts and styles, by folder and path."""
    every = (f"{name}/{path}" for name in FOLDERS for path in _lying(name))
    wanted = (of for of in every if Path(of).suffix in _BESIDE_CODE and not of.startswith("static/vendor/"))
    return {of: _read(of) for of in wanted}


def _read(of: str) -> str:
    name, path = of.split("/", 1)
    return (FOLDERS[name] / path).read_text(encoding="utf-8")


@cache
def sent() -> frozenset[str]:
    """Return what is sent, by folder and path: what others are made of is sent in them."""
    within = {part for of, text in _ours().items() for part in joining.named_in(of, text)}
    return frozenset({f"{name}/{path}" for name in FOLDERS for path in _lying(name)} - within | {joining.CORE_FILE})


@cache
def release() -> str:
    """Return the name that all of them have together as they are now."""
    whole = hashlib.sha256()
    for of in sorted(sent()):
        whole.update(f"{of}\n".encode() + _bodies(of)[0])
    return whole.hexdigest()[:12]


@cache
def _bodies(of: str) -> tuple[bytes, bytes | None]:
    """Return a file as it is and as it is sent small, where that is worth it: packed once, not for every phone."""
    plain = _whole(of)
    small = gzip.compress(plain, mtime=0) if of.endswith(_SHRINK) and len(plain) > _SHORT else None
    return plain, small


def _whole(of: str) -> bytes:
    if of == joining.CORE_FILE:
        return joining.core([part for part in _ours() if part.startswith(f"{joining.CORE}/")], _read).encode()
    if of in _ours():
        return (joining.styles if of.endswith(".css") else joining.script)(of, _read).encode()
    name, path = of.split("/", 1)
    return (FOLDERS[name] / path).read_bytes()


def _folder(name: str) -> Route:
    """Return the route of a folder's files, which are never asked for again under the same name."""

    async def kept(request: Request) -> Response:
        of = f"{name}/{request.path_params['path']}"
        if of not in sent():
            raise HTTPException(404)
        plain, small = _bodies(of)
        takes_small = small is not None and "gzip" in request.headers.get("accept-encoding", "")
        headers = {"Cache-Control": "public, max-age=31536000, immutable"}
        if small is not None:
            headers["Vary"] = "Accept-Encoding"
        if takes_small:
            headers["Content-Encoding"] = "gzip"
        return Response(small if takes_small else plain, media_type=_KINDS[Path(of).suffix], headers=headers)

    return Route(f"/files/{release()}/{name}/{{path:path}}", kept, name=name)


def install(app: FastAPI) -> None:
    """Let an application send them."""
    app.router.routes.extend(_folder(name) for name in FOLDERS)
