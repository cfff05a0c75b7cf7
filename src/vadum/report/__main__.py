"""``python -m vadum.report DATABASE REPORT``: makes a report that is on record."""

import os
import signal
import sys
from pathlib import Path

from vadum.heap import look_seldom


def main() -> None:
    look_seldom()
    from vadum.report.job import run

    if hasattr(os, "nice"):
        os.nice(5)  # the worksheets come first
    # Told to end, it takes with it what it has gathered in a folder.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(128 + signal.SIGTERM))
    run(Path(sys.argv[1]), int(sys.argv[2]))


if __name__ == "__main__":
    main()
