"""The logic of the page by itself, in the browser it runs in."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import TimeoutError as NotInTime
from playwright.sync_api import expect

import vadum.web
from tests.browser.typing import all_saved, stored
from tests.laboratory import LIQUID_LIMIT_D2, SIEVE_G2, VANE_BH2, WATER_CONTENT_U1_1
from vadum.soil.numbers.entry import EntryError, parse_entry

pytestmark = pytest.mark.browser


def opened(page):
    """Open a page and give its scripts a way to the modules, which stand under the name of their release."""
    page.goto("/with-me")
    page.evaluate(
        """() => {
          const { src } = document.querySelector("script[src*='/js/base.js']");
          window.core = async (name) => {
            const [module, anew] = name.split("?");
            const all = await import(src.replace("base.js", anew ? `core.js?${anew}` : "core.js"));
            return all[`static_js_core_${module.replace(".", "_")}`];
          };
        }"""
    )


# An attribute that says something to be worked out, and what it says; x-for names what it goes through at its end.
SAID = re.compile(r"""\s(x-(?!ref|cloak|data)[a-z]+|[:@][\w.:-]+)="([^"{]+)\"""")
TEMPLATES = Path(vadum.web.__file__).parent


def said_in_templates():
    for path in sorted(TEMPLATES.rglob("*.html")):
        for attribute, said in SAID.findall(path.read_text(encoding="utf-8")):
            yield path.name, said.split(" in ", 1)[1] if attribute == "x-for" else said


# Said by two parts of a page and meant so: the later one goes on with the earlier.
MEANT = {"accept", "drafts", "expected", "kept", "next", "saysItself"}
LISTEN = """() => { const parts = [], { getOwnPropertyDescriptors: of, defineProperties: make } = Object;
  window.saidTwice = [];
  Object.getOwnPropertyDescriptors = (part) => { parts.push(Object.keys(part)); return of(part); };
  Object.defineProperties = (...made) => {
    const all = parts.splice(0).flat();
    window.saidTwice.push(...all.filter((name, i) => all.indexOf(name) !== i));
    return make(...made);
  };
}"""


@pytest.mark.parametrize(
    "address",
    [f"/tests/{LIQUID_LIMIT_D2}", *(f"/tests/{n}/run" for n in (LIQUID_LIMIT_D2, VANE_BH2, WATER_CONTENT_U1_1))],
)
def test_no_part_of_a_page_takes_a_name_of_another(page, address):
    """The parts of a page are one object: a name said twice took the checker's texts, and once the remarks."""
    page.add_init_script(f"({LISTEN})()")
    page.goto(address)
    expect(page.get_by_role("status").first).to_be_visible()
    assert set(page.evaluate("window.saidTwice")) <= MEANT


def test_a_page_can_read_all_that_its_templates_say(page):
    """The reader that keeps to the policy of security knows less than the language; what it cannot read it passes
    over, and a field stays blank."""
    opened(page)
    every = sorted(set(said_in_templates()))
    assert len(every) > 500
    cannot = page.evaluate(
        """(every) => {
          const cannot = [];
          let now;
          Alpine.setErrorHandler((error) => String(error.message).includes("Parser") && cannot.push(now));
          for (now of every) Alpine.evaluate(document.body, now[1]);
          return cannot;
        }""",
        every,
    )
    assert cannot == []
    # It tells: this one had stood in a template.
    assert page.evaluate("""() => {
      let told = "";
      Alpine.setErrorHandler((error) => told = error.message);
      Alpine.evaluate(document.body, "f.draft ?? f.text");
      return told;
    }""").startswith("CSP Parser Error")


def run(page, test, script):
    """Run a script with the sheet's functions and the view of a test."""
    opened(page)
    return page.evaluate(
        """async (test) => {
          const sheet = await core("sheet.js");
          const view = await (await fetch(`/api/tests/${test}/sheet`)).json();
          """
        + script
        + "}",
        test,
    )


def test_what_an_answer_says_again_is_the_very_same_object(page):
    """Of a sheet of hundreds of cells a page looks only at what is another object."""
    opened(page)
    told = page.evaluate(
        """async () => {
          const { shared } = await core("shared.js");
          const before = { rows: [{ a: 1, cells: [1, 2] }, { a: 2 }], said: [], next: "weigh" };
          const answer = { rows: [{ a: 1, cells: [1, 2] }, { a: 3 }, { a: 4 }], said: [], next: null };
          const found = shared(before, answer);
          return {
            equal: JSON.stringify(found) === JSON.stringify(answer),
            kept: [found.rows[0] === before.rows[0], found.said === before.said],
            new: [found.rows === before.rows, found.rows[1] === before.rows[1]],
            all: shared(before, JSON.parse(JSON.stringify(before))) === before,
            kinds: shared({ a: {} }, { a: [] }).a instanceof Array,
          };
        }"""
    )
    assert told == {"equal": True, "kept": [True, True], "new": [False, False], "all": True, "kinds": True}


