"""What a project and the laboratory choose: on record with who changed it, and never the later of two hands alone."""

import json
import re
import sqlite3
from contextlib import closing
from html import unescape

import pytest
from fastapi.testclient import TestClient

from tests.laboratory import COMPACTION_G1
from vadum.web.app import create_app

# A form: its page, where it is sent, what it says of two fields, each with another value, and what a list of changes
# calls them.
WEEK = ["08:00-17:00"] * 5 + ["", ""]
LATER = ["09:00-17:00"] * 5 + ["", ""]
ASKED = {"required_mm_h": "36", "kind": "conductivity", "by": "mean", "safety_factor": "2", "design_c": ""}
FORMS = {
    "required density": (
        "/projects/1/densities",
        "/projects/1/densities",
        {"compaction": str(COMPACTION_G1), "least_percent": "95", "drier_percent": "2", "wetter_percent": "2"},
        ("least_percent", "97", "at least"),
        ("drier_percent", "3", "drier by"),
    ),
    "infiltration": (
        "/projects/1/infiltration",
        "/projects/1/infiltration",
        ASKED,
        ("required_mm_h", "50", "rate required"),
        ("safety_factor", "3", "over a factor of"),
    ),
    "shown": (
        "/projects/1",
        "/projects/1/units",
        {"units": "SI", "decimal_mark": ".", "limits": "simple"},
        ("limits", "guarded", "limits guarded by U"),
        ("decimal_mark", ",", "decimal mark"),
    ),
    "preset of liquid limit": (
        "/presets/liquid-limit",
        "/presets/liquid-limit",
        {"school": "multipoint"},
        ("school", "one-point", "school"),
        None,
    ),
    "letterhead": (
        "/letterhead",
        "/letterhead",
        {"name": "Low Weir Soils", "address": "1 Mill Lane"},
        ("name", "High Weir Soils", "name"),
        ("address", "2 Mill Lane", "address"),
    ),
    "time": ("/letterhead", "/zone", {"zone": ""}, ("zone", "Europe/Lisbon", "zone"), None),
    "hours": (
        "/letterhead",
        "/hours",
        {"day": WEEK, "closed": "", "out": ""},
        ("day", LATER, "week"),
        ("closed", "2027-05-01", "closed on"),
    ),
    "new projects": (
        "/letterhead",
        "/units",
        {"units": "SI", "decimal_mark": "."},
        ("units", "kgf/cm²", "units"),
        ("decimal_mark", ",", "decimal mark"),
    ),
    "rules": (
        "/letterhead",
        "/rules",
        {},
        ("technicians_add", "true", "who measures adds"),
        ("competence_needed", "true", "sign-off needed"),
    ),
}
# A third value, where a field has more than two.
THIRD = {
    "required density": "93",
    "infiltration": "20",
    "preset of liquid limit": "fall-cone",
    "letterhead": "Third Weir Soils",
    "time": "Europe/Paris",
    "hours": ["10:00-16:00"] * 7,
    "new projects": "US customary",
}
EVERY = pytest.mark.parametrize("part", FORMS)
TWO_FIELDS = pytest.mark.parametrize("part", [part for part, (*_, second) in FORMS.items() if second])


@pytest.fixture
def lab(database):
    with TestClient(create_app(database), raise_server_exceptions=False) as client:
        yield client


def send(lab, part, drawn=None, **other):
    """Send a form as it stands but for some fields, drawn when the newest change was ``drawn``."""
    _, address, form, *_ = FORMS[part]
    seen = {} if drawn is None else {"seen": drawn}
    return lab.post(address, data=form | other | seen, follow_redirects=False)


def begun(lab, part):
    """Let the form's own values stand; return what a form drawn now says that its hand saw."""
    assert send(lab, part).status_code == 303
    return drawn_on(lab.get(FORMS[part][0]).text, part)


def drawn_on(page, part):
    """Return what the form of a part says on a page that its hand saw."""
    address = FORMS[part][1]
    forms = re.findall(r"<form[^>]*>.*?</form>", page, re.S)
    own = [form for form in forms if f'action="{address}"' in form or "action=" not in form[:300]]
    return re.search(r'name="seen"\s+value="(\d+)"', next(form for form in own if 'name="seen"' in form))[1]


def changes(database):
    with closing(sqlite3.connect(database)) as connection:
        return [
            (who, json.loads(changed))
            for who, changed in connection.execute("select who, changed from correction order by id")
        ]


@EVERY
def test_a_change_is_on_record_and_told_on_its_page(lab, database, part):
    begun(lab, part)
    before = len(changes(database))
    page, _, _, (field, value, title), _ = FORMS[part]
    assert send(lab, part, **{field: value}).status_code == 303
    ((who, changed),) = changes(database)[before:]
    line = f"{part}: {title}"
    assert who == "technician 1"
    assert list(changed) == [next(name for name in changed if name.lower() == line.lower())]
    ((was, now),) = changed.values()
    assert was != now
    told = re.sub(r"\s+", " ", unescape(lab.get(page).text))
    assert f"{was or 'blank'} → {now or 'blank'}" in told
    # The same again is no change.
    assert send(lab, part, **{field: value}).status_code == 303
    assert len(changes(database)) == before + 1


