"""A hand that types here and there, takes back, clears and opens the page again, on a line that comes and goes."""

import random

import pytest

from tests import THOROUGH
from tests.browser.typing import all_saved, new_test, new_test_in_ground

pytestmark = pytest.mark.browser

STEPS = 40
IN_GROUND = {"vane", "well-permeameter"}
METHODS = ("water-content", "plastic-limit", "compaction", "triaxial", "vane", "well-permeameter", "sieve")


class Hand:
    """What one person does at random, and what should then be on record."""

    def __init__(self, page, test, seed):
        self.page, self.test, self.chance = page, test, random.Random(seed)
        self.typed, self.did, self.offline = {}, [], False

    def cells(self):
        return self.page.evaluate("""() => [...document.querySelectorAll('input[data-path]')]
            .filter((e) => e.offsetParent && !e.disabled && !e.readOnly && e.inputMode === 'decimal')
            .map((e) => e.dataset.path)""")

    def step(self):
        chance = self.chance.random()
        if chance < 0.08:
            self.line()
        elif chance < 0.13 and not self.offline:
            self.did.append("reload")
            self.page.reload()
        else:
            self.cell()

    def line(self):
        self.offline = not self.offline
        self.did.append("cut" if self.offline else "line")
        self.page.context.set_offline(self.offline)

    def cell(self):
        path = self.chance.choice(self.cells())
        if not self.pressed(path):
            return
        text = f"{self.chance.randint(11, 89)}.{self.chance.randint(1, 9)}"
        key = self.chance.choice(["Enter", "Enter", "Tab", "ArrowDown", "Shift+Tab"])
        kind = self.chance.random()
        if kind < 0.12:
            self.page.keyboard.type(text)
            self.page.keyboard.press("Escape")
            self.did.append(f"{path} {text} Escape")
        elif kind < 0.25:
            self.page.keyboard.press("Delete")
            self.page.keyboard.press(key)
            self.typed[path] = ""
            self.did.append(f"{path} cleared {key}")
        else:
            self.page.keyboard.type(text)
            self.page.keyboard.press(key)
            self.typed[path] = text
            self.did.append(f"{path} {text} {key}")

    def pressed(self, path):
        """Press where a cell stands; return whether the hand is in it then: a row cleared a moment ago may be gone."""
        place = self.page.evaluate(
            """path => { const cell = document.querySelector(`[data-path="${path}"]`);
            cell?.scrollIntoView({ block: 'center' }); return cell?.getBoundingClientRect().toJSON(); }""",
            path,
        )
        if place:
            self.page.mouse.click(place["x"] + place["width"] / 2, place["y"] + place["height"] / 2)
        return self.page.evaluate("document.activeElement.dataset.path") == path

    def missing(self):
        """Return every cell that does not show, in a page opened anew, what was typed into it last."""
        self.page.reload()
        all_saved(self.page)
        shown = {path: self.page.locator(f'[data-path="{path}"]') for path in self.typed}
        kept = {path: cell.input_value() if cell.count() else "" for path, cell in shown.items()}
        return {path: (text, kept[path]) for path, text in self.typed.items() if not _same(text, kept[path])}


def _same(typed, shown):
    try:
        return float(typed) == float(shown)
    except ValueError:
        return typed == shown


@pytest.mark.skipif(not THOROUGH, reason="chance and time: make thorough")
@pytest.mark.parametrize("seed", range(20))
@pytest.mark.parametrize("method", METHODS)
def test_what_a_hand_typed_last_is_on_record(page, method, seed):
    test = (new_test_in_ground if method in IN_GROUND else new_test)(page, method)
    page.goto(f"/tests/{test}")
    hand = Hand(page, test, f"{method} {seed}")
    for _ in range(STEPS):
        hand.step()
    if hand.offline:
        hand.line()
    all_saved(page)
    assert hand.missing() == {}, "; ".join(hand.did)