def test_a_key_sets_no_other_cell_looking_again(page):
    page.goto(f"/tests/{LIQUID_LIMIT_D2}")
    cell = page.locator("input[data-path='trials.0.mass_tin_wet_g']")
    expect(cell).to_be_visible()
    page.evaluate(
        """() => {
          const sheet = Alpine.$data(document.querySelector("[x-data=worksheet]")), originOf = sheet.originOf;
          window.looked = [];
          sheet.originOf = (path) => window.looked.push(path) && originOf.call(sheet, path);
        }"""
    )
    cell.focus()
    page.keyboard.press("7")
    expect(page.locator("input[data-path='trials.1.blows']")).to_be_visible()  # the next row stands at once
    assert page.evaluate("window.looked.splice(0)") != []
    page.keyboard.press("8")
    assert page.evaluate("window.looked") == []


def test_what_is_due_after_midnight_or_a_change_of_the_clock_is_said_by_the_laboratorys_day(page):
    """In Lisbon summer time ends on 25 October 2026 at 01:00 UTC: sixteen hours in an oven are fifteen by the clock."""
    opened(page)
    said = page.evaluate(
        """async () => {
          document.documentElement.dataset.zone = "Europe/Lisbon";
          const { due, hour } = await core("zone.js?lisbon");
          const evening = "2026-10-24T22:30:00Z";
          return [
            due("2026-10-24T22:50:00Z", evening),
            due("2026-10-24T23:10:00Z", evening),
            due("2026-10-24T23:10:00Z", "2026-10-24T23:05:00Z"),
            hour("2026-10-24T17:00:00Z"),
            due("2026-10-25T09:00:00Z", "2026-10-24T17:00:00Z"),
          ];
        }"""
    )
    assert said == ["23:50", "Sun 00:10", "00:10", "18:00", "Sun 09:00"]


def test_the_hand_weighs_all_tins_wet_before_one_dry(page):
    order = run(
        page,
        LIQUID_LIMIT_D2,
        """const written = {"trials.0.blows": "30", "trials.1.blows": "22"};
        const grown = sheet.grown(view, written);
        return sheet.steps(grown, sheet.textsOf(grown, written)).map((s) => s.path);""",
    )
    assert order.index("trials.1.mass_tin_wet_g") < order.index("trials.0.mass_tin_dry_g")
    assert order.index("trials.0.mass_tin_wet_g") < order.index("trials.1.closure_mm")
    assert "trials.0.blows" not in order
    # The blank row below the last one written is offered too.
    assert "trials.2.blows" in order


def test_what_may_stay_blank_is_not_asked_once_the_hand_has_gone_on(page):
    asked = run(
        page,
        VANE_BH2,
        """const written = {"profile.40.depth_m": "9.4", "profile.40.peak": "30"}, grown = sheet.grown(view, written);
        return sheet.steps(grown, sheet.textsOf(grown, written)).map((s) => s.path);""",
    )
    assert [path for path in asked if path.startswith("profile.40.")] == [
        "profile.40.turns",
        "profile.40.remoulded",
        "profile.40.friction",
    ]


def test_what_may_stay_blank_is_not_asked_once_a_later_row_was_weighed(page):
    """One more minute of sieving by hand was asked of every sieve above before the next was weighed."""
    asked = run(page, SIEVE_G2, "return sheet.steps(view, sheet.textsOf(view, {})).map((s) => s.path);")
    of_sieves = [path for path in asked if path.startswith("sieves.")]
    assert of_sieves[:2] == ["sieves.5.mass_passed_g", "sieves.6.mass_retained_g"]


def test_a_sieve_is_called_by_its_opening(page):
    """Of a stack nobody counts the rows: the reading asked for is that of the 0.15 mm sieve, ASTM E11 no. 100."""
    said = run(
        page,
        SIEVE_G2,
        """const found = sheet.steps(view, sheet.textsOf(view, {}));
        return found.find((s) => s.path === "sieves.6.mass_retained_g").where;""",
    )
    assert said == "row 7, 0.15 mm"


def test_what_was_passed_over_can_still_be_read_again(page):
    """A reading that the server doubts, when the hand has gone on: the page said that every reading was taken."""
    assert run(
        page,
        SIEVE_G2,
        """const path = "sieves.0.mass_passed_g", texts = { ...sheet.textsOf(view, {}), [path]: "1.2" };
        return sheet.steps(view, texts, path).some((s) => s.path === path);""",
    )


