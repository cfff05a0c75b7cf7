"""The line to the instruments: JSON lines over a real socket, and every trouble told in words."""

import json
import socket
import subprocess
import sys
import time
import urllib.request

import pytest

from tests.ports import free_port
from vadum.instruments import client as near_end
from vadum.instruments.client import BenchLine
from vadum.instruments.port import InstrumentTrouble


def test_an_instrument_says_what_it_is_and_what_it_shows(line):
    balance = line.instrument("fine balance")
    assert balance.identify().certificate == "C-042"
    balance.present("mass", [0.0], [38.624])
    sample = balance.read("mass")
    assert (sample.value, sample.unit) == (38.62, "g")
    balance.zero("mass")
    assert balance.read("mass").value == 0.0
    assert len(line.identities()) == 12


def test_a_stream_goes_on_until_it_is_left(line):
    stream = line.instrument("level logger").stream("level")
    ticks = [next(stream).tick for _ in range(3)]
    assert ticks == sorted(set(ticks))


@pytest.mark.parametrize(
    ("fault", "words"),
    [
        ("silent", "does not answer. Look whether it is on"),
        ("garbage", "sends garbage. Look at the cable"),
        ("frozen", "has frozen at"),
        ("out of range", "outside its range"),
    ],
)
def test_what_cannot_be_believed_is_refused_in_words(line, monkeypatch, fault, words):
    gauge = line.instrument("dial gauge A")
    gauge.set_fault(fault)
    with monkeypatch.context() as patch:
        if fault == "silent":
            patch.setattr(near_end, "PATIENCE_S", 0.4)
        with pytest.raises(InstrumentTrouble, match=words):
            gauge.read("travel")
    gauge.set_fault("none")
    assert gauge.read("travel").unit == "mm"


@pytest.mark.parametrize(
    ("request_", "words"),
    [
        ({"do": "read", "instrument": "fine balance", "quantity": "level"}, "does not measure"),
        ({"do": "dance", "instrument": "fine balance", "quantity": "mass"}, "how to “dance”"),
        ({"do": "read", "instrument": "spoon", "quantity": "mass"}, "no instrument “spoon”"),
        ({"do": "fault", "instrument": "fine balance", "fault": "sulking"}, "Faults are"),
        (
            {"do": "present", "instrument": "fine balance", "quantity": "mass", "minutes": [0], "values": [1, 2]},
            "one length",
        ),
        (
            {"do": "present", "instrument": "fine balance", "quantity": "mass", "minutes": ["x"], "values": [1]},
            "lists of numbers",
        ),
    ],
)
def test_requests_it_cannot_follow_are_answered(line, request_, words):
    with pytest.raises(InstrumentTrouble, match=words):
        line.ask("the bench", request_)


def test_bytes_that_are_no_request_do_not_stop_the_bench(line):
    with socket.create_connection((line.host, line.port), 20) as raw:
        raw.sendall(b"\xff\x00 nonsense\n[1, 2]\n")
        heard = raw.makefile()
        answers = heard.readline(), heard.readline()
    assert "object" in json.loads(answers[0])["trouble"]
    assert line.instrument("fine balance").read("mass").unit == "g"


def test_no_line_is_said_with_where_to_look():
    with pytest.raises(InstrumentTrouble, match=r"No line to pH meter at 127\.0\.0\.1:\d+\. Look at cable"):
        BenchLine(port=free_port()).instrument("pH meter").read("ph")


def test_a_process_of_its_own_serves_lines_and_events_and_comes_back():
    port, events = free_port(), free_port()
    command = [
        sys.executable,
        "-m",
        "vadum",
        "instruments",
        "--port",
        str(port),
        "--events-port",
        str(events),
        "--speed",
        "60",
    ]
    line, address = BenchLine(port=port), f"http://127.0.0.1:{events}/fine%20balance/mass"
    for _ in range(2):  # killed and started again on the same port, it is met at once
        process = subprocess.Popen(command)
        try:
            identities = _patiently(line.identities)
            assert {i.kind for i in identities} >= {"balance", "hydrometer eye"}
            event = _patiently(lambda: _first_line(address))
            assert json.loads(event.removeprefix(b"data: "))["sample"]["unit"] == "g"
        finally:
            process.kill()
            process.wait()
        with pytest.raises(InstrumentTrouble):
            line.identities()


def _first_line(address):
    with urllib.request.urlopen(address, timeout=30) as heard:
        return heard.readline()


def _patiently(ask):
    for _ in range(1000):
        try:
            return ask()
        except (InstrumentTrouble, OSError):
            time.sleep(0.1)
    raise AssertionError("nobody answered")
