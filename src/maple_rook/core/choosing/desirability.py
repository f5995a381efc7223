"""How desirable a figure is, from 0 to 1, and several of them together.

References
----------
.. [1] Derringer, G. and Suich, R. (1980), Simultaneous optimization of several response
   variables, Journal of Quality Technology 12, 214 (from memory).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.measurement.uncertainty import Array

FLOOR = 0.02
"""The least a criterion counts: being poor at one thing weighs heavily, and rules nothing out."""


def larger_is_better(y: ArrayLike, low: float, target: float, s: float = 1.0) -> Array:
    """((y - low) / (target - low))^s between ``low`` and ``target``; 0 below, 1 above [1]_.

    >>> larger_is_better([90, 100, 120, 130], 100, 120, 2).tolist()
    [0.0, 0.0, 1.0, 1.0]
    """
    share = (np.asarray(y, dtype=float) - low) / (target - low)
    return np.asarray(np.clip(share, 0, 1) ** s)


def smaller_is_better(y: ArrayLike, target: float, high: float, s: float = 1.0) -> Array:
    """((high - y) / (high - target))^s between ``target`` and ``high``; 1 below, 0 above [1]_.

    >>> smaller_is_better([50, 150], 100, 200).tolist()
    [1.0, 0.5]
    """
    return larger_is_better(-np.asarray(y, dtype=float), -high, -target, s)


def target_is_best(
    y: ArrayLike, low: float, target: float, high: float, s: float = 1.0, t: float = 1.0
) -> Array:
    """1 at ``target``, falling to 0 at ``low`` (exponent s) and ``high`` (exponent t) [1]_.

    Parameters
    ----------
    y : what is judged.
    low : desirability 0 here and below.
    target : desirability 1 here.
    high : desirability 0 here and above.
    s : exponent below the target.
    t : exponent above it.

    >>> target_is_best([10, 15, 20, 30], 10, 20, 40).tolist()
    [0.0, 0.5, 1.0, 0.5]
    """
    value = np.asarray(y, dtype=float)
    rising, falling = (
        larger_is_better(value, low, target, s),
        smaller_is_better(value, target, high, t),
    )
    return np.where(value <= target, rising, falling)


def overall(desirabilities: ArrayLike, weights: ArrayLike) -> Array:
    """Weighted geometric mean over the last axis, prod d_i^(w_i / sum w) [1]_.

    Each d is at least :data:`FLOOR`; weights broadcast.

    >>> round(float(overall([0.25, 1.0], [1, 1])), 3)
    0.5
    """
    d = np.maximum(np.asarray(desirabilities, dtype=float), FLOOR)
    w = np.asarray(weights, dtype=float)
    return np.asarray(np.exp((w * np.log(d)).sum(axis=-1) / w.sum(axis=-1)))
