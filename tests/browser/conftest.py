"""A real server process and Debian's Chromium."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

AXE = (Path(__file__).parent / "vendor" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")


class Server:
    """A server on a database; it can be killed and brought back on the same port."""

    def __init__(self, database):
        self.database = database
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"

    def start(self):
        command = [sys.executable, "-m", "vadum", "serve", "--database", str(self.database), "--port", str(self.port)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        for _ in range(150):
            try:
                urllib.request.urlopen(self.url + "/api/methods", timeout=1)
            except OSError:
                time.sleep(0.1)
            else:
                return self
        raise RuntimeError("the server did not start")

    def kill(self):
        os.kill(self.process.pid, signal.SIGKILL)
        self.process.wait()


@pytest.fixture
def server(database):
    running = Server(database).start()
    yield running
    running.kill()


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return browser_type_launch_args | {
        "executable_path": os.environ.get("CHROMIUM", "/usr/bin/chromium"),
        "args": ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"],
    }


@pytest.fixture
def browser_context_args(browser_context_args, server):
    return browser_context_args | {"base_url": server.url, "viewport": {"width": 1280, "height": 800}}


def violations(page):
    """Run axe on the page as it stands and return what it finds, short."""
    # The policy forbids injected script elements; the test's own evaluation is not under it.
    page.evaluate(AXE)
    found = page.evaluate("axe.run({resultTypes: ['violations']})")["violations"]
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]} {v['nodes'][0].get('failureSummary', '')[:200]}" for v in found]
