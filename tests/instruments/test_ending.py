"""The stand-ins that a demonstration starts: they end with it, and plainly where their port is another's."""

import socket
import subprocess
import sys

import pytest


def started(port):
    command = [sys.executable, "-m", "vadum", "instruments", "--port", str(port), "--while-asked"]
    return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)


@pytest.fixture
def taken():
    with socket.create_server(("127.0.0.1", 0)) as held:
        yield held.getsockname()[1]


def test_a_port_that_is_taken_is_said_and_nothing_else(taken):
    stand_ins = started(taken)
    try:
        # Its input stays open: who started it still wants it.
        assert stand_ins.wait(90) == 2
        said = stand_ins.stderr.read()
    finally:
        stand_ins.kill()
        stand_ins.communicate()
    assert said.startswith(f"port {taken}: ")
    assert len(said.splitlines()) == 1


def test_they_end_when_who_started_them_is_gone():
    with socket.create_server(("127.0.0.1", 0)) as free:
        port = free.getsockname()[1]
    stand_ins = started(port)
    try:
        stand_ins.stdin.close()
        assert stand_ins.wait(90) == 0
    finally:
        stand_ins.kill()
