"""What tests are called where many are listed: places of one name in several projects, and two tests of one soil, are
told apart."""

from collections import Counter
from collections.abc import Iterable

from vadum.records.tables import Test


def told_apart(tests: Iterable[Test], *, projects: bool = False) -> dict[int, str]:
    """Return what to call the place of each test, by the test's number; of an inspection the piece that is looked at.

    The place alone where no other of them has its name, with the test's number where two are of one soil and method,
    with its project where others of that name are elsewhere. With ``projects`` all say theirs: a list that shows the
    first of years.
    """
    listed = list(tests)
    of_name: dict[str, set[int]] = {}
    for test in listed:
        if test.ground:
            of_name.setdefault(test.place, set()).add(test.ground.project_id)
    alike = Counter((test.sample_id, test.location_id, test.method) for test in listed)
    called = {}
    for test in listed:
        words = test.place or (test.equipment.name if test.equipment else "")
        if test.ground and alike[test.sample_id, test.location_id, test.method] > 1:
            words += f" (test {test.id})"
        if test.ground and (projects or len(of_name[test.place]) > 1):
            words += f", {test.ground.project.name}"
        called[test.id or 0] = words
    return called
