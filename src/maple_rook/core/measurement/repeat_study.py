"""How much a bench scatters: from the repeats in its record, and from a repeat study.

References
----------
.. [1] ISO 5725-2, repeatability and reproducibility of a standard measurement method.
.. [2] Montgomery, D. C., Design and Analysis of Experiments: two-factor random-effects analysis of
   variance and its expected mean squares (from memory).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.uncertainty import PRIOR_FREEDOM, Array

LEAST_PEOPLE, LEAST_PIECES, LEAST_READINGS = 2, 2, 2
TELLING_FREEDOM = 10
"""Degrees of freedom from which a shop's own repeats are worth adopting (assumption)."""


@dataclass(frozen=True)
class Scatter:
    """Standard deviation of single readings on so many degrees of freedom."""

    deviation: float
    freedom: int

    def with_usual(self, repeatability: float) -> float:
        """s_0 of a bench: its own scatter, with what benches usually have as 3 degrees of freedom.

        >>> round(Scatter(0.06, 27).with_usual(0.04), 4)
        0.0583
        """
        squares = PRIOR_FREEDOM * repeatability**2 + self.freedom * self.deviation**2
        return math.sqrt(squares / (PRIOR_FREEDOM + self.freedom))


def pooled(groups: Iterable[tuple[int, float]]) -> Scatter:
    r"""Scatter within groups of repeats, each of n readings with standard deviation s [1]_.

    s^2 = sum (n - 1) s^2 / sum (n - 1). Groups of one reading say nothing.

    >>> pooled([(3, 0.1), (2, 0.2)])
    Scatter(deviation=0.1414..., freedom=3)
    """
    squares, freedom = 0.0, 0
    for n, deviation in groups:
        squares += (n - 1) * deviation**2
        freedom += n - 1
    return Scatter(math.sqrt(squares / freedom) if freedom else 0.0, freedom)


@dataclass(frozen=True)
class VarianceParts:
    """Standard deviations that a repeat study finds, in the unit of its readings.

    ``repeatability`` is one person's on one piece; ``between_people`` what people differ by, on all
    pieces alike or by the piece; ``between_pieces`` what the pieces themselves differ by.
    """

    repeatability: float
    between_people: float
    between_pieces: float
    freedom: int

    @property
    def shares(self) -> dict[str, float]:
        """Each part's share of the total variance, 0 to 1."""
        squares = {
            name: getattr(self, name) ** 2
            for name in ("repeatability", "between_people", "between_pieces")
        }
        total = sum(squares.values())
        return {name: square / total if total else 0.0 for name, square in squares.items()}


def variance_parts(readings: Array) -> VarianceParts:
    r"""Variance parts of a repeat study by analysis of variance, readings (people, pieces, n) [2]_.

    Two random factors with interaction. With mean squares MS of people (P), pieces (K), both (PK)
    and repeats (E): sigma_E^2 = MS_E, sigma_PK^2 = (MS_PK - MS_E)/n,
    sigma_P^2 = (MS_P - MS_PK)/(k n), sigma_K^2 = (MS_K - MS_PK)/(p n); a part that comes out
    negative is nil. ``between_people`` is people and interaction together.

    >>> alike = np.array([[[1.0, 1.2], [2.0, 2.2]], [[1.0, 1.2], [2.0, 2.2]]])
    >>> round(variance_parts(alike).repeatability, 4), variance_parts(alike).between_people
    (0.1414, 0.0)
    """
    x = np.asarray(readings, dtype=float)
    if x.ndim != 3 or any(
        size < least
        for size, least in zip(x.shape, (LEAST_PEOPLE, LEAST_PIECES, LEAST_READINGS), strict=True)
    ):
        raise InvalidValue(
            "repeat study", "x".join(map(str, x.shape)), "2 people, 2 pieces, 2 readings or more"
        )
    people, pieces, n = x.shape
    cells, of_people, of_pieces, all_of_it = x.mean(2), x.mean((1, 2)), x.mean((0, 2)), x.mean()
    both = cells - of_people[:, None] - of_pieces[None, :] + all_of_it
    ms_people = pieces * n * ((of_people - all_of_it) ** 2).sum() / (people - 1)
    ms_pieces = people * n * ((of_pieces - all_of_it) ** 2).sum() / (pieces - 1)
    ms_both = n * (both**2).sum() / ((people - 1) * (pieces - 1))
    freedom = people * pieces * (n - 1)
    ms_repeats = ((x - cells[:, :, None]) ** 2).sum() / freedom
    interaction = max(0.0, (ms_both - ms_repeats) / n)
    alone = max(0.0, (ms_people - ms_both) / (pieces * n))
    return VarianceParts(
        math.sqrt(ms_repeats),
        math.sqrt(alone + interaction),
        math.sqrt(max(0.0, (ms_pieces - ms_both) / (people * n))),
        freedom,
    )
