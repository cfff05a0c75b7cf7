"""A real server process and Debian's Chromium."""

import os
import signal
import subprocess
import sys
import threading
import time
import urllib.request
from pathlib import Path

import pytest
import uvicorn
from benchmarks.chromium import CHROMIUM
from playwright.sync_api import expect

from tests.ports import free_port
from vadum.instruments.client import BenchLine
from vadum.instruments.port import InstrumentTrouble
from vadum.serving import IDLE_S
from vadum.web.app import create_app

# A machine that is busy is no fault of the page's: ten times slower than ours was seen.
PATIENCE_MS = 90_000
expect.set_options(timeout=PATIENCE_MS)

AXE = (Path(__file__).parent / "vendor" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")


class ServerThread:
    """A server on a database in a thread of the tests' own process: quick to start, cannot be killed."""

    def __init__(self, database, *, demo=False):
        self.database, self.demo = database, demo
        self.port, self.instruments_port = free_port(), free_port()
        self.url = f"http://127.0.0.1:{self.port}"

    def start(self):
        self.app = app = create_app(self.database, self.instruments_port, demo=self.demo)
        of = {"host": "127.0.0.1", "port": self.port, "log_level": "warning", "timeout_keep_alive": IDLE_S}
        self.server = uvicorn.Server(uvicorn.Config(app, lifespan="off", **of))
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.01)
        return self

    def kill(self):
        self.server.should_exit = self.server.force_exit = True
        self.thread.join(10)


class Server:
    """A server on a database; it can be killed and brought back on the same port."""

    def __init__(self, database):
        self.database = database
        self.port, self.instruments_port = free_port(), free_port()
        self.url = f"http://127.0.0.1:{self.port}"

    def start(self):
        command = [sys.executable, "-m", "vadum", "serve", "--database", str(self.database), "--port", str(self.port)]
        command += ["--instruments", str(self.instruments_port)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline and self.process.poll() is None:
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
def server(request, database):
    """A server on the test's own laboratory; a process of its own for tests marked so."""
    kind = Server if request.node.get_closest_marker("own_process") else ServerThread
    running = kind(database).start()
    yield running
    running.kill()


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return browser_type_launch_args | {
        "executable_path": CHROMIUM,
        "args": ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"],
    }


@pytest.fixture
def browser_context_args(browser_context_args, server):
    # The worker between pages and line stands aside where a test plays the server itself.
    own = {"base_url": server.url, "viewport": {"width": 1280, "height": 800}, "service_workers": "block"}
    return browser_context_args | own


@pytest.fixture
def context(context, request):
    """Let a press or a page take as long as what is expected of it; no script of a page may fail meanwhile, the browser
    complain of none, the server of nothing."""
    failed = []
    # What a server refuses, and what a test cuts off, the page tells; what the server itself gets wrong is told here.
    # The browser is not asked for its answers one by one: it would tell of every file of every page.
    known = ("Failed to load resource", "Service Worker registration blocked by Playwright")
    broken = () if request.node.get_closest_marker("broken_server") else ("status of 5",)

    def heard(message):
        fails = any(word in message.text for word in broken)
        if message.type in ("error", "warning") and (fails or not message.text.startswith(known)):
            failed.append(f"{message.text} {message.location['url']}")

    context.on("weberror", lambda failure: failed.append(str(failure.error)))
    context.on("console", heard)
    context.set_default_timeout(PATIENCE_MS)
    yield context
    assert failed == []


def saved(page):
    """Wait until the page has nothing more to send."""
    expect(page.get_by_role("status")).to_contain_text("saved, revision")


def by_day_and_night(page):
    """Return what axe finds: by day by all its rules, by night in what colours can break."""
    page.emulate_media(color_scheme="light", reduced_motion="reduce")
    found = violations(page)
    page.emulate_media(color_scheme="dark")
    expect(page.locator("html")).to_have_attribute("data-bs-theme", "dark")
    found += [f"by night, {what}" for what in violations(page, ["color-contrast"])]
    page.emulate_media(color_scheme="light")
    return found


def violations(page, only=None):
    """Run axe, or some of its rules, on the page as it stands and return what it finds, short."""
    # The policy forbids injected script elements; the test's own evaluation is not under it.
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    # Styles are the page's own: nothing is fetched once more to be read.
    asked = {"resultTypes": ["violations"], "preload": False} | ({"runOnly": only} if only else {})
    found = page.evaluate("asked => axe.run(asked)", asked)["violations"]
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]} {v['nodes'][0].get('failureSummary', '')[:200]}" for v in found]


class Stand:
    """The instruments as a process of their own, on the port the server expects them at."""

    def __init__(self, port):
        self.port = port

    def start(self):
        # Events have a port of their own: the next one may be anybody's.
        ports = ["--port", str(self.port), "--events-port", str(free_port())]
        self.process = subprocess.Popen([sys.executable, "-m", "vadum", "instruments", *ports])
        for _ in range(1000):
            try:
                BenchLine(port=self.port).identities()
            except InstrumentTrouble:
                time.sleep(0.1)
            else:
                return self
        raise RuntimeError("the instruments did not start")

    def kill(self):
        os.kill(self.process.pid, signal.SIGKILL)
        self.process.wait()


@pytest.fixture
def stand(server):
    running = Stand(server.instruments_port).start()
    yield running
    running.kill()


def sign_in(page, name, at="/"):
    """Sign in as somebody on the way to a page; the address of the question holds that of the page."""
    page.goto(at)
    page.get_by_role("button", name=name, exact=True).click()
    expect(page.locator(f'body[data-who="{name}"]')).to_be_attached()
