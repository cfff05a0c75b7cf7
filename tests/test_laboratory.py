"""The names by which tests speak of the demonstration laboratory are of what they say."""

import pytest
from sqlmodel import Session, select

from tests.laboratory import WHAT
from vadum.records.custody import KINDS
from vadum.records.database import open_database
from vadum.records.tables import Location, Sample, Test
from vadum.web.forms import PLACE_KINDS


@pytest.fixture(scope="module")
def shown(demo_database):
    with Session(open_database(demo_database)) as session:
        yield session


@pytest.mark.parametrize("number", WHAT, ids=[f"{one.method}-{one.of}-{number}" for number, one in WHAT.items()])
def test_a_name_is_of_the_test_it_names(shown, number):
    test, said = shown.get_one(Test, number), WHAT[number]
    of = test.sample or test.location or test.equipment
    assert (test.method, of.name, test.state) == (said.method, said.of, said.state)


def test_what_is_shown_is_of_the_kinds_that_a_form_offers(shown):
    """Another word would leave the laboratory in a transfer file as a borehole."""
    assert {place.kind for place in shown.exec(select(Location))} <= set(PLACE_KINDS)
    assert {sample.kind for sample in shown.exec(select(Sample))} <= set(KINDS)
