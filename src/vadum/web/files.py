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


def sent(name: str) -> list[str]:
    """Return the paths of what is sent out of a folder, below it."""
    folder, wanted = FOLDERS[name], _KINDS.keys() if name == "static" else _BESIDE_CODE
    return sorted(p.relative_to(folder).as_posix() for p in folder.rglob("*") if p.suffix in wanted)


@cache
def release() -> str:
    """Return the name that all of them have together as they are now."""
    whole = hashlib.sha256()
    for name, folder in FOLDERS.items():
        for path in sent(name):
            whole.update(f"{name}/{path}\n".encode() + (folder / path).read_bytes())
    return whole.hexdigest()[:12]


@cache
def _bodies(name: str, path: str) -> tuple[bytes, bytes | None]:
    """Return a file as it is and as it is sent small, where that is worth it: packed once, not for every phone."""
    plain = (FOLDERS[name] / path).read_bytes()
    small = gzip.compress(plain, mtime=0) if path.endswith(_SHRINK) and len(plain) > _SHORT else None
    return plain, small


def _folder(name: str) -> Route:
    """Return the route of a folder's files, which are never asked for again under the same name."""
    known = frozenset(sent(name))

    async def kept(request: Request) -> Response:
        path = request.path_params["path"]
        if path not in known:
            raise HTTPException(404)
        plain, small = _bodies(name, path)
        takes_small = small is not None and "gzip" in request.headers.get("accept-encoding", "")
        headers = {"Cache-Control": "public, max-age=31536000, immutable"}
        if small is not None:
            headers["Vary"] = "Accept-Encoding"
        if takes_small:
            headers["Content-Encoding"] = "gzip"
        return Response(small if takes_small else plain, media_type=_KINDS[Path(path).suffix], headers=headers)

    return Route(f"/files/{release()}/{name}/{{path:path}}", kept, name=name)


def install(app: FastAPI) -> None:
    """Let an application send them."""
    app.router.routes.extend(_folder(name) for name in FOLDERS)
