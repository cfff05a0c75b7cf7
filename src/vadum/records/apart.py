"""What tests are called where many are listed: places of one name in several projects, and two tests of one soil, are
told apart."""

from collections import Counter
from collections.abc import Iterable

from vadum.records.tables import Test


def told_apart(tests: Iterable[Test], *, projects: bool = False) -> dict[int, str]:
    """Return what to call the place of each test, by the test's number.

    The place alone where no other of them has its name; else with its project, and with the test's number where two of
    a method would still be called alike. With ``projects`` all say their project: a list that shows the first of years.
    """
    listed = list(tests)
    of_name: dict[str, set[int]] = {}
    for test in listed:
        if test.ground:
            of_name.setdefault(test.place, set()).add(test.ground.project_id)
    called = {
        test.id or 0: f"{test.place}, {test.ground.project.name}"
        if test.ground and (projects or len(of_name[test.place]) > 1)
        else test.place
        for test in listed
    }
    alike = Counter((called[test.id or 0], test.method) for test in listed if test.ground)
    twice = (test for test in listed if alike[called[test.id or 0], test.method] > 1)
    return called | {test.id or 0: f"{called[test.id or 0]} (test {test.id})" for test in twice}
