"""A test that was put down to the wrong sample, and one that is made once more."""

import pytest
from sqlmodel import Session, select

from tests.laboratory import LIQUID_LIMIT_B1, LIQUID_LIMIT_B3, LIQUID_LIMIT_U2, PLASTIC_LIMIT_U2, VANE_BH2
from tests.web.hands import signed_in
from vadum.records.tables import Revision, Sample, Test


@pytest.fixture
def technician(app):
    return signed_in(app, "technician")


def record(app, number):
    with Session(app.state.engine) as session:
        found = session.get(Test, number)
        return {"sample": found.sample_id, "state": found.state, "kept": found.kept, "summary": found.summary}


def moved(client, number, sample, reason="bags exchanged on the bench"):
    data = {"sample_id": str(sample), "reason": reason}
    return client.post(f"/tests/{number}/sample", data=data, follow_redirects=False)


def test_a_test_goes_to_another_sample_with_its_readings_and_the_reason(app, technician):
    """The plastic limit of the sample it leaves no longer leans on it, that of the sample it comes to does."""
    before, other = record(app, LIQUID_LIMIT_U2), record(app, LIQUID_LIMIT_B3)["sample"]
    assert before["state"] == "running"
    assert moved(technician, LIQUID_LIMIT_U2, other).status_code == 303
    after = record(app, LIQUID_LIMIT_U2)
    assert (after["sample"], after["kept"]) == (other, before["kept"])
    with Session(app.state.engine) as session:
        query = select(Revision).where(Revision.test_id == LIQUID_LIMIT_U2).order_by(Revision.number.desc())
        last = session.exec(query).first()
    assert last.what == "moved: from TP4 U2 to TP4 B3"
    assert (last.who, last.reason) == ("technician", "bags exchanged on the bench")
    leans = technician.get(f"/api/tests/{PLASTIC_LIMIT_U2}/sheet").json()["leans"]
    assert f"test {LIQUID_LIMIT_U2}" not in str(leans)


def test_what_was_checked_stays_and_a_reason_is_asked_for(app, technician):
    other = record(app, LIQUID_LIMIT_B3)["sample"]
    refused = moved(technician, LIQUID_LIMIT_B1, other)
    assert refused.status_code == 409
    assert "A checked test stays where it is: reopen it first" in refused.text
    unsaid = moved(technician, LIQUID_LIMIT_U2, other, "")
    assert unsaid.status_code == 409
    assert "Say how it came to be with the wrong sample" in unsaid.text
    assert "Only a test of a sample is moved" in moved(technician, VANE_BH2, other).text
    with Session(app.state.engine) as session:
        mine = session.get(Sample, other).location.project_id
        far = next(one.id for one in session.exec(select(Sample)) if one.location.project_id != mine)
    assert "The other sample is of another project" in moved(technician, LIQUID_LIMIT_U2, far).text
    assert record(app, LIQUID_LIMIT_U2)["sample"] != far


def test_a_test_is_planned_once_more_with_its_settings_and_equipment(app, technician):
    made = technician.post(f"/tests/{LIQUID_LIMIT_B1}/again", follow_redirects=False)
    assert made.status_code == 303
    number = int(made.headers["location"].rsplit("/", 1)[1])
    with Session(app.state.engine) as session:
        first, again = session.get(Test, LIQUID_LIMIT_B1), session.get(Test, number)
        assert (again.state, again.sample_id, again.settings) == ("planned", first.sample_id, first.settings)
        assert [piece.name for piece in again.uses] == [piece.name for piece in first.uses]
        assert not again.revision
    bench = technician.get(f"/tests/{number}/bench.json").json()
    assert not bench["readings"].get("trials")
