"""When a process that lives for long looks for what may be thrown away, and where it does not look."""

import gc

_YOUNG = 10_000


def keep_for_good() -> None:
    """Take all that stands now out of every later look for garbage, and look less often.

    Modules, models, routes: some 260,000 objects of ours stay as long as the process. Whoever makes many new ones, as
    a log of 200,000 rows does, had them all looked through again each time. And a page leaves a thousand objects that
    hold each other: looked for by the seven hundred, most were still in use, aged, and cost every twentieth page the
    time of two.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(_YOUNG, 10, 10)
