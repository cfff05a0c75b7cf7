"""Waiting for a server that was started."""

import http.client
import time


def until_answered(port: int) -> None:
    """Return as soon as a port of this machine answers; stop everything where it does not within half a minute."""
    for _ in range(600):
        try:
            http.client.HTTPConnection("127.0.0.1", port, timeout=1).connect()
        except OSError:
            time.sleep(0.05)
        else:
            return
    raise SystemExit("the server did not start")
