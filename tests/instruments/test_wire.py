"""Instruments on serial lines, tried against a pseudo-terminal with a simulated balance at its other end."""

import json
import os
import pty
import re
import socketserver
import threading
import time
import tty
from contextlib import contextmanager, suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vadum.instruments import client as near_end
from vadum.instruments.benches import Benches
from vadum.instruments.client import BenchLine
from vadum.instruments.port import InstrumentTrouble
from vadum.instruments.server import Bench
from vadum.instruments.wire import Wire, Wired, WiresError, wires_in
from vadum.instruments.wording import PatternError, Shown, compiled, read_line

KIND = {"name": "bench balance", "resolution": 0.01, "high": 620.0, "low": -10.0}
WEIGHS = "{rest},{any},{value} {unit}"


class Balance(threading.Thread):
    """The far end of a line: writes by itself, or once for each time it is asked."""

    def __init__(self, *, by_itself=True):
        super().__init__(daemon=True)
        self.far, near = pty.openpty()
        tty.setraw(self.far)
        self.device, self.says, self.by_itself = os.ttyname(near), b"ST,GS,+  38.62 g\r\n", by_itself
        self.near = near
        self.heard = b""
        self.on = True

    def run(self):
        while self.on:
            with suppress(OSError):
                if self.by_itself:
                    os.write(self.far, self.says)
                    time.sleep(0.02)
                else:
                    self.heard += os.read(self.far, 100)
                    os.write(self.far, self.says)


@pytest.fixture
def balance():
    one = Balance()
    one.start()
    yield one
    one.on = False


@pytest.fixture
def asked():
    one = Balance(by_itself=False)
    one.start()
    yield one
    one.on = False


def eventually(look, says=None):
    """Return what is shown once the line has been heard."""
    for _ in range(200):
        try:
            shown = look()
        except InstrumentTrouble as trouble:
            shown = str(trouble)
        if says is None and not isinstance(shown, str):
            return shown
        if says is not None and isinstance(shown, str) and re.search(says, shown):
            return shown
        time.sleep(0.02)
    raise AssertionError(shown)


def test_one_that_writes_by_itself_is_heard(balance):
    wired = Wired(Wire(**KIND, device=balance.device, pattern=WEIGHS, rest="ST"))
    first = eventually(lambda: wired.sample("mass", time.time()))
    assert (first.value, first.unit) == (38.62, "g")
    balance.says = b"US,GS,+  41.00 g\r\n"
    eventually(lambda: wired.sample("mass", time.time()), "not at rest. Wait until it is")
    balance.says = b"ST,GS,- 1,25 g\r\n"
    again = eventually(lambda: wired.sample("mass", time.time()))
    assert again.value == -1.25
    assert again.tick > first.tick


def test_one_that_is_asked_answers_once(asked):
    wired = Wired(Wire(**KIND, device=asked.device, pattern="{value} {unit}", ask=r"P\r\n", zero=r"Z\r\n"))
    asked.says = b"   0.62 kg\r\n"
    shown = wired.sample("mass", time.time())
    assert (shown.value, shown.unit, shown.tick) == (620.0, "g", None)
    assert asked.heard == b"P\r\n"
    wired.zero("mass", time.time())
    for _ in range(100):
        if asked.heard.endswith(b"Z\r\n"):
            break
        time.sleep(0.02)
    assert asked.heard == b"P\r\nZ\r\n"


@pytest.mark.parametrize(
    ("says", "words"),
    [
        (b"Err 3\r\n", r"writes “Err 3”, which its pattern does not read"),
        (b"ST,GS,+ 38.62 mm\r\n", r"writes mm, not g. Switch its unit"),
        (b"\xff\x00\x12\r\n", "which its pattern does not read"),
    ],
)
def test_what_it_writes_and_nobody_can_read_is_said(asked, says, words):
    asked.says = says
    wired = Wired(Wire(**KIND, device=asked.device, pattern=WEIGHS, rest="ST", ask="P"))
    with pytest.raises(InstrumentTrouble, match=words):
        wired.sample("mass", time.time())


def test_a_line_that_is_not_there_is_said_and_a_silent_one_too(asked):
    gone = Wired(Wire(**KIND, device="/dev/no-such-line", ask="P"))
    with pytest.raises(InstrumentTrouble, match="cannot be opened"):
        gone.sample("mass", time.time())
    asked.says = b""
    with pytest.raises(InstrumentTrouble, match="does not answer"):
        Wired(Wire(**KIND, device=asked.device, ask="P")).sample("mass", time.time())
    with pytest.raises(InstrumentTrouble, match="zeroed at its own key"):
        gone.zero("mass", time.time())


def test_a_bench_serves_it_like_any_instrument(asked):
    asked.says = b"38.62 g\r\n"
    bench = Bench({"bench balance": Wired(Wire(**KIND, device=asked.device, ask="P"))})
    read = {"do": "read", "instrument": "bench balance", "quantity": "mass"}
    assert bench.answer(read, 0.0)["sample"]["value"] == 38.62
    assert "does not measure" in bench.answer(read | {"quantity": "level"}, 0.0)["trouble"]
    assert (
        "no stand-in" in bench.answer({"do": "fault", "instrument": "bench balance", "fault": "silent"}, 0.0)["trouble"]
    )
    (listed,) = bench.answer({"do": "list"}, 0.0)["instruments"]
    assert listed["stand_in"] is False


