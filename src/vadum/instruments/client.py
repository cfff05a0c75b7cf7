"""The near end of the line to the instruments: every trouble is told in words, and no doubtful value comes through."""

import json
import socket
import time
from collections.abc import Iterator
from contextlib import closing, suppress
from typing import Any

from pydantic import ValidationError

from vadum.instruments.port import Identity, InstrumentTrouble, Sample, within_range

DEFAULT_PORT = 8020
# An instrument that is on answers within this; then it is said to be silent.
PATIENCE_S = 1.0
# Two looks this far apart must find the instrument's own counter moved on.
_FROZEN_S = 0.15


class BenchLine:
    """A bench of instruments at an address. A connection lasts one request, so that a restarted bench is met at
    once."""

    def __init__(self, host: str = "127.0.0.1", port: int = DEFAULT_PORT) -> None:
        self.host, self.port = host, port

    def identities(self) -> list[Identity]:
        """Return what the instruments say they are; one that does not say it is left out.

        Raises
        ------
        InstrumentTrouble
            If nobody answers.
        """
        found = []
        for plain in self.listed():
            with suppress(InstrumentTrouble):
                found.append(identified(plain, str(plain.get("name", ""))))
        return found

    def listed(self) -> list[dict[str, Any]]:
        """Return every instrument as plain data, stand-ins with the fault they have.

        Raises
        ------
        InstrumentTrouble
            If nobody answers.
        """
        found = self.ask("the bench of instruments", {"do": "list"}).get("instruments")
        if not isinstance(found, list):
            raise InstrumentTrouble("The bench does not say what is on it. Look at the adapter; type meanwhile.")
        return [one for one in found if isinstance(one, dict)]

    def instrument(self, name: str) -> "Remote":
        return Remote(self, name)

    def ask(self, name: str, request: dict[str, Any]) -> dict[str, Any]:
        """Send one request and return its answer.

        Raises
        ------
        InstrumentTrouble
            If there is no line, no answer in time, garbage, or the instrument declines.
        """
        with closing(self._connected(name)) as line:
            line.sendall(json.dumps(request).encode() + b"\n")
            return self._heard(name, line.makefile("rb"))

    def answers(self, name: str, request: dict[str, Any]) -> Iterator[dict[str, Any]]:
        """Send one request and yield its answers as they come."""
        with closing(self._connected(name)) as line:
            line.sendall(json.dumps(request).encode() + b"\n")
            heard = line.makefile("rb")
            while True:
                yield self._heard(name, heard)

    def _connected(self, name: str) -> socket.socket:
        try:
            return socket.create_connection((self.host, self.port), PATIENCE_S)
        except OSError as error:
            raise InstrumentTrouble(
                f"No line to {name} at {self.host}:{self.port}. Look at cable and switch, or start “vadum instruments”;"
                " type the reading meanwhile."
            ) from error

    def _heard(self, name: str, file: Any) -> dict[str, Any]:
        try:
            raw = file.readline()
        except OSError as error:
            raise InstrumentTrouble(
                f"{name} does not answer. Look whether it is on; type the reading meanwhile."
            ) from error
        if not raw:
            raise InstrumentTrouble(f"The line to {name} broke off. Nothing was taken; read again.")
        try:
            answer = json.loads(raw)
        except ValueError as error:
            raise InstrumentTrouble(
                f"{name} sends garbage. Look at the cable and its settings; nothing was taken."
            ) from error
        if not isinstance(answer, dict) or "trouble" in answer:
            raise InstrumentTrouble(
                str(answer.get("trouble")) if isinstance(answer, dict) else f"{name} sends garbage."
            )
        return answer


def identified(plain: Any, name: str) -> Identity:
    """Return what an instrument says it is.

    Raises
    ------
    InstrumentTrouble
        Naming what it does not say.
    """
    try:
        return Identity.model_validate(plain)
    except ValidationError as error:
        lacking = sorted({str(fault["loc"][0]) for fault in error.errors() if fault["loc"]}) or ["anything of itself"]
        raise InstrumentTrouble(
            f"{name or 'An instrument'} does not say its {', '.join(lacking)} as it should. Look at the adapter; type"
            " the reading meanwhile."
        ) from error


class Remote:
    """One instrument at the far end of a line; keeps the port's promise."""

    def __init__(self, line: BenchLine, name: str) -> None:
        self.line, self.name = line, name

    def identify(self) -> Identity:
        return identified(self._ask({"do": "identify"}).get("identity"), self.name)

    def read(self, quantity: str) -> Sample:
        """Return one value that can be believed: in range, and from an instrument whose counter runs."""
        identity = self.identify()
        first = self._sample(self._ask({"do": "read", "quantity": quantity}))
        if first.tick is None:  # nothing tells whether it has frozen
            return within_range(identity, first)
        time.sleep(_FROZEN_S)
        second = self._sample(self._ask({"do": "read", "quantity": quantity}))
        if second.tick == first.tick:
            raise InstrumentTrouble(
                f"{self.name} has frozen at {second.value:g} {second.unit}. Switch it off and on, zero it, read again."
            )
        return within_range(identity, second)

    def zero(self, quantity: str) -> None:
        self._ask({"do": "zero", "quantity": quantity})

    def stream(self, quantity: str) -> Iterator[Sample]:
        for answer in self.line.answers(self.name, {"do": "stream", "instrument": self.name, "quantity": quantity}):
            yield self._sample(answer)

    def present(self, quantity: str, minutes: list[float], values: list[float]) -> None:
        """Put a signal before a stand-in."""
        self._ask({"do": "present", "quantity": quantity, "minutes": minutes, "values": values})

    def set_fault(self, fault: str) -> None:
        self._ask({"do": "fault", "fault": fault})

    def _ask(self, request: dict[str, Any]) -> dict[str, Any]:
        return self.line.ask(self.name, request | {"instrument": self.name})

    def _sample(self, answer: dict[str, Any]) -> Sample:
        try:
            return Sample.model_validate(answer["sample"])
        except (KeyError, ValidationError) as error:
            raise InstrumentTrouble(
                f"{self.name} sends garbage. Look at the cable and its settings; nothing was taken."
            ) from error
