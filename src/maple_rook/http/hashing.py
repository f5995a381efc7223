"""Passwords are hashed in threads of their own, two at a time, with nothing of the database held.

Each hash takes 64 MB and tens of milliseconds by design. A crowd that signs in at once waits in a
short line; who finds it full is told so at once.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

from anyio import CapacityLimiter, to_thread

from maple_rook.http.problems import TooMany

T = TypeVar("T")
AT_ONCE, MOST_WAITING, AGAIN_IN_S = 2, 16, 2


class HashingLine:
    """The line in front of the hashing; each process has one, on its event loop."""

    def __init__(self) -> None:
        self._limiter = CapacityLimiter(AT_ONCE)
        self._inside = 0

    @contextmanager
    def place(self) -> Iterator[None]:
        """A place in the line, before anything else is done; refused where there is none."""
        if self._inside >= AT_ONCE + MOST_WAITING:
            raise TooMany(
                "Too many people are signing in at once; try again in a moment.", AGAIN_IN_S
            )
        self._inside += 1
        try:
            yield
        finally:
            self._inside -= 1

    async def run(self, work: Callable[[], T]) -> T:
        """Hash, in turn; the caller has a :meth:`place`."""
        return await to_thread.run_sync(work, limiter=self._limiter)
