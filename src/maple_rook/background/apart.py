"""Files from outside are opened in separate processes, which may use so much memory and time.

Whatever a workbook, a document or a picture makes the library that reads it do, the shop goes on:
a process that takes too long or too much is ended, and the file refused.
"""

from __future__ import annotations

import os
import resource
import threading
from collections.abc import Callable
from multiprocessing import get_context
from typing import ParamSpec, TypeVar

import structlog
from pebble import ProcessExpired, ProcessPool

from maple_rook.core.errors import InvalidValue
from maple_rook.http.problems import TooMany

P = ParamSpec("P")
T = TypeVar("T")
MOST_MEMORY, MOST_WRITTEN = 1_500_000_000, 1_500_000_000
"""Bytes of a process's own data, and of a file it writes."""
TASKS_EACH = 50
"""After so many files a process is followed by a fresh one."""
AGAIN_IN_S = 5
_LOADED = ["maple_rook.photo.label", "maple_rook.formats.incoming.apart"]
log = structlog.get_logger()


class Apart:
    """Opens outside files of one kind, a few at a time; who comes when many wait is told so.

    Nothing runs before the first file comes.
    """

    def __init__(self, what: str, *, at_once: int, waiting: int) -> None:
        self._what, self._at_once, self._most = what, at_once, at_once + waiting
        self._pool: ProcessPool | None = None
        self._lock, self._inside = threading.Lock(), 0

    def run(self, within_s: float, work: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
        """What the work gives, or raises; refused where it takes too long or too much.

        Parameters
        ----------
        within_s : seconds after which the process is killed.
        work : a function of a module; its arguments and result are pickled.
        """
        with self._lock:
            self.check_room()
            self._inside += 1
            pool = self._pool = self._pool or self._started()
        try:
            found: T = pool.schedule(work, list(args), kwargs, timeout=within_s).result()
        except (TimeoutError, ProcessExpired, MemoryError) as error:
            log.warning("a file from outside was given up", kind=self._what, error=repr(error))
            accepted = f"one that opens within {within_s:.0f} s and in little memory"
            raise InvalidValue(self._what, "one that takes too much", accepted) from None
        finally:
            with self._lock:
                self._inside -= 1
        return found

    def check_room(self) -> None:
        """Refuse before a file is fetched where many wait."""
        if self._inside >= self._most:
            raise TooMany(f"Other {self._what}s are being opened; try again.", AGAIN_IN_S)

    def close(self) -> None:
        with self._lock:
            pool, self._pool = self._pool, None
        if pool is not None:
            pool.stop()  # type: ignore[no-untyped-call]
            pool.join(timeout=5)

    def _started(self) -> ProcessPool:
        context = get_context("forkserver")
        context.set_forkserver_preload(_LOADED)
        return ProcessPool(
            max_workers=self._at_once,
            max_tasks=TASKS_EACH,
            initializer=_limited,
            initargs=[MOST_MEMORY, MOST_WRITTEN],
            context=context,
        )


def _limited(memory: int, written: int) -> None:
    """Limit the process that this runs in; what is waited for by a person goes before it."""
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_FSIZE, (written, written))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    os.nice(5)
