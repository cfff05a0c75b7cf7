"""Where a server takes its memory from."""

import platform
import subprocess
import sys

import pytest

# Each of eight threads takes some memory while all others have theirs; the C library then says how many pools it keeps.
POOLS = """
import ctypes, sys, threading
from vadum.heap import share_memory

if sys.argv[1] == "shared":
    share_memory()
together = threading.Barrier(8)

def takes():
    held = ctypes.CDLL(None).malloc(100_000)
    together.wait()

threads = [threading.Thread(target=takes) for _ in range(8)]
for thread in threads:
    thread.start()
for thread in threads:
    thread.join()
libc = ctypes.CDLL(None)
libc.fdopen.restype = ctypes.c_void_p
out = libc.fdopen(1, b"w")
libc.malloc_info(0, ctypes.c_void_p(out))
libc.fflush(ctypes.c_void_p(out))
"""


def pools(how: str) -> int:
    told = subprocess.run([sys.executable, "-c", POOLS, how], capture_output=True, text=True, check=True, timeout=60)
    return told.stdout.count("<heap nr=")


@pytest.mark.skipif(platform.libc_ver()[0] != "glibc", reason="another C library has other pools")
def test_threads_of_a_server_share_their_memory():
    assert pools("shared") == 1 < pools("as it comes")
