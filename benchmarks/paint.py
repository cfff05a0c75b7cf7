"""From key to paint on the heaviest worksheets, in Chromium with its processor four times slower, beside what the
browser itself takes for the same page without a script; how long one takes to open, and what its scripts and styles
weigh.
"""

import gzip
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path
from urllib.parse import urljoin, urlsplit

from chromium import CHROMIUM
from live import tests_of
from playwright.sync_api import CDPSession, Page, sync_playwright
from soak import served
from verdict import Verdicts

from vadum.demo.laboratory import build
from vadum.records.database import open_database, session_on
from vadum.records.people import add_person, anybody

PORT, SLOWER = 18773, 4
HEAVIEST = ("triaxial", "falling-head", "direct-shear", "cbr-in-situ", "retention")
KEYS = "12.345678901"
# How long an event took until the frame that shows it, as the browser itself says; ms, to eight of them.
WATCH = """() => {
  window.painted = [];
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) if (e.name === "keydown" || e.name === "input") window.painted.push(e.duration);
  }).observe({ type: "event", durationThreshold: 16, buffered: false });
}"""
# The page as it stands, with what is in its fields and without a script.
BARE = """() => {
  for (const field of document.querySelectorAll("input")) field.setAttribute("value", field.value);
  const page = document.documentElement.cloneNode(true);
  for (const script of page.querySelectorAll("script, template")) script.remove();
  return "<!doctype html>" + page.outerHTML;
}"""


def main() -> int:
    verdicts = Verdicts(f"worksheets in Chromium, its processor {SLOWER} times slower")
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "lab.sqlite"
        build(database)
        with session_on(open_database(database)) as session:
            tests = {code: number for code, (number, _) in tests_of(session, set(HEAVIEST))}
            if not anybody(session):
                add_person(session, "manager", "manager")
                add_person(session, "technician 1", "technician")
        server = served(database, PORT)
        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=CHROMIUM)
                page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=f"http://127.0.0.1:{PORT}")
                weights: dict[str, int] = {}
                page.on("response", lambda answer: _weigh(weights, answer))
                page.goto("/sign-in?back=/")
                page.get_by_role("button", name="technician 1").click()
                page.wait_for_load_state("networkidle")
                slow = page.context.new_cdp_session(page)
                for code in HEAVIEST:
                    _worksheet(page, slow, tests[code], code, verdicts)
                verdicts.told("scripts and styles, compressed", sum(weights.values()) / 1e3, 250, "kB")
                browser.close()
        finally:
            _end(server)
    return verdicts.status


def _worksheet(page: Page, slow: CDPSession, test: int, code: str, verdicts: Verdicts) -> None:
    """Open a worksheet twice, the second time as somebody who was there before, and type into its last reading."""
    opened = []
    slow.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
    for _ in range(2):
        page.goto(f"/tests/{test}")
        page.wait_for_load_state("load")
        timing = "(e => [e.loadEventEnd, e.responseStart])(performance.getEntriesByType('navigation')[0])"
        opened.append(page.evaluate(timing)[0])
    verdicts.told(f"{code}: opened", opened[-1], 1000, "ms")
    page.wait_for_selector("tbody[hidden]", state="detached")
    # By its name: below a row that is typed in stands another one, which would be the last.
    path = str(page.locator("input[data-path]:visible").last.get_attribute("data-path"))
    bare = page.evaluate(BARE)
    ours = _typed(page, path)
    slow.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    browser = page.context.browser
    assert browser is not None
    yardstick = browser.new_page(viewport=page.viewport_size, base_url=urljoin(page.url, "/"))
    yardstick.route("**/bare", lambda route: route.fulfill(body=bare, content_type="text/html"))
    yardstick.goto("/bare")
    yardstick.context.new_cdp_session(yardstick).send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
    least = _typed(yardstick, path)
    yardstick.close()
    more = (
        f" median {statistics.median(ours):.0f}; without a script {max(least)}, median {statistics.median(least):.0f}"
    )
    verdicts.told(f"{code}: key to paint, the slowest", max(ours), 50, "ms", more)


def _typed(page: Page, path: str) -> list[float]:
    """Type into a cell, and return what the events of its keys took, ms."""
    page.evaluate(WATCH)
    cell = page.locator(f"input[data-path='{path}']")
    cell.fill("")
    for key in KEYS:
        # Not by way of the cell, which would be looked for among hundreds at every key, in the page's own time.
        page.keyboard.press(key)
        page.wait_for_timeout(180)
    page.wait_for_timeout(600)
    return page.evaluate("() => window.painted") or [16]


def _weigh(weights: dict[str, int], answer: object) -> None:
    path = urlsplit(answer.url).path  # type: ignore[attr-defined]
    if path.endswith((".js", ".css")) and path not in weights and answer.status == 200:  # type: ignore[attr-defined]
        weights[path] = len(gzip.compress(answer.body()))  # type: ignore[attr-defined]


def _end(server: "subprocess.Popen[bytes]") -> None:
    server.terminate()
    server.wait()


if __name__ == "__main__":
    sys.exit(main())