@TWO_FIELDS
def test_two_who_change_different_things_take_nothing_of_each_other_back(lab, database, part):
    drawn = begun(lab, part)
    *_, (one, first, title), (other, second, _) = FORMS[part]
    before = len(changes(database))
    assert send(lab, part, drawn, **{one: first}).status_code == 303
    assert send(lab, part, drawn, **{other: second}).status_code == 303
    taken_back = [line for _, changed in changes(database)[before + 1 :] for line in changed if line.endswith(title)]
    assert taken_back == []
    assert len(changes(database)) == before + 2


@pytest.mark.parametrize(("part", "third"), THIRD.items(), ids=THIRD)
def test_the_same_changed_by_two_is_told_and_the_second_looks_first(lab, database, part, third):
    *_, (field, value, _), _ = FORMS[part]
    drawn = begun(lab, part)
    assert send(lab, part, drawn, **{field: value}).status_code == 303
    before = changes(database)
    refused = send(lab, part, drawn, **{field: third})
    assert refused.status_code == 422
    assert "changed this meanwhile" in refused.text
    assert changes(database) == before
    # What was typed stands in the form still; looked at and sent again it counts.
    words = third[0].replace("-", "\u2013") if isinstance(third, list) else third
    assert words in unescape(refused.text)
    assert send(lab, part, drawn_on(refused.text, part), **{field: third}).status_code == 303
    assert len(changes(database)) == len(before) + 1


def test_all_that_both_changed_is_told(lab):
    """Saved after looking it takes the place of each: one told of two would be lost unseen."""
    part = "required density"
    drawn = begun(lab, part)
    send(lab, part, drawn, least_percent="97", drier_percent="3")
    told = send(lab, part, drawn, least_percent="93", drier_percent="1").text
    assert "at least 95 → 97" in told
    assert "drier by 2 → 3" in told


def test_a_form_that_comes_back_for_a_mistake_still_takes_nothing_back(lab, database):
    """Drawn before somebody else changed the window, refused for its least degree, put right and sent."""
    part = "required density"
    drawn = begun(lab, part)
    send(lab, part, drawn, drier_percent="3")
    refused = send(lab, part, drawn, least_percent="nine")
    assert refused.status_code == 422
    assert drawn_on(refused.text, part) == drawn
    assert send(lab, part, drawn_on(refused.text, part), least_percent="98").status_code == 303
    (*_, last) = changes(database)
    assert list(last[1]) == ["required density: at least"]
    with closing(sqlite3.connect(database)) as connection:
        (kept,) = connection.execute("select lift_rule from project where id = 1").fetchone()
    assert json.loads(kept) == json.loads(kept) | {"least_percent": 98, "drier_percent": 3}


def test_who_looks_sees_what_others_changed_beside_what_was_typed(lab, database):
    """Both fields were changed by the first hand: the second, refused for one, does not take the other back."""
    part = "required density"
    drawn = begun(lab, part)
    send(lab, part, drawn, least_percent="97", drier_percent="3")
    refused = send(lab, part, drawn, least_percent="93")
    assert refused.status_code == 422
    field = re.search(r'name="drier_percent"[^>]*value="([^"]*)"', re.sub(r"\s+", " ", refused.text))
    assert field[1] == "3"


def test_a_correction_that_comes_back_for_a_mistake_still_takes_nothing_back(lab):
    """The same of a sample's form: drawn, somebody else corrects, refused for a mistake, put right."""
    page = lab.get("/samples/4").text
    drawn = re.search(r'name="seen"\s+value="(\d+)"', page)[1]
    form = {"name": "U2", "kind": "tube", "top_m": "1.5", "base_m": "2", "description": "", "reason": "typed wrongly"}
    now = lab.get("/samples/4").text
    own = {
        name: unescape(re.search(rf'name="{name}"[^>]*?value="([^"]*)"', re.sub(r"\s+", " ", now))[1])
        for name in ("name", "top_m", "base_m")
    }
    assert lab.post("/samples/4", data=form | own | {"description": "brown", "seen": drawn}).status_code == 200
    refused = lab.post("/samples/4", data=form | own | {"mass_g": "much", "seen": drawn})
    assert refused.status_code == 422
    assert re.search(r'name="seen"\s+value="(\d+)"', refused.text)[1] == drawn


def test_a_switch_that_somebody_else_turned_on_stays_on_in_a_form_that_comes_back(lab):
    """Both chose another correction; the switch is of the first hand alone."""
    address = "/presets/vane"
    off = {"correction": "by-plasticity"}
    lab.post(address, data=off)
    drawn = re.search(r'name="seen"\s+value="(\d+)"', lab.get(address).text)[1]
    lab.post(address, data={"correction": "none", "fissured": "yes", "seen": drawn})
    refused = lab.post(address, data={"correction": "morris-williams", "seen": drawn})
    assert refused.status_code == 422
    switch = re.search(r'<input[^>]*name="fissured"[^>]*>', refused.text)[0]
    assert "checked" in switch


def test_a_rule_is_yes_or_no(lab, database):
    before = changes(database)
    assert send(lab, "rules", technicians_add="perhaps").status_code == 422
    assert send(lab, "rules", technicians_add="false").status_code == 303
    assert changes(database) == before


def test_a_zone_that_nobody_knows_leaves_no_line(lab, database):
    before = changes(database)
    assert send(lab, "time", zone="Mars/Base").status_code == 422
    assert changes(database) == before
