"""A blank that is said to be assumed is: typed as it is assumed, the same comes out."""

import re

import pytest

from tests.contract.slips import clean_under_every_school
from vadum.soil.contract.places import declaring
from vadum.soil.registry import METHODS

SAID = re.compile(r"(\d+(?:\.\d+)?) ?(?:°C |% |mm )?assumed|begin at (\d+) mm")
ASSUMED = [
    (code, one, float(found[1] or found[2]))
    for code, method in METHODS.items()
    for one in declaring(method.Readings, "absent")
    if (found := SAID.search(str(one.extra["absent"])))
]


def with_all(readings, one, value):
    """Return readings with one of them typed so wherever it stands, left blank for None."""

    def typed(holder):
        rest = {key: held for key, held in holder.items() if key != one.name}
        return rest if value is None else rest | {one.name: value}

    if not one.table:
        return typed(readings)
    return readings | {one.table: [typed(row) for row in readings.get(one.table, [])]}


def test_there_are_such_readings():
    assert len(ASSUMED) > 8


@pytest.mark.parametrize(("code", "one", "value"), ASSUMED, ids=[f"{code}-{one.name}" for code, one, _ in ASSUMED])
def test_what_is_said_to_be_assumed_is(code, one, value):
    method = METHODS[code]
    for settings, clean in clean_under_every_school(method, (21,)):
        if one.shown_in(settings):
            blank, typed = (method.reduce_raw(with_all(clean, one, v), settings) for v in (None, value))
            both = {p.key for p in blank.parameters} & {p.key for p in typed.parameters}
            for key in both:
                assert blank.parameter(key).text == typed.parameter(key).text, (key, settings)
