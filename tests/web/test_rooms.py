"""Where a page lies: the room and the door that are marked on it."""

import re

import pytest


@pytest.mark.parametrize(
    ("address", "door", "mark"),
    [
        ("/equipment", "Equipment", "page"),
        ("/equipment/1", "Equipment", "true"),
        ("/duplicates/reference", "Duplicates", "true"),
        ("/help/glossary", "Glossary", "page"),
        ("/help/methods/vane", "Help", "true"),
        ("/", "Projects", "page"),
    ],
)
def test_one_door_is_marked_on_its_page_and_on_those_behind_it(client, address, door, mark):
    doors = re.search(r'<nav class="doors".*?</nav>', client.get(address).text, re.DOTALL)[0]
    assert re.findall(r'aria-current="(\w+)"[^>]*>([^<]+)', doors) == [(mark, door)]


def test_under_no_door_none_is_marked(client):
    doors = re.search(r'<nav class="doors".*?</nav>', client.get("/samples/3").text, re.DOTALL)[0]
    assert "aria-current" not in doors
