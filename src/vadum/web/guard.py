"""What every request passes before anything else sees it: the name it came under, the size of what it brings, the
headers of what it gets. Plain ASGI, since every keystroke passes."""

import logging
from collections.abc import Iterable
from time import perf_counter

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect, Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from vadum.diagnosis import request_numbered
from vadum.web.errors import answer, unforeseen

_log = logging.getLogger(__name__)
LARGEST_BODY = 8_000_000
LARGEST_DRAINED = 200_000_000
# Names of this machine to itself. Any other one may have been pointed here by a page elsewhere.
LOOPBACK = {"127.0.0.1", "localhost", "::1"}

_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'self'; form-action 'self'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}
# Of a file that somebody brought: whatever it is, it runs nothing and reaches nothing.
SANDBOXED = {"Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; sandbox"}


class Guard:
    """Answers only to names it knows, counts bodies as they come, and adds the security headers."""

    def __init__(self, app: ASGIApp, names: Iterable[str] = ()) -> None:
        self.app = app
        self.names = {name.lower() for name in names}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        with request_numbered() as number:
            await self._guarded(scope, receive, send, number)

    async def _guarded(self, scope: Scope, receive: Receive, send: Send, number: str) -> None:
        began, started = perf_counter(), False

        async def guarded(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers.setdefault(name, value)
                headers.setdefault("X-Request-ID", number)
                took = 1000 * (perf_counter() - began)
                _log.info("%s %s %s %.1f ms", scope["method"], scope["path"], message["status"], took)
            await send(message)

        headers = Headers(scope=scope)
        if _name_of(headers.get("host", "")) not in LOOPBACK | self.names:
            said = "Vadum does not answer to this name; start it with --name to allow it."
            await answer(421, said)(scope, receive, guarded)
            return
        length = headers.get("content-length", "")
        if length.isdigit() and int(length) > LARGEST_BODY:
            # Read to its end and thrown away: a browser cut off in the middle would say that the line is down.
            if int(length) <= LARGEST_DRAINED:
                while (await receive()).get("more_body"):
                    pass
            await answer(413, _too_large(int(length)))(scope, receive, guarded)
            return
        counted = _Counted(scope, receive, guarded)
        try:
            await self.app(scope, counted.receive, counted.send)
        except ClientDisconnect:
            await counted.refuse()
        except Exception as error:
            failed = unforeseen(Request(scope), error)
            if started:
                raise
            await failed(scope, receive, guarded)


class _Counted:
    """A body counted while it comes, for one that says no length or a wrong one; beyond the limit the answer is 413."""

    def __init__(self, scope: Scope, receive: Receive, send: Send) -> None:
        self._scope, self._receive, self._send = scope, receive, send
        self._size = 0
        self._refused = False

    async def receive(self) -> Message:
        message = await self._receive()
        self._size += len(message.get("body", b""))
        if self._size > LARGEST_BODY:
            raise ClientDisconnect
        return message

    async def send(self, message: Message) -> None:
        if self._size <= LARGEST_BODY:
            await self._send(message)
        else:
            await self.refuse()

    async def refuse(self) -> None:
        """Answer once that it is too much, where it is; a browser that went away gets no answer."""
        if self._size > LARGEST_BODY and not self._refused:
            self._refused = True
            await answer(413, _too_large(self._size))(self._scope, self._receive, self._send)


def _too_large(size: int) -> str:
    return f"The file has {size / 1e6:.0f} MB or more; at most {LARGEST_BODY / 1e6:.0f} MB are read."


def _name_of(host: str) -> str:
    """Return the name of a Host header without its port."""
    host = host.strip().lower()
    if host.startswith("["):
        return host[1:].partition("]")[0]
    return host.rpartition(":")[0] if host.rpartition(":")[2].isdigit() and ":" in host else host
