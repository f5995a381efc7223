"""Memory that many threads are done with does not stay in a heap of each of them."""

from __future__ import annotations

import subprocess
import sys

import pytest

EIGHT_THREADS = """
import ctypes, tempfile, threading
{first}
together = threading.Barrier(8)
def work():
    together.wait()
    bytes(1_000) * 90
    together.wait()
threads = [threading.Thread(target=work) for _ in range(8)]
for thread in threads: thread.start()
for thread in threads: thread.join()
libc = ctypes.CDLL(None)
libc.fopen.restype = ctypes.c_void_p
libc.malloc_info.argtypes = [ctypes.c_int, ctypes.c_void_p]
libc.fclose.argtypes = [ctypes.c_void_p]
with tempfile.NamedTemporaryFile() as told:
    file = libc.fopen(told.name.encode(), b"w")
    libc.malloc_info(0, file)
    libc.fclose(file)
    print(told.read().count(b"<heap nr"))
"""
LIMITED = "from maple_rook.allocator import limit_heaps; limit_heaps()"


def heaps(first: str, **environment: str) -> int:
    command = [sys.executable, "-c", EIGHT_THREADS.format(first=first)]
    path = {"PYTHONPATH": "src", "PATH": ""}
    done = subprocess.run(
        command, env={**path, **environment}, capture_output=True, text=True, check=True
    )
    return int(done.stdout)


@pytest.mark.skipif(sys.platform != "linux", reason="heaps of threads are glibc's")
def test_eight_threads_share_two_heaps() -> None:
    assert heaps("") > 2
    assert heaps(LIMITED) <= 2


def test_what_the_environment_says_stands() -> None:
    assert heaps(LIMITED, MALLOC_ARENA_MAX="4") in (3, 4)
