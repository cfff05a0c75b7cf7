"""How long the last `make test` took, and its slowest twenty tests."""

import sys
import xml.etree.ElementTree as Tree
from pathlib import Path

from verdict import Verdicts

# Written by `make test`.
SUITE = Path(".stamp-suite.xml")
MOST_S, LISTED = 600, 20


def main() -> int:
    verdicts = Verdicts("the suite as `make test` ran it last")
    if not SUITE.exists():
        print(f"  not run here yet ({SUITE}): make test")
        return 0
    suites = list(Tree.parse(SUITE).getroot().iter("testsuite"))
    verdicts.told("the suite", sum(float(suite.get("time", 0)) for suite in suites), MOST_S, "s")
    tests = [(float(test.get("time", 0)), test) for suite in suites for test in suite.iter("testcase")]
    for seconds, test in sorted(tests, key=lambda one: -one[0])[:LISTED]:
        print(f"  {seconds:7.1f} s  {test.get('classname', '').removeprefix('tests.')} {test.get('name')}")
    return verdicts.status


if __name__ == "__main__":
    sys.exit(main())