def test_a_row_stands_below_the_last_one_written(page):
    rows, free = run(
        page,
        WATER_CONTENT_U1_1,
        """const written = {"determinations.3.tin": "A"}, grown = sheet.grown(view, written);
        const texts = sheet.textsOf(grown, written);
        return [grown.tables[0].rows.map((r) => r.path), sheet.freeRow(grown, texts, "determinations")];""",
    )
    assert rows == [f"determinations.{i}" for i in range(5)]
    assert free == 4


def test_the_next_depth_is_one_step_on_from_the_row_above(page):
    expected = run(
        page,
        VANE_BH2,
        """const written = {"profile.40.depth_m": "9,4"}, grown = sheet.grown(view, written);
        const table = grown.tables[0], texts = sheet.textsOf(grown, written);
        const column = table.columns.find((c) => c.key === "depth_m");
        return sheet.expectedOf(texts, table, table.rows.find((r) => r.path === "profile.41"), column);""",
    )
    assert expected == "9.6"


# As they are typed, pasted or read from a label.
TYPED = [
    "0,85",
    " 12 ",
    "",
    " ",
    "1e-3",
    "12 g",
    "−3.5",
    "–3,5",
    "+4",
    "-.5",
    "5.",
    ",5",
    "1,2,3",
    "1 234",
    "0x10",
    "0b1",
]
TYPED += ["0b1", "Infinity", "1e999", "NaN", "\ufeff7", "2\u200b1", "\u00a08\u202f", "--1", "1e", ".", "true", "1_0"]


def test_a_number_is_read_as_the_laboratory_reads_it(page):
    found = run(page, WATER_CONTENT_U1_1, f"return [...{json.dumps(TYPED)}, null].map(sheet.number);")
    assert dict(zip(TYPED, found, strict=False)) == {text: read(text) for text in TYPED}
    assert found[-1] is None
    assert found[:2] == [0.85, 12]


def read(text):
    try:
        return parse_entry(text, "")
    except EntryError:
        return None


def test_what_follows_from_the_sheet_is_worked_out_once(page):
    counts = run(
        page,
        WATER_CONTENT_U1_1,
        """let n = 0; const f = sheet.once((texts) => { n += 1; return texts; }), a = {}, b = {};
        f(a); f(a); f(b); f(a);
        return n;""",
    )
    assert counts == 3


def test_what_an_earlier_release_kept_is_sent(page):
    page.goto("/with-me")
    kept = {
        f"vadum.queue.{WATER_CONTENT_U1_1}": [
            {"cells": {"determinations.0.tin": "OLD"}, "base_revision": 0, "save_key": "as-it-was-kept"}
        ],
        f"vadum.queue.{WATER_CONTENT_U1_1}.told": [3, 1795800000000],
        f"vadum.drafts.{WATER_CONTENT_U1_1}": {"determinations.0.mass_tin_g": "20.5"},
    }
    page.evaluate(
        "(kept) => Object.entries(kept).forEach(([k, v]) => localStorage.setItem(k, JSON.stringify(v)))", kept
    )
    with page.expect_response("**/save") as answer:
        page.goto(f"/tests/{WATER_CONTENT_U1_1}")
    assert answer.value.ok
    readings = page.request.get(f"/tests/{WATER_CONTENT_U1_1}/bench.json").json()["readings"]
    assert readings["determinations"][0]["tin"] == "OLD"
    all_saved(page)
    # What was being typed is taken up, what a page was told is no change.
    assert stored(page, WATER_CONTENT_U1_1)["determinations"] == [{"tin": "OLD", "mass_tin_g": 20.5}]
    expect(page.get_by_test_id("set-aside")).to_have_count(0)
    assert page.evaluate("Object.keys(localStorage).filter((key) => key.startsWith('vadum.queue'))") == []


@pytest.mark.parametrize("path", [f"/tests/{LIQUID_LIMIT_D2}/run", f"/tests/{LIQUID_LIMIT_D2}"])
def test_nothing_is_pressed_in_vain_while_a_page_is_still_opening(page, path):
    """On a slow phone the keys are seen before anybody listens: they cannot be pressed until somebody does."""
    held = []
    page.route("**/alpine-csp.min.js", lambda route: held.append(route))
    page.goto(path, wait_until="commit")
    key = page.locator("[x-data] button:visible").first
    expect(key).to_be_visible()
    with pytest.raises(NotInTime):
        key.click(trial=True, timeout=1000)
    held[0].continue_()
    key = page.locator("[x-data] button:visible").first
    key.click(trial=True)
