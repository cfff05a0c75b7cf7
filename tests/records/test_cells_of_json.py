"""What lies in the record as JSON is read as it was written."""

from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from vadum.records.tables import Test

NUMBERS = st.integers(-(10**18), 10**18) | st.floats(allow_nan=False)
# A text may hold half a pair of surrogates: a browser cuts a long one in the middle of a sign.
CELLS = st.none() | st.booleans() | NUMBERS | st.text(st.characters(exclude_categories=()))
ROWS = st.lists(st.dictionaries(st.text(), CELLS, max_size=3), max_size=3)


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None, max_examples=60)
@example({"remarks": "cut off \ud83d"})
@example({"head_mm": 5e-324, "level_m": 0.1 + 0.2, "blows": 2**53 + 1})
@given(st.dictionaries(st.text(), CELLS | ROWS, max_size=4))
def test_readings_come_back_to_the_last_digit(session, readings):
    test = Test(method="water-content", sample_id=1, kept=readings)
    session.add(test)
    session.commit()
    session.expire_all()
    assert session.get(Test, test.id).kept == readings
