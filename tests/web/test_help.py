"""Help in the application: the walk, a page per method, the symbols."""

import re

import pytest

from tests.laboratory import LIQUID_LIMIT_U2
from tests.web.hands import signed_in
from vadum.soil.glossary import glossary
from vadum.soil.registry import METHODS


@pytest.mark.parametrize("code", METHODS)
def test_every_method_has_a_page_with_its_equations_and_cautions(client, code):
    page = client.get(f"/help/methods/{code}")
    assert page.status_code == 200
    method = METHODS[code]
    assert f"<h1>{method.title}</h1>" in page.text
    assert "<table>" in page.text
    assert page.text.count("<li>") >= len(method.cautions)
    assert "make docs" not in page.text


def test_a_worksheet_leads_to_its_method(client):
    assert 'href="/help/methods/liquid-limit"' in client.get(f"/tests/{LIQUID_LIMIT_U2}").text
    assert client.get("/help/methods/astrology").status_code == 404


def test_the_glossary_knows_every_symbol_on_record(client):
    """Whatever a sheet of the demonstration shows as a number is explained."""
    known = {(entry.symbol, code) for entry in glossary() for code in entry.methods}
    for number in range(1, 58):
        bench = client.get(f"/tests/{number}/bench.json")
        reduced = client.post("/api/reduce", json=bench.json()).json()
        method = METHODS[bench.json()["method"]]
        for parameter in (p for p in reduced.get("parameters", []) if p["value"] is not None):
            declared = next(result for result in method.results if result.gives(parameter["key"]))
            assert (declared.entry[0], method.code) in known, number


def test_one_letter_stands_for_what_it_is_in_each_method():
    """Of a specimen L is no depth of a hydrometer, and the stress of unconfined compression is no normal stress."""
    meant = {(entry.symbol, code): entry.meaning for entry in glossary() for code in entry.methods}
    assert meant["L", "hydrometer"] == "effective depth of the hydrometer"
    assert meant["L", "triaxial"] == "length of the specimen as shearing begins"
    assert (meant["σ", "unconfined"], meant["σ", "direct-shear"]) == ("axial stress", "normal stress")


def test_an_entry_is_found_by_its_words(client):
    page = client.get("/help/glossary?words=liquid+limit").text
    assert "<b>LL</b>" in page
    assert "<b>CBR</b>" not in page
    assert "No symbol with these words" in client.get("/help/glossary?words=zzz").text


def cards(client, first="/?tour=1"):
    """Follow the walk from card to card and return the titles."""
    titles, path = [], first
    while path:
        page = client.get(path)
        assert page.status_code == 200, path
        card = page.text[page.text.index('<aside class="tour') :]
        titles.append(re.search(r"<h2>(.*?)</h2>", card)[1])
        target = re.search(r'data-tour="(.*?)"', card)[1]
        last = target.split()[-1]
        wanted = last.strip(".#[]") if last[0] in ".#[" else f"<{last}"
        assert wanted in page.text, f"{path} has no {target}"
        after = re.search(r'<a class="act" href="([^"]+)">Next</a>', card)
        path = after[1].replace("&amp;", "&") if after else ""
    return titles


def test_the_walk_goes_from_the_start_page_to_practice(client):
    titles = cards(client)
    assert len(titles) == 9
    assert (titles[0], titles[-1]) == ("The laboratory", "Practice")


@pytest.mark.parametrize("number", ["0", "99", "x", "", "-1"])
def test_a_number_that_is_no_stop_shows_no_card(client, number):
    page = client.get(f"/?tour={number}")
    assert page.status_code == 200
    assert 'class="tour' not in page.text


@pytest.mark.parametrize(
    ("job", "count", "ends"),
    [
        ("bench", 5, "measure a hidden soil"),
        ("field", 4, "take it with you"),
        ("check", 4, "check it, or send it back"),
        ("manage", 4, "plan the week"),
        ("engineer", 4, "make a report"),
    ],
)
def test_each_job_has_a_walk_that_ends_in_something_done(client, job, count, ends):
    page = client.get("/help").text
    first = re.search(rf'href="([^"]*[?]tour={job}[.]1)"', page)[1]
    titles = cards(client, first)
    assert len(titles) == count
    assert titles[-1] == f"Now you: {ends}"


def test_a_walk_is_for_whom_its_pages_are(app):
    assert "tour=manage.1" in signed_in(app, "manager").get("/help").text
    technician = signed_in(app, "technician")
    assert "tour=manage.1" not in technician.get("/help").text
    assert "tour=bench.1" in technician.get("/help").text
    assert 'class="tour' not in technician.get("/?tour=nobody.1").text


def test_whoever_sees_some_projects_walks_through_those(app):
    for role in ("technician", "reader"):
        assert cards(signed_in(app, role))[-1] == "Practice"


def test_the_walk_is_offered_in_a_demonstration_only(client):
    assert "data-walk" not in client.get("/").text
    client.app.state.demo = True
    assert "data-walk" in client.get("/").text


@pytest.mark.parametrize(
    "address",
    [
        "/",
        "/projects/1",
        "/samples/1",
        "/equipment",
        "/equipment/1",
        "/letterhead",
        "/people",
        "/duplicates",
        "/tests/4",
    ],
)
def test_a_name_on_a_page_is_of_one_thing(client, address):
    """A label of a second field of the same name would point to the first."""
    found = re.findall(r'\sid="([^"]+)"', client.get(address).text)
    assert sorted(name for name in set(found) if found.count(name) > 1) == []
