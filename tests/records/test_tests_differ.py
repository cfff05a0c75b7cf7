"""Two tests of one sample that contradict each other: what leans on the newer says so."""

import json

import pytest
from sqlmodel import select

from vadum.records.catching_up import catch_up
from vadum.records.dependents import renew_all
from vadum.records.standing import live
from vadum.records.states import move
from vadum.records.tables import LaboratorySetting, Sample, Test


@pytest.fixture
def sample(session):
    """The sample of which everything that classifies is known."""
    classified = session.exec(select(Test).where(Test.method == "classification", Test.state == "reduced")).first()
    return session.get(Sample, classified.sample_id)


def the(session, sample, method):
    return session.exec(select(Test).where(Test.sample_id == sample.id, Test.method == method)).first()


def again(session, sample, wetter):
    """Test the liquid limit of the sample once more, with so many times the water in every tin."""
    first = the(session, sample, "liquid-limit")
    kept = json.loads(json.dumps(first.kept))
    for row in kept["trials"]:
        water = row["mass_tin_wet_g"] - row["mass_tin_dry_g"]
        row["mass_tin_wet_g"] = round(row["mass_tin_dry_g"] + wetter * water, 2)
    second = Test(method="liquid-limit", sample_id=sample.id, state="reduced", kept=kept, settings=first.settings)
    session.add(second)
    session.commit()
    renew_all(session, [second])
    session.commit()
    return first, second


def said(session, test):
    return [one.message for one in live(session, test).reduction.findings if one.code == "tests-differ"]


def test_a_class_that_hangs_on_one_of_two_liquid_limits_says_so(session, sample):
    """38 and 57 %: a lean clay became a fat one with the second, and no sheet said that there were two."""
    classification = the(session, sample, "classification")
    assert said(session, classification) == []
    first, second = again(session, sample, 1.5)
    [message] = said(session, classification)
    assert message.startswith(
        f"LL is taken from test {second.id}; test {first.id} of the same sample differs from it by "
    )
    move(session, second, "void", who="manager", reason="wrong tins")
    assert said(session, classification) == []


def test_two_liquid_limits_that_agree_as_such_do_are_no_finding(session, sample):
    again(session, sample, 1.05)
    assert said(session, the(session, sample, "classification")) == []


def test_lists_of_an_earlier_release_learn_of_it_when_the_laboratory_is_opened(session, sample):
    classification = the(session, sample, "classification")
    again(session, sample, 1.5)
    renew_all(session, [classification])
    now = classification.summary
    classification.summary = now | {"findings": []}
    session.merge(LaboratorySetting(key="lists renewed", value="0010"))
    session.commit()
    catch_up(session)
    assert classification.summary == now
