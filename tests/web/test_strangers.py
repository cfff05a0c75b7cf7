"""Whoever is not let in reads nothing of the record, not even beside a refusal; whoever is stays who they are there."""

import pytest
from fastapi.testclient import TestClient

from tests.web.hands import read, signed_in

NOWHERE = "/projects/1/nowhere"


@pytest.fixture
def stranger(app):
    signed_in(app, "manager")
    return TestClient(app, raise_server_exceptions=False)


@pytest.mark.parametrize("path", [NOWHERE, "/sign-in"])
@pytest.mark.parametrize("walk", ["1", "bench.1", "engineer.2"])
def test_a_walk_tells_a_stranger_no_number_of_the_record(stranger, path, walk):
    text = stranger.get(path, params={"tour": walk}).text
    assert 'class="tour' not in text
    assert "/tests/" not in text
    assert "/projects/1?" not in text


def test_an_address_that_leads_nowhere_says_so_and_knows_who_asks(app, stranger):
    reply = signed_in(app, "manager").get(NOWHERE)
    assert reply.status_code == 404
    assert "There is no page at this address." in reply.text
    assert "Sign out" in reply.text
    assert 'name="role"' not in reply.text, "nobody works as somebody else where people sign in"
    unknown = stranger.get(NOWHERE)
    assert unknown.status_code == 404
    assert ">Sign in<" in unknown.text
    assert "Sign out" not in unknown.text
    assert 'name="role"' not in unknown.text


def test_the_page_for_no_line_is_nobodys(stranger):
    """A device keeps it from before anybody signed in there, and shows it to whoever works on it later."""
    text = stranger.get("/no-line").text
    assert 'name="role"' not in text
    assert ">Sign in<" not in text
    assert "What is with me" in text


def test_what_may_not_be_sent_to_an_address_is_said_in_words(app):
    reply = signed_in(app, "manager").put("/equipment")
    assert reply.status_code == 405
    assert "This cannot be done at this address." in reply.text


def test_before_anybody_is_registered_nobody_is_a_stranger(client):
    page = read(client.get(NOWHERE, params={"tour": "1"}))
    assert 'name="role"' in page
    assert 'class="tour' in page


def test_a_refusal_shows_no_more_than_the_projects_a_person_sees(app):
    guest = signed_in(app, "guest")
    for path in ("/letterhead", "/people", "/projects/1", NOWHERE):
        refused = guest.get(path, params={"tour": "engineer.1"})
        assert refused.status_code in (403, 404)
        assert "/projects/1/" not in refused.text.replace(NOWHERE, "")
        assert "Sign out" in refused.text
