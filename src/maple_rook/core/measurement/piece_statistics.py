"""A model's figures over its pieces: what the next piece will be, and how many more to measure.

References
----------
.. [1] ISO 16269-8, Determination of prediction intervals; any text on Student's t.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

CONFIDENCE = 0.95
MOST_PIECES = 1000


@dataclass(frozen=True)
class PieceStatistics:
    """Over n pieces: mean, standard deviation, half-widths at 95 % of mean and next piece.

    The half-widths are NaN for one piece: it says nothing of the spread.
    """

    n: int
    mean: float
    deviation: float
    mean_half_width: float
    next_half_width: float


def _t(n: int) -> float:
    return float(stdtrit(n - 1, (1 + CONFIDENCE) / 2))


def piece_statistics(values: Sequence[float]) -> PieceStatistics:
    r"""Mean x, deviation s; mean ± t s/sqrt(n), next piece ± t s sqrt(1 + 1/n) [1]_.

    >>> s = piece_statistics([186.0, 191.0, 188.0])
    >>> round(s.mean, 1), round(s.deviation, 2)
    (188.3, 2.52)
    """
    array = np.asarray(values, dtype=float)
    n = array.size
    if n < 2:
        return PieceStatistics(n, float(array.mean()), math.nan, math.nan, math.nan)
    s = float(array.std(ddof=1))
    t = _t(n)
    return PieceStatistics(
        n, float(array.mean()), s, t * s / math.sqrt(n), t * s * math.sqrt(1 + 1 / n)
    )


def pieces_needed(deviation: float, half_width: float) -> int | None:
    """Smallest n with t(n - 1) s/sqrt(n) at most the half-width wanted, or None over 1000.

    >>> pieces_needed(2.5, 2.0)
    9
    """
    if not deviation > 0:
        return None if math.isnan(deviation) else 2
    for n in range(2, MOST_PIECES + 1):
        if _t(n) * deviation / math.sqrt(n) <= half_width:
            return n
    return None
