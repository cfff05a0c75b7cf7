"""A bench of stand-ins on a real line, served by a thread of this process, or by a process of its own."""

import asyncio
import socket
import threading
import time

import numpy as np
import pytest

from vadum.instruments.catalogue import stand_ins
from vadum.instruments.client import Line
from vadum.instruments.server import Bench, listen


def free_port():
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return free.getsockname()[1]


@pytest.fixture
def bench():
    made = Bench(stand_ins(time.time(), seed=3))
    for one in made.instruments.values():
        one.noise_steps, one.rng = 0.0, np.random.default_rng(1)
    return made


@pytest.fixture
def line(bench):
    """The near end; the far end runs in a thread with a loop of its own, which ends every connection when it stops."""
    port, ready, over = free_port(), threading.Event(), threading.Event()

    async def serve():
        async with await listen(bench, "127.0.0.1", port):
            ready.set()
            while not over.is_set():
                await asyncio.sleep(0.02)

    thread = threading.Thread(target=lambda: asyncio.run(serve()), daemon=True)
    thread.start()
    ready.wait(5)
    yield Line(port=port, timeout_s=0.4)
    over.set()
    thread.join(5)
