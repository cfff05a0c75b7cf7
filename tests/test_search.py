"""Search: every word counts, a place finds its tests, and nobody finds what is not theirs."""

import html
import re

import pytest
from sqlmodel import Session, select

from vadum.records.database import open_database
from vadum.records.search import search
from vadum.records.tables import Location, Project, Sample, Test
from vadum.soil.registry import METHODS


@pytest.fixture(scope="module")
def lab(demo_database):
    with Session(open_database(demo_database)) as session:
        yield session


def places(tests):
    return {test.place for test in tests}


def test_a_sample_finds_its_tests_and_itself(lab):
    found = search(lab, "TP4 B3")
    assert places(found.tests) == {"TP4 B3"}
    assert [s.name for s in found.samples] == ["B3"]
    every = lab.exec(select(Test).join(Sample).join(Location).where(Sample.name == "B3", Location.name == "TP4")).all()
    assert {t.id for t in found.tests} == {t.id for t in every}


def test_a_location_finds_the_tests_in_its_ground_too(lab):
    found = search(lab, "BP1 plate")
    assert {t.method for t in found.tests} == {"plate-static"}
    assert places(found.tests) == {"BP1"}


def test_every_word_counts_whatever_its_letters(lab):
    assert {t.method for t in search(lab, "liquid").tests} == {"liquid-limit"}
    assert {t.state for t in search(lab, "LIQUID Running").tests} == {"running"}
    assert search(lab, "liquid nowhere").nothing
    assert search(lab, "   ").nothing
    assert search(lab, "100 % _").nothing, "signs of the database's own language are letters here"


def test_a_number_finds_its_test_and_the_newest_come_first(lab):
    assert 42 in {t.id for t in search(lab, "42").tests}
    tests = search(lab, "limit").tests
    assert [t.updated_at for t in tests] == sorted((t.updated_at for t in tests), reverse=True)


def test_two_hundred_projects_are_turned_through_each_seen_once(client, database):
    with Session(open_database(database)) as session:
        for k in range(200):
            session.add(Project(name=f"Weir road, part {k:03}"))
        session.commit()
    for address, least in (("/", 203), ("/search?q=weir+road", 200)):
        seen, pages = [], 0
        while address:
            page = client.get(address).text
            seen += re.findall(r'href="(/projects/\d+)"', page)
            on = re.search(r'<a href="([^"]*)">(?:earlier projects|more behind these)</a>', page)
            address, pages = html.unescape(on[1]) if on else "", pages + 1
        assert len(seen) == len(set(seen)) >= least
        assert pages > 5
    last = client.get("/?skip=200").text
    assert "201 to 203 of 203" in re.sub(r"\s+", " ", last)
    assert 'href="/?skip=180">later projects' in last


def test_of_some_projects_only_these(lab):
    whole, some, none = search(lab, "plate"), search(lab, "plate", {2}), search(lab, "plate", set())
    assert {t.ground.project_id for t in whole.tests} == {1, 2}
    assert {t.ground.project_id for t in some.tests} == {2}
    assert none.tests == []
    assert search(lab, "harrow", {2}).projects == []


@pytest.mark.parametrize(
    ("words", "method"),
    [
        ("moisture", "water-content"),
        ("bulk density", "ring-density"),
        ("atterberg", "liquid-limit"),
        ("Proctor", "compaction"),
        ("grain size", "sieve"),
        ("specific gravity", "particle-density"),
        ("ucs", "unconfined"),
    ],
)
def test_a_test_is_found_by_the_words_people_use(lab, words, method):
    assert method in {test.method for test in search(lab, words).tests}


@pytest.mark.parametrize("words", ["AGUA", "água", "Ponte agua", "ΣΤΑΘΜΟΣ", "σταθμός", "strasse"])
def test_capitals_and_accents_count_for_nothing_in_any_language(database, words):
    with Session(open_database(database)) as session:
        session.add(Project(name="Ponte de Água, Σταθμός, Lange Straße"))
        session.commit()
        assert [project.name for project in search(session, words).projects] == ["Ponte de Água, Σταθμός, Lange Straße"]


def test_every_method_is_known_by_other_words():
    for method in METHODS.values():
        assert method.known_as, method.code
        assert all(word == word.lower() for word in method.known_as), method.code
