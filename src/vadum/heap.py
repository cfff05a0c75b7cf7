"""What a process that lives for long does with its memory: where it takes it from, when it looks for what may go."""

import atexit
import ctypes
import gc
import platform

_YOUNG = 10_000
# The C library's name for how many pools of memory it may keep.
_M_ARENA_MAX = -8


def share_memory() -> None:
    """Let all threads take memory from one pool; to be asked for before any of them takes some.

    The C library gives each of forty threads that answer requests a pool of its own, and what one of them frees no
    other can have: after 20,000 requests of eight people the server held 350 MB and grew still, of one pool 233. They
    run one at a time: none waits for the pool.
    """
    if platform.libc_ver()[0] == "glibc":
        ctypes.CDLL(None).mallopt(_M_ARENA_MAX, 1)


def look_seldom() -> None:
    """Look for garbage less often from now on, and not at all when the process ends.

    What is imported stays: looked through by the seven hundred while it was made, and whole before the process ended,
    it took a third of the time of a short command.
    """
    gc.set_threshold(_YOUNG, 10, 10)
    atexit.register(gc.freeze)


def keep_for_good() -> None:
    """Take all that stands now out of every later look for garbage, and look less often.

    Modules, models, routes: some 260,000 objects of ours stay as long as the process. Whoever makes many new ones, as
    a log of 200,000 rows does, had them all looked through again each time. And a page leaves a thousand objects that
    hold each other: looked for by the seven hundred, most were still in use, aged, and cost every twentieth page the
    time of two.
    """
    gc.collect()
    gc.freeze()
    look_seldom()
