"""How long a sheet took: the time between entries, without the breaks."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

BREAK_S = 180.0
"""A longer gap between two entries is a break, not work (practice rule)."""


def worked_seconds(times_s: Sequence[float]) -> float:
    """Seconds worked, from the times of start and entries; gaps over :data:`BREAK_S` are left out.

    >>> worked_seconds([0.0, 20.0, 50.0, 4000.0, 4010.0])
    60.0
    """
    ordered = sorted(times_s)
    gaps = (b - a for a, b in itertools.pairwise(ordered))
    return sum(gap for gap in gaps if gap <= BREAK_S)
