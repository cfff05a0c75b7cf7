"""Refreshes docs/screenshots from the demonstration laboratory. `make screenshots`."""

import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

from chromium import CHROMIUM
from playwright.sync_api import BrowserContext, sync_playwright

PORT = 8123
TARGET = Path("docs/screenshots")
DESK, PHONE = (1280, 800), (390, 844)
VIEWS = (
    ("start", "/", DESK, "light"),
    ("project", "/projects/1", DESK, "light"),
    ("sample", "/samples/3", DESK, "light"),
    ("worksheet", "/tests/7", DESK, "light"),
    ("schedule", "/projects/1/schedule", DESK, "light"),
    ("classification", "/tests/27", DESK, "light"),
    ("cbr", "/tests/42", DESK, "light"),
    ("plate", "/tests/44", DESK, "light"),
    ("triaxial", "/tests/51", DESK, "light"),
    ("infiltration", "/projects/1/infiltration", DESK, "light"),
    ("summary", "/projects/3/summary", DESK, "light"),
    ("report", "/projects/3/reports", DESK, "light"),
    ("board", "/board", DESK, "light"),
    ("plan", "/plan", DESK, "light"),
    ("sheet", "/tests/4/sheet", DESK, "light"),
    ("run-cup", "/tests/23/run", PHONE, "light"),
    ("run-cylinders", "/tests/31/run", PHONE, "light"),
    ("run-plate", "/tests/46/run", PHONE, "light"),
    ("run-levels", "/tests/58/run", PHONE, "light"),
)


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "vadum", "demo", "--database", f"{folder}/demo.sqlite", "--port", str(PORT)]
        command += ["--instruments", str(PORT + 1)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            wait_for(f"http://127.0.0.1:{PORT}/api/methods")
            shoot()
        finally:
            server.terminate()  # it stops the instruments it started
            server.wait()


def wait_for(url: str) -> None:
    for _ in range(600):
        try:
            urllib.request.urlopen(url, timeout=1)
        except OSError:
            time.sleep(0.1)
        else:
            return
    raise RuntimeError("the demonstration did not start")


def leave_out(context: BrowserContext, path: str, row: str, reason: str) -> None:
    """Leave a row of a sheet out with its reason, as the hand at the cup does with an attempt."""
    address = f"http://127.0.0.1:{PORT}/api{path}"
    revision = context.request.get(f"{address}/sheet").json()["revision"]
    change = {"base_revision": revision, "save_key": "left-out-for-a-picture", "cells": {f"{row}.left_out": reason}}
    context.request.post(f"{address}/save", data=change)


def shoot() -> None:
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox", "--disable-gpu"])
        for name, path, (width, height), scheme in VIEWS:
            shown: Any = {"viewport": {"width": width, "height": height}, "color_scheme": scheme}
            context = browser.new_context(**shown)
            context.request.post(f"http://127.0.0.1:{PORT}/sign-in", form={"name": "technician 1"})
            if name == "worksheet":
                leave_out(context, path, "trials.1", "attempt, too dry")
            page = context.new_page()
            page.goto(f"http://127.0.0.1:{PORT}{path}")
            page.wait_for_timeout(1500 if name in ("run-plate", "run-levels") else 700)
            if name == "run-cup":
                for blow in range(17):
                    page.keyboard.press("Space")
                    page.wait_for_timeout(500 if blow > 7 else 0)
            page.screenshot(path=TARGET / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main()
