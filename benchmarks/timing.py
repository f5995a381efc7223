"""Medians of repeated work, in ms."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

ROUNDS = 25


def median_ms(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    work()
    times = []
    for _ in range(rounds):
        started = time.perf_counter()
        work()
        times.append(time.perf_counter() - started)
    return 1000 * statistics.median(times)


def in_turn_ms(*works: Callable[[], object], rounds: int = ROUNDS) -> list[float]:
    """Median of each, run in turn so that the machine's moods hit all alike.

    A work that returns a number has timed itself, in ms.
    """
    times: list[list[float]] = [[] for _ in works]
    for number in range(rounds + 2):
        for work, kept in zip(works, times, strict=True):
            started = time.perf_counter()
            said = work()
            took = 1000 * (time.perf_counter() - started)
            if number >= 2:  # the first two warm up
                kept.append(said if isinstance(said, float) else took)
    return [statistics.median(kept) for kept in times]
