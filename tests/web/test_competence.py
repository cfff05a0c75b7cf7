"""Who may measure by what alone: blind soils, duplicates and the reference soil, a signature, and the rule of it."""

import re
from datetime import date, timedelta

import numpy as np
import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B3
from tests.web.hands import save, signed_in, take
from vadum.records import practice
from vadum.records.signatures import CompetenceError, sign
from vadum.records.tables import Competence, Person, Sample, Test
from vadum.soil.registry import METHODS

NEXT_YEAR = (date.today() + timedelta(days=365)).isoformat()


def number_of(app, name):
    with Session(app.state.engine) as session:
        return session.exec(select(Person.id).where(Person.name == name)).one()


def page_of(client, app, name="technician"):
    return re.sub(r"\s+", " ", client.get(f"/people/{number_of(app, name)}/competence").text)


def line_of(page, method):
    return next(row for row in re.findall(r"<tr>.*?</tr>", page) if f"<b>{method}</b>" in row)


def signed_off(client, app, method="water-content", until=NEXT_YEAR, name="technician", grounds="watched twice"):
    form = {"method": method, "until": until, "grounds": grounds}
    return client.post(f"/people/{number_of(app, name)}/competence", data=form)


def practised(client, app, *, careful):
    """Hand in a blind soil: measured whole, or not at all."""
    begun = client.post("/practice", data={"method": "water-content", "mistakes": 0}, follow_redirects=False)
    test = int(re.search(r"/tests/(\d+)", begun.headers["location"])[1])
    if careful:
        with Session(app.state.engine) as session:
            readings = practice.hidden(session.get(Test, test), planted=False)
        cells = {}
        for path in practice.flat(readings.model_dump(mode="json", exclude_none=True)):
            cells |= take(client, test, path)["cells"]
        save(client, test, cells=cells)
    client.post(f"/practice/{test}/hand-in")


def test_blind_soils_are_counted_with_how_many_were_passed(app):
    hand, checker = signed_in(app, "technician"), signed_in(app, "checker")
    assert "Nothing yet" in page_of(checker, app)
    practised(hand, app, careful=True)
    practised(hand, app, careful=False)
    line = line_of(page_of(checker, app), "Water content")
    assert re.search(r"2,\s*<span[^>]*>1 passed", line)
    assert date.today().isoformat() in line
    # Of somebody else nothing is counted.
    assert "Nothing yet" in page_of(signed_in(app, "manager"), app, "checker")


def test_a_signature_holds_until_its_day_or_until_it_is_withdrawn(app):
    checker = signed_in(app, "checker")
    assert signed_off(checker, app).status_code == 200
    line = line_of(page_of(checker, app), "Water content")
    assert f"until {NEXT_YEAR}" in line
    assert "checker" in line
    assert "watched twice" in line
    number = re.search(r"/competence/(\d+)/withdraw", page_of(checker, app))[1]
    checker.post(f"/competence/{number}/withdraw")
    assert "withdrawn" in line_of(page_of(checker, app), "Water content")
    with Session(app.state.engine) as session:
        (kept,) = session.exec(select(Competence)).all()
        assert (kept.ended_by, kept.grounds) == ("checker", "watched twice"), "it stays on record"


def test_a_later_signature_takes_the_place_of_an_earlier_one(app):
    checker = signed_in(app, "checker")
    signed_off(checker, app, grounds="first year")
    signed_off(checker, app, grounds="second year")
    assert "second year" in line_of(page_of(checker, app), "Water content")
    with Session(app.state.engine) as session:
        first, second = session.exec(select(Competence).order_by(Competence.id)).all()
        assert first.ended_at
        assert second.ended_at is None


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"until": (date.today() - timedelta(days=1)).isoformat()}, "lies in the past"),
        ({"until": "next year"}, "Give the day until which it holds"),
        ({"grounds": " "}, "on what grounds"),
        ({"method": "phrenology"}, "no such method"),
        ({"name": "checker"}, "Nobody signs for themselves"),
    ],
)
def test_a_signature_that_cannot_be_given_says_why(app, change, words):
    reply = signed_off(signed_in(app, "checker"), app, **change)
    assert reply.status_code == 422
    assert words in reply.text
    with Session(app.state.engine) as session:
        assert session.exec(select(Competence)).first() is None


