"""Waiting for something that happens when it happens, never for so many milliseconds."""

import time


def until(reached, server, log, patience_s=180):
    """Wait for something that a server does, however busy the machine; a server that ended does it no more."""
    deadline = time.monotonic() + patience_s
    while not reached():
        assert server.poll() is None, log.read_text()
        assert time.monotonic() < deadline, log.read_text()
        time.sleep(0.01)