@pytest.mark.parametrize(
    ("pattern", "line", "shown"),
    [
        ("{value} {unit}", "  38,62 g ", Shown(38.62, "g", at_rest=True)),
        ("{value}", "+1e", None),
        ("{any} {value} {unit}", "N + 12.5 kN", Shown(12.5, "kN", at_rest=True)),
        ("<{value}>", "<-3.00>", Shown(-3.0, "", at_rest=True)),
        ("{rest} {value} {unit}", "? 3 g", Shown(3.0, "g", at_rest=False)),
    ],
)
def test_a_pattern_reads_what_it_says(pattern, line, shown):
    assert read_line(pattern, line, "S" if "{rest}" in pattern else "") == shown


@pytest.mark.parametrize(
    ("pattern", "words"),
    [("{unit}", "where the value stands"), ("{value}{mass}", "is none of"), ("{value} {value}", "stands twice")],
)
def test_a_pattern_that_says_nothing_is_refused(pattern, words):
    with pytest.raises(PatternError, match=words):
        compiled(pattern)


@given(st.text(max_size=60), st.lists(st.sampled_from(["{any}", " ", ",", "{rest}", "{unit}"]), max_size=60))
def test_no_line_takes_long_whatever_the_pattern(line, parts):
    """Parts that follow one another without a letter between them are what makes a search go on for ever."""
    pattern = "{value}" + "".join(part for i, part in enumerate(parts) if part not in parts[:i] or part in (" ", ","))
    began = time.process_time()
    read_line(pattern, line * 5)
    assert time.process_time() - began < 5


def test_wires_are_read_from_a_file_and_faults_named(tmp_path):
    file = tmp_path / "wires.toml"
    file.write_text('[[wire]]\nname = "scale 1"\ndevice = "/dev/ttyUSB0"\nresolution = 0.01\nhigh = 620\nask = "P"\n')
    (wire,) = wires_in(file)
    assert (wire.name, wire.baud, wire.identity.kind) == ("scale 1", 9600, "balance")
    for text, words in (
        ('[[wire]]\nname = "scale 1"\n', "wire 1: .*device"),
        ('[[wire]]\nname="a"\ndevice="x"\nresolution=1\nhigh=2\npattern="{unit}"\n', "where the value stands"),
        ("[[wire", "wires.toml"),
        (2 * '[[wire]]\nname="a"\ndevice="x"\nresolution=1\nhigh=2\n', "two wires have one name"),
    ):
        file.write_text(text)
        with pytest.raises(WiresError, match=words):
            wires_in(file)


@contextmanager
def adapter(**answers):
    """An adapter of somebody else: answers each ``do`` with what it is given."""

    class Said(socketserver.StreamRequestHandler):
        def handle(self):
            for line in self.rfile:
                answer = answers.get(json.loads(line)["do"], {"ok": True})
                time.sleep(answer.pop("takes", 0) if "takes" in answer else 0)
                self.wfile.write(json.dumps(answer).encode() + b"\n")

    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), Said) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield server.server_address[1]
        server.shutdown()


QUANTITY = {"name": "mass", "unit": "g", "resolution": 0.01, "low": 0, "high": 600}
LEAST = {"name": "old scale", "kind": "balance", "quantities": [QUANTITY]}
SAMPLE = {"instrument": "old scale", "quantity": "mass", "value": 12.3, "unit": "g", "at": "2026-05-04T08:30:00Z"}


def test_an_adapter_that_says_little_of_itself_is_read_all_the_same():
    with adapter(list={"instruments": [LEAST]}, identify={"identity": LEAST}, read={"sample": SAMPLE}) as port:
        line = BenchLine(port=port)
        assert line.identities()[0].calibrated is None
        assert line.instrument("old scale").read("mass").value == 12.3, "without a counter it cannot be seen to freeze"


@pytest.mark.parametrize(
    ("answers", "words"),
    [
        ({"identify": {"identity": {"name": "old scale"}}}, "does not say its kind, quantities"),
        ({"identify": {}}, "does not say"),
        ({"identify": {"identity": LEAST}, "read": {}}, "sends garbage"),
        ({"identify": {"identity": LEAST}, "read": {"sample": SAMPLE | {"value": None}}}, "sends garbage"),
        ({"identify": {"identity": LEAST, "takes": 1.5}}, "does not answer"),
    ],
)
def test_an_adapter_that_lacks_something_is_said_in_words(monkeypatch, answers, words):
    if "takes" in answers["identify"]:
        monkeypatch.setattr(near_end, "PATIENCE_S", 0.5)
    with adapter(**answers) as port, pytest.raises(InstrumentTrouble, match=words):
        BenchLine(port=port).instrument("old scale").read("mass")


def test_a_bench_without_a_list_is_said_and_one_that_is_off_takes_nothing_from_the_others():
    with adapter(list={"instruments": "none"}) as port, pytest.raises(InstrumentTrouble, match="what is on it"):
        BenchLine(port=port).listed()
    with (
        adapter(list={"instruments": [LEAST]}, identify={"identity": LEAST}, read={"sample": SAMPLE}) as port,
        adapter(list={"instruments": [{**LEAST, "name": "other"}]}) as second,
    ):
        both = Benches([BenchLine(port=1), BenchLine(port=port), BenchLine(port=second)])
        assert [one.name for one in both.identities()] == ["old scale", "other"]
        assert both.instrument("old scale").read("mass").value == 12.3
        assert both.instrument("other").line.port == second
    with pytest.raises(InstrumentTrouble, match="No line"):
        Benches([BenchLine(port=1)]).listed()
