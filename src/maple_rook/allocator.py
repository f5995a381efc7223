"""How the C library keeps memory that a server of many threads is done with.

glibc gives each thread a heap of its own, up to eight for each core, and large blocks go to them
too once one was freed: after a busy hour four fifths of the server's memory were free space inside
sixteen heaps, and it grew on. With two heaps, and large blocks mapped and unmapped alone, it stays.
"""

from __future__ import annotations

import ctypes
import os

_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_ARENA_MAX = -1, -3, -8
_LIMITS = {
    "MALLOC_ARENA_MAX": (_M_ARENA_MAX, 2),
    "MALLOC_MMAP_THRESHOLD_": (_M_MMAP_THRESHOLD, 128 * 1024),
    "MALLOC_TRIM_THRESHOLD_": (_M_TRIM_THRESHOLD, 256 * 1024),
}


def limit_heaps() -> None:
    """Keep few heaps and give freed memory back; to be called before threads are started.

    What the environment sets for the allocator stands. Another C library is left alone.

    References
    ----------
    .. [1] mallopt(3), Linux man-pages.
    """
    libc = ctypes.CDLL(None)
    if not hasattr(libc, "gnu_get_libc_version"):
        return
    for variable, (parameter, value) in _LIMITS.items():
        if variable not in os.environ:
            libc.mallopt(parameter, value)
