"""Typing into sheets as a hand does it, and a comparison of what was typed with what is stored."""

import re
import time
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import expect

SLOW_MS = 2000


def new_test(page, method, sample=4):
    """Plan a test of a sample (or, for one in the ground, of a location) and return its number."""
    page.request.post(f"/samples/{sample}/tests", form={"method": method})
    numbers = re.findall(r"/tests/(\d+)", page.request.get(f"/samples/{sample}").text())
    return max(map(int, numbers))


def new_test_in_ground(page, method, location=1):
    answer = page.request.post(f"/locations/{location}/tests", form={"method": method})
    return int(answer.url.rsplit("/", 1)[1])


def cell(page, path):
    return page.locator(f'[data-path="{path}"]')


def stored(page, test):
    """Return the readings on record."""
    return page.request.get(f"/tests/{test}/bench.json").json()["readings"]


def at(readings, path):
    """Return what stands at a path of stored readings, None where nothing does."""
    found = readings
    for key in path.split("."):
        if isinstance(found, list):
            found = found[int(key)] if int(key) < len(found) else None
        else:
            found = (found or {}).get(key)
    return found


def differences(readings, typed):
    """Return every cell that does not hold what was typed into it, as ``{path: (typed, stored)}``."""
    return {path: (text, at(readings, path)) for path, text in typed.items() if not _same(text, at(readings, path))}


def _same(text, kept):
    try:
        return float(text) == kept
    except ValueError:
        return text == kept


def filled(readings):
    """Return the paths of every stored reading."""
    found = []
    for key, value in readings.items():
        if isinstance(value, list):
            found += [f"{key}.{i}.{name}" for i, row in enumerate(value) for name in row]
        elif not isinstance(value, dict):
            found.append(key)
    return found


def fast(page, texts, first):
    """Type texts from a cell on, Enter after each, without waiting for anything: 30 keys a second and more."""
    page.locator(f'[data-path="{first}"]').click()
    for text in texts:
        page.keyboard.type(text)
        page.keyboard.press("Enter")


@contextmanager
def slow(page, milliseconds=SLOW_MS) -> Iterator[None]:
    """Let every answer to this page come late."""
    devtools = page.context.new_cdp_session(page)
    devtools.send("Network.enable")

    def emulate(latency):
        devtools.send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": latency, "downloadThroughput": -1, "uploadThroughput": -1},
        )

    emulate(milliseconds)
    yield
    emulate(0)


@contextmanager
def cut(page) -> Iterator[None]:
    """Cut the line of the whole browser."""
    page.context.set_offline(True)
    yield
    page.context.set_offline(False)


def wind(page, seconds):
    """Let time pass on an installed clock as on a device laid aside: what ticks does so once, then a second as ever."""
    if seconds > 1:
        page.clock.fast_forward(round(1000 * (seconds - 1)))
    page.clock.run_for(round(1000 * min(seconds, 1)))


class Watch:
    """How long a test has really gone on: an installed clock goes on by itself for as long as a busy machine takes."""

    def __init__(self):
        self.begun = time.monotonic()

    def allows(self, seconds, least):
        """Return whether ``seconds`` is what was wound on, and no more than the machine took on top."""
        return least - 1 <= seconds <= least + 1 + time.monotonic() - self.begun

    def reads(self, clock, least):
        """Expect a clock of minutes and seconds, counting up, to show what was wound on."""
        expect(clock).to_have_text(re.compile(r"^\d+:\d\d$"))
        minutes, seconds = clock.inner_text().split(":")
        assert self.allows(60 * int(minutes) + int(seconds), least)


def all_saved(page):
    expect(page.get_by_role("status").first).to_contain_text(re.compile("^saved"))
