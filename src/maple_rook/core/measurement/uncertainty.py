"""Measurement uncertainty after the GUM, and its propagation by Monte Carlo.

References
----------
.. [1] JCGM 100:2008, Guide to the expression of uncertainty in measurement.
.. [2] JCGM 101:2008, Propagation of distributions using a Monte Carlo method.
.. [3] Grubbs, F. E. (1969), Procedures for detecting outlying observations in samples,
   Technometrics 11, 1; ISO 5725-2.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri, stdtrit

from maple_rook.core.measurement.figure_kind import FigureKind

Array = NDArray[np.float64]

COVERAGE_FACTOR = 2.0
INTERVAL_PERCENT = (5.0, 95.0)
LEAST_SHARE = 1e-3
"""A share of the variance below this is not shown."""
Z_90 = 1.6448536269514722
"""Half-width of a normal 90 % interval in standard deviations."""


PRIOR_FREEDOM = 3.0
"""Degrees of freedom that a bench's usual scatter is worth beside the repeats (assumption)."""


def pooled_deviation(deviation: float, n: int, repeatability: float) -> float:
    r"""Scatter of single readings from n repeats and what the bench usually scatters [1]_.

    s_p = sqrt((3 s_0^2 + (n - 1) s^2) / (n + 2)), s the standard deviation of the repeats and s_0
    the repeatability, as if it rested on three degrees of freedom. One reading scatters by s_0:
    it is never taken for a perfect one. Nil where readings state their own uncertainty, scatter
    included: what repeats show beside it is then all that counts.

    >>> pooled_deviation(0.0, 1, 0.04), pooled_deviation(0.2, 2, 0.0)
    (0.04, 0.2)
    """
    if repeatability == 0:
        return deviation
    squares = PRIOR_FREEDOM * repeatability**2 + (n - 1) * deviation**2
    return math.sqrt(squares / (PRIOR_FREEDOM + n - 1))


def type_a(deviation: float, n: int, repeatability: float) -> float:
    """Standard uncertainty of the mean of n repeats, s_p / sqrt(n): :func:`pooled_deviation` [1]_.

    >>> round(type_a(0.2, 3, 0.2), 4)
    0.1155
    """
    return pooled_deviation(deviation, n, repeatability) / math.sqrt(n)


def type_b(resolution: float, mpe: float) -> float:
    """Standard uncertainty of an instrument from resolution a and permissible error MPE [1]_.

    sqrt((a / sqrt(12))^2 + (MPE / sqrt(3))^2), in the unit of the arguments.

    >>> round(type_b(0.01, 0.03), 5)
    0.01756
    """
    return math.sqrt(resolution**2 / 12 + mpe**2 / 3)


@dataclass(frozen=True)
class Figure:
    """A quantity of a knife: mean of n readings with standard uncertainty u, in its base unit.

    ``kind`` says whether it was measured; ``reservation`` why a measured one judges nothing yet.
    """

    mean: float
    standard_uncertainty: float
    n: int = 1
    spread: float = 0.0
    type_a: float = 0.0
    kind: FigureKind = FigureKind.MEASURED
    reservation: str = ""

    @property
    def judges(self) -> bool:
        """Whether a claim or the maker may be judged by it."""
        return self.kind is FigureKind.MEASURED and not self.reservation

    @property
    def expanded(self) -> float:
        """Expanded uncertainty U = k u with k = 2."""
        return COVERAGE_FACTOR * self.standard_uncertainty

    @property
    def type_b(self) -> float:
        """The instrument's share of the standard uncertainty: all that repeats do not show."""
        return math.sqrt(max(0.0, self.standard_uncertainty**2 - self.type_a**2))


def figure(values: Sequence[float], resolution: float, mpe: float, repeatability: float) -> Figure:
    """Summarise repeats taken with one instrument: type A and type B in quadrature.

    >>> figure([2.0, 2.2], 0.01, 0.03, 0.02).mean
    2.1
    """
    array = np.asarray(values, dtype=float)
    deviation = float(array.std(ddof=1)) if array.size > 1 else 0.0
    return figure_from_statistics(
        float(array.mean()),
        array.size,
        deviation,
        float(np.ptp(array)),
        resolution,
        mpe,
        repeatability,
    )