def test_everybody_sees_their_own_page_and_no_other(app):
    hand = signed_in(app, "technician")
    assert "Competence of technician" in hand.get("/competence").text
    assert hand.get(f"/people/{number_of(app, 'checker')}/competence").status_code == 403
    assert "Sign off" not in hand.get("/competence").text
    assert signed_off(hand, app, name="checker").status_code == 403


def ready(app):
    """A water content that the technician measured whole and called done."""
    hand = signed_in(app, "technician")
    with Session(app.state.engine) as session:
        sample = session.exec(select(Sample.id)).first()
    hand.post(f"/samples/{sample}/tests", data={"method": "water-content", "anyway": "1"})
    with Session(app.state.engine) as session:
        number = session.exec(select(Test.id).order_by(Test.id.desc())).first()
    method = METHODS["water-content"]
    rng = np.random.default_rng(1)
    readings = method.virtual(method.a_soil(rng), method.Settings(), rng).model_dump(mode="json", exclude_none=True)
    cells = {path: str(value) for path, value in practice.flat(readings).items() if ".tin" not in path}
    save(hand, number, cells=cells)
    move(hand, number, "done")
    return number


def move(client, number, action, reason=""):
    return client.post(f"/api/tests/{number}/move", json={"action": action, "reason": reason})


def needs_reason(client, number):
    moves = client.get(f"/api/tests/{number}/sheet").json()["moves"]
    return {one["action"]: one["needsReason"] for one in moves}["check"]


def test_without_the_rule_nobody_asks(app):
    number, checker = ready(app), signed_in(app, "checker")
    assert not needs_reason(checker, number)
    assert move(checker, number, "check").status_code == 200


def test_with_the_rule_an_unsigned_hand_was_watched_or_the_test_is_not_checked(app):
    number, checker = ready(app), signed_in(app, "checker")
    signed_in(app, "manager").post("/rules", data={"competence_needed": "true"})
    assert needs_reason(checker, number)
    refused = move(checker, number, "check")
    assert refused.status_code == 409
    assert "technician is not signed off for this method" in refused.json()["message"]
    assert move(checker, number, "check", "watched by the checker").status_code == 200
    assert "watched by the checker" in str(checker.get(f"/api/tests/{number}/history").json())


def test_with_the_rule_a_signed_hand_needs_nobody_beside(app):
    number, checker = ready(app), signed_in(app, "checker")
    signed_in(app, "manager").post("/rules", data={"competence_needed": "true"})
    signed_off(checker, app)
    assert not needs_reason(checker, number)
    assert move(checker, number, "check").status_code == 200


def test_a_signature_for_one_method_says_nothing_of_another(app):
    with Session(app.state.engine) as session:
        person = session.exec(select(Person).where(Person.name == "technician")).one()
        sign(session, person, "sieve", date.today(), "checker", "watched")
        with pytest.raises(CompetenceError, match="past"):
            sign(session, person, "sieve", date.today() - timedelta(days=1), "checker", "watched")
    signed_in(app, "manager").post("/rules", data={"competence_needed": "true"})
    assert needs_reason(signed_in(app, "checker"), ready(app))


def test_who_was_not_registered_is_named_too(app):
    """The demonstration's own tests were measured by roles that nobody registered."""
    signed_in(app, "manager").post("/rules", data={"competence_needed": "true"})
    reply = move(signed_in(app, "checker"), LIQUID_LIMIT_B3, "check")
    assert reply.status_code == 409


def test_before_anybody_has_a_name_competence_leads_to_where_people_are_added(client):
    reply = client.get("/competence", follow_redirects=False)
    assert (reply.status_code, reply.headers["location"]) == (303, "/people")
