"""How long the last `make test` took, and its slowest twenty tests."""

import sys
import xml.etree.ElementTree as Tree
from pathlib import Path

from verdict import Verdicts

# Written by `make test`: what runs side by side, and what watches a clock and runs alone.
PARTS = (Path(".stamp-suite.xml"), Path(".stamp-clocked.xml"))
MOST_S, LISTED = 600, 20


def main() -> int:
    verdicts = Verdicts("the suite as `make test` ran it last")
    if missing := [str(path) for path in PARTS if not path.exists()]:
        print(f"  not run here yet ({', '.join(missing)}): make test")
        return 0
    suites = [suite for path in PARTS for suite in Tree.parse(path).getroot().iter("testsuite")]
    verdicts.told("the suite", sum(float(suite.get("time", 0)) for suite in suites), MOST_S, "s")
    tests = [(float(test.get("time", 0)), test) for suite in suites for test in suite.iter("testcase")]
    for seconds, test in sorted(tests, key=lambda one: -one[0])[:LISTED]:
        print(f"  {seconds:7.1f} s  {test.get('classname', '').removeprefix('tests.')} {test.get('name')}")
    return verdicts.status


if __name__ == "__main__":
    sys.exit(main())