def figure_from_statistics(
    mean: float,
    n: int,
    deviation: float,
    spread: float,
    resolution: float,
    mpe: float,
    repeatability: float,
    between_people: float = 0.0,
) -> Figure:
    """:func:`figure` from the mean, count, standard deviation and range of the repeats.

    Parameters
    ----------
    mean : of the readings.
    n : how many readings.
    deviation : their standard deviation.
    spread : their range, highest less lowest.
    resolution : smallest step of the instrument.
    mpe : its maximum permissible error.
    repeatability : standard deviation of one reading as this bench usually has it.
    between_people : standard deviation between people of this bench, which repeats do not lessen.

    >>> figure_from_statistics(2.1, 2, 0.1414, 0.2, 0.01, 0.03, 0.02).n
    2
    """
    repeats = type_a(deviation, n, repeatability)
    u = math.hypot(repeats, type_b(resolution, mpe), between_people)
    return Figure(mean, u, n, spread, repeats)


def grubbs_critical(n: int, significance: float = 0.05) -> float:
    r"""Two-sided critical value of Grubbs' statistic for n readings [3]_.

    G = (n - 1)/sqrt(n) sqrt(t^2 / (n - 2 + t^2)) with t the upper alpha/(2n) point of Student's
    distribution on n - 2 degrees of freedom. Range n >= 3.

    >>> round(grubbs_critical(5), 3)
    1.715
    """
    t = float(stdtrit(n - 2, 1 - significance / (2 * n)))
    return (n - 1) / math.sqrt(n) * math.sqrt(t**2 / (n - 2 + t**2))


def outlier(values: Sequence[float], resolution: float = 0.0) -> int | None:
    """Index of the reading Grubbs' test at 5 % calls an outlier, or None [3]_.

    A deviation of one step of the instrument is never called so: rounding alone makes it.

    >>> outlier([2.12, 2.13, 2.11, 2.12, 2.41], 0.01)
    4
    """
    array = np.asarray(values, dtype=float)
    if array.size < 3 or (deviation := float(array.std(ddof=1))) == 0:
        return None
    apart = np.abs(array - array.mean())
    worst = int(np.argmax(apart))
    beyond = apart[worst] / deviation > grubbs_critical(array.size)
    return worst if beyond and apart[worst] > resolution else None


def standard_draws(seeds: Sequence[int], inputs: int, draws: int) -> Array:
    """Standard normal draws of shape (len(seeds), inputs, draws), each input's evenly spread.

    Each knife draws from its own stream, named by its seed, so a result depends on the knife and
    not on who else is compared with it. The draws of an input are one from each of as many
    equally likely strata, in random order (Latin hypercube), which takes a quarter off the error
    of an interval's limits.
    """
    return np.stack([_stream(seed, inputs, draws) for seed in seeds])


@lru_cache(maxsize=64)
def _stream(seed: int, inputs: int, draws: int) -> Array:
    """One knife's draws; kept, since the same few knives are looked at again and again."""
    generator = np.random.Generator(np.random.SFC64(seed))
    strata = np.broadcast_to(_strata(draws), (inputs, draws))
    drawn = generator.permuted(strata, axis=1)
    drawn.flags.writeable = False
    return drawn


@lru_cache(maxsize=16)
def _strata(draws: int) -> Array:
    """The middle of each stratum of a standard normal distribution, scaled to its variance."""
    middles = ndtri((np.arange(draws) + 0.5) / draws)
    return np.asarray(middles / middles.std() if draws > 1 else middles)


def interval(values: Array) -> tuple[Array, Array]:
    """Lower and upper limit of the central 90 % of the draws, along the last axis."""
    low, high = np.percentile(values, INTERVAL_PERCENT, axis=-1)
    return low, high


def variance_shares(central: Array, up: Array, down: Array) -> Array:
    r"""Share of each output's variance that goes with each input, (n, m, inputs); they sum to 1.

    ``central`` (n, m) are the outputs at the inputs' means, ``up`` and ``down`` (n, m, inputs)
    with one input at a time a standard uncertainty higher or lower. With slope
    a = (up - down)/2 and bend b = (up + down)/2 - central an input's part of the variance is
    a^2 + 2 b^2, exact for a sum of parabolas of independent normal inputs: the uncertainty budget
    of the GUM, 5.1.3, and one term more [1]_. Parts under a thousandth of the whole are nil, and
    all are where nothing varies.

    >>> variance_shares(np.array([[0.0]]), np.array([[[3.0, 4.0]]]), np.array([[[-3.0, -4.0]]]))
    array([[[0.36, 0.64]]])
    """
    slope, bend = (up - down) / 2, (up + down) / 2 - central[..., None]
    parts = np.nan_to_num(slope**2 + 2 * bend**2)
    whole = parts.sum(axis=-1, keepdims=True)
    parts[parts < LEAST_SHARE * whole] = 0.0
    whole = parts.sum(axis=-1, keepdims=True)
    return np.asarray(np.divide(parts, whole, out=np.zeros_like(parts), where=whole > 0))
