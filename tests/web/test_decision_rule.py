"""A project whose limits are met only with the uncertainty to spare: form, strip, sheet, densities, checked sheets."""

import pytest
from sqlmodel import Session, select

from tests.web.hands import save
from tests.web.test_units import printed
from vadum.records.database import open_database
from vadum.records.tables import Test


@pytest.fixture
def plate(client, database):
    """A reduced plate test with a limit that it meets by little."""
    with Session(open_database(database)) as session:
        test = session.exec(select(Test).where(Test.method == "plate-static", Test.state == "reduced")).first()
        number, ev2 = test.id, test.summary["parameters"]["ev2"]["reported"]
    save(client, number, settings={"required_ev2_mpa": round(ev2 - 0.5, 1), "required_ratio": None})
    return number


def rule(client, limits, project=1):
    form = {"units": "SI", "decimal_mark": ".", "limits": limits}
    assert client.post(f"/projects/{project}/units", data=form, follow_redirects=False).status_code == 303


def project_of(database, number):
    with Session(open_database(database)) as session:
        return session.get(Test, number).ground.project_id


def move(client, number, action):
    client.cookies.set("vadum_who", "checker")
    body = {"action": action, "reason": "looked at"}
    assert client.post(f"/api/tests/{number}/move", json=body).status_code == 200


def limits(client, number):
    verdict = client.get(f"/api/tests/{number}/sheet").json()["verdict"]
    return next(one for one in verdict["others"] if one["symbol"] == "limits")


def test_the_sheet_counts_the_uncertainty_and_the_strip_says_that_it_does(client, plate, database):
    project = project_of(database, plate)
    sheet = printed(client, plate)
    assert "simple acceptance" in sheet
    assert "meets the project's limits" in sheet
    rule(client, "guarded", project)
    assert "with the uncertainty to spare" in client.get(f"/projects/{project}").text
    assert limits(client, plate)["text"] == "meets the project's limits"
    sheet = printed(client, plate)
    assert "not shown: the limit lies within the uncertainty" in sheet
    assert "guarded acceptance, ISO/IEC Guide 98-4" in sheet
    assert "meets the project's limits" not in sheet
    rule(client, "simple", project)
    assert "meets the project's limits" in printed(client, plate)


def test_a_limit_met_with_plenty_to_spare_is_met_by_either_rule(client, plate, database):
    save(client, plate, settings={"required_ev2_mpa": 5})
    rule(client, "guarded", project_of(database, plate))
    sheet = printed(client, plate)
    assert "at least 5 MPa: met" in sheet


def test_what_was_checked_keeps_its_rule_and_says_that_it_changed(client, plate, database):
    move(client, plate, "check")
    with Session(open_database(database)) as session:
        assert session.get(Test, plate).state == "checked"
    rule(client, "guarded", project_of(database, plate))
    sheet = printed(client, plate)
    assert "simple acceptance" in sheet
    assert "decision rule" in sheet
