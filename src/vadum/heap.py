"""What a process holds until its end is not looked through again and again for what may be thrown away."""

import gc


def keep_for_good() -> None:
    """Take all that stands now out of every later look for garbage.

    Modules, models, routes: some hundred thousand objects of ours stay as long as the process. Whoever makes many new
    ones, as a log of 200,000 rows does, had them all looked through again each time.
    """
    gc.collect()
    gc.freeze()
