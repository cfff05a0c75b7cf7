"""The stand-ins on the network, as a process of their own: JSON lines over TCP, and server-sent events.

A request is one line ``{"do": "read", "instrument": "fine balance", "quantity": "mass"}``; the answer is one line with
``"ok": true`` or with ``"trouble"`` in words. ``do`` is ``list``, ``identify``, ``read``, ``zero``, ``stream``, and for
stand-ins only ``present`` (a signal put before it) and ``fault``.
"""

import asyncio
import json
import time
from collections.abc import AsyncIterator, Mapping
from typing import Any

from vadum.instruments.port import InstrumentTrouble
from vadum.instruments.standin import FAULTS, Signal, StandIn
from vadum.instruments.wire import Wired

STREAM_S = 0.25
_LONGEST_LINE = 64_000
_GARBAGE = b"\x00\xfe{;;#?\x1b\n"


class Bench:
    """The instruments of one process, answering requests as plain data."""

    def __init__(self, instruments: Mapping[str, StandIn | Wired]) -> None:
        self.instruments = instruments

    def answer(self, request: Any, now: float) -> dict[str, Any] | None:
        """Return the answer to a request; None when the instrument keeps silent."""
        if not isinstance(request, dict):
            return {"trouble": "A request is an object with “do”."}
        do = request.get("do")
        if do == "list":
            return {
                "ok": True,
                "instruments": [
                    i.identity.model_dump(mode="json") | {"fault": i.fault} for i in self.instruments.values()
                ],
            }
        found = self.instruments.get(str(request.get("instrument")))
        if found is None:
            return {"trouble": f"There is no instrument “{request.get('instrument')}” on this bench."}
        if do == "fault":
            return self._fault(found, request, now)
        if found.fault == "silent":
            return None
        if do == "identify":
            return {"ok": True, "identity": found.identity.model_dump(mode="json")}
        try:
            return self._measure(found, request, now)
        except KeyError:
            return {"trouble": f"{found.identity.name} does not measure “{request.get('quantity')}”."}
        except InstrumentTrouble as trouble:
            return {"trouble": str(trouble)}
        except (TypeError, ValueError):
            return {"trouble": "A signal is two lists of numbers of one length: minutes, and values."}

    def _measure(self, found: StandIn | Wired, request: dict[str, Any], now: float) -> dict[str, Any]:
        do, quantity = request.get("do"), str(request.get("quantity"))
        if do in ("read", "stream"):
            return {"ok": True, "sample": found.sample(quantity, now).model_dump(mode="json")}
        if do == "zero":
            found.zero(quantity, now)
            return {"ok": True}
        if do == "present" and isinstance(found, StandIn):
            minutes, values = (tuple(map(float, request[key])) for key in ("minutes", "values"))
            if len(minutes) != len(values) or not minutes:
                raise ValueError("uneven signal")
            found.present(quantity, Signal(minutes, values), now)
            return {"ok": True}
        return {"trouble": f"No instrument knows how to “{do}”."}

    def _fault(self, found: StandIn | Wired, request: dict[str, Any], now: float) -> dict[str, Any]:
        if not isinstance(found, StandIn):
            return {"trouble": f"{found.identity.name} is no stand-in: its faults are its own."}
        fault = request.get("fault")
        if fault not in FAULTS:
            return {"trouble": f"Faults are {', '.join(FAULTS)}."}
        found.set_fault(fault, now)
        return {"ok": True}

    def garbles(self, request: Any) -> bool:
        """Return whether the answer to a request leaves the instrument as garbage."""
        name = request.get("instrument") if isinstance(request, dict) else None
        found = self.instruments.get(str(name))
        return found is not None and found.fault == "garbage" and request.get("do") not in ("fault", "list")


async def talk(bench: Bench, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    """Serve one connection until the other side leaves."""
    try:
        while line := await reader.readline():
            try:
                request = json.loads(line)
            except ValueError:
                request = None
            if isinstance(request, dict) and request.get("do") == "stream":
                await _stream(bench, request, writer)
                return
            await _send(bench, request, writer)
    except (ConnectionError, ValueError):
        pass  # the other side went away, or sent a line without end
    finally:
        writer.close()


async def _send(bench: Bench, request: Any, writer: asyncio.StreamWriter) -> None:
    if bench.garbles(request):
        writer.write(_GARBAGE)
    # An instrument on a serial line takes its time: the others do not wait for it.
    elif (answer := await asyncio.to_thread(bench.answer, request, time.time())) is not None:
        writer.write(json.dumps(answer).encode() + b"\n")
    await writer.drain()


async def _stream(bench: Bench, request: dict[str, Any], writer: asyncio.StreamWriter) -> None:
    while not writer.is_closing():
        await _send(bench, request, writer)
        await asyncio.sleep(STREAM_S)


async def listen(bench: Bench, host: str, port: int) -> asyncio.Server:
    """Open the bench for JSON lines."""

    async def met(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        await talk(bench, reader, writer)

    return await asyncio.start_server(met, host, port, limit=_LONGEST_LINE)


def events(bench: Bench) -> Any:
    """Return the application that sends one instrument's samples as server-sent events, for any page that listens."""
    from starlette.applications import Starlette
    from starlette.requests import Request
    from starlette.responses import StreamingResponse
    from starlette.routing import Route

    async def samples(instrument: str, quantity: str) -> AsyncIterator[str]:
        request = {"do": "read", "instrument": instrument, "quantity": quantity}
        while True:
            if bench.garbles(request):
                yield f"data: {_GARBAGE.decode('latin-1').strip()}\n\n"
            elif (answer := await asyncio.to_thread(bench.answer, request, time.time())) is not None:
                yield f"data: {json.dumps(answer)}\n\n"
            await asyncio.sleep(STREAM_S)

    async def one(request: Request) -> StreamingResponse:
        return StreamingResponse(samples(**request.path_params), media_type="text/event-stream")

    return Starlette(routes=[Route("/{instrument}/{quantity}", one)])


async def run(bench: Bench, host: str, port: int, events_port: int) -> None:
    """Serve a bench on both ways until stopped."""
    import uvicorn

    lines = await listen(bench, host, port)
    web = uvicorn.Server(uvicorn.Config(events(bench), host=host, port=events_port, log_level="warning"))
    async with lines:
        await web.serve()
