"""Which is best, how sure that is, and which are tied."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from maple_rook.core.measurement.uncertainty import Array

TIE = 0.80
"""Two are called apart where one is ahead in at least this share of the draws (assumption)."""


@dataclass(frozen=True)
class Ranking:
    """Of n candidates over draws: order by median, best first; probabilities (n,) and (n, n)."""

    order: list[int]
    first: Array
    ahead: Array

    def tied_with_best(self) -> list[int]:
        """Candidates the best is not surely ahead of, in their order."""
        best, *rest = self.order
        return [i for i in rest if self.ahead[best, i] < TIE]


def ranking(scores: ArrayLike) -> Ranking:
    """Rank candidates by scores (n, draws), higher is better.

    ``first`` is each one's probability of the first place, ``ahead[i, j]`` that of i being ahead
    of j; draws that are level count half for either.

    >>> found = ranking([[3.0, 1.0], [2.0, 2.0]])
    >>> found.first.tolist(), found.ahead[0].tolist()
    ([0.5, 0.5], [0.5, 0.5])
    """
    s = np.asarray(scores, dtype=float)
    top = s == s.max(axis=0)
    first = (top / top.sum(axis=0)).mean(axis=1)
    ahead = (s[:, None] > s[None]).mean(axis=-1) + (s[:, None] == s[None]).mean(axis=-1) / 2
    median = np.median(s, axis=1)
    order = sorted(range(len(s)), key=lambda i: (-median[i], -first[i]))
    return Ranking(order, np.asarray(first), np.asarray(ahead))


def pareto_front(price: ArrayLike, score: ArrayLike) -> NDArray[np.bool_]:
    """Which candidates no other beats in both: none is cheaper and at least as good, or as cheap
    and better. A candidate without a price (NaN) is on no front.

    >>> pareto_front([10, 20, 30], [0.5, 0.4, 0.9]).tolist()
    [True, False, True]
    """
    cost, good = np.asarray(price, dtype=float), np.asarray(score, dtype=float)
    front = np.zeros(cost.shape, dtype=bool)
    known = np.flatnonzero(~np.isnan(cost) & ~np.isnan(good))
    best = -np.inf
    by_price = known[np.lexsort((-good[known], cost[known]))]
    for i in by_price:
        if good[i] > best:
            front[i] = True
            best = good[i]
    same = {(cost[i], good[i]) for i in known[front[known]]}
    for i in known:  # the twin of one on the front is on it too
        front[i] |= (cost[i], good[i]) in same
    return front
