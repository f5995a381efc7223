"""What sharpenings do to a blade over the years, and how much one removes by the log.

References
----------
.. [1] Gelman et al., Bayesian Data Analysis: normal data with known variance, conjugate normal
   prior (from memory).

The first rate, its spread and the limits are assumptions.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.optimize import brentq

from maple_rook.core.measurement.uncertainty import Z_90, Figure
from maple_rook.core.upkeep.reprofile import Faces

LOWERED_MM = Figure(0.05, 0.025)
"""The edge rises by so much at each sharpening, before the log says anything (assumption)."""
BETWEEN_KNIVES_MM, BETWEEN_SHARPENINGS_MM = 0.015, 0.02
"""How much the rate differs from knife to knife, and from one sharpening to the next."""
LEAST_MM = 0.005
THICKER_MM = 0.10
"""Thinning is due once it stands so much thicker behind the edge: what a cook notices."""
PROUD_MM = 0.30
"""A full bolster is filed once it stands so far below the edge line: a gap the board shows."""
WORN_SHARE = 0.20
"""A blade is worn out once it has lost so much of its height when new."""
MOST_SHARPENINGS = 10_000


@dataclass(frozen=True)
class Lowered:
    """Height lost over some sharpenings, mm with its uncertainty."""

    sharpenings: int
    lost_mm: Figure


@dataclass(frozen=True)
class Limits:
    """When thinning, filing and the end are due: mm thicker, mm proud, share of the height."""

    thicker_mm: float = THICKER_MM
    proud_mm: float = PROUD_MM
    worn_share: float = WORN_SHARE


def wear_rate(of_others: Sequence[Sequence[Lowered]], own: Sequence[Lowered] = ()) -> Figure:
    r"""Height a sharpening takes of this knife, mm: the shop's other knives, then its own log [1]_.

    A knife's log says y = (lost)/k with variance u^2/k^2 + s^2/k over k sharpenings; for the shop
    the spread between knives is added. m = (m0/v0 + sum y/v) / (1/v0 + sum 1/v).

    >>> rate = wear_rate([], [Lowered(10, Figure(0.9, 0.05))])
    >>> round(rate.mean, 3), rate.standard_uncertainty < 0.01
    (0.087, True)
    """
    between = BETWEEN_KNIVES_MM**2
    per_knife = [_pooled(log) for log in of_others if log]
    shop = _updated(LOWERED_MM, [(y, v + between) for y, v in per_knife])
    if not own:
        spread = math.hypot(shop.standard_uncertainty, BETWEEN_KNIVES_MM) if per_knife else None
        return shop if spread is None else Figure(shop.mean, spread)
    prior = Figure(shop.mean, math.hypot(shop.standard_uncertainty, BETWEEN_KNIVES_MM))
    return _updated(prior, [_pooled(own)])


def _pooled(log: Sequence[Lowered]) -> tuple[float, float]:
    """Mean height lost a sharpening of one knife, and its variance."""
    weights, sums = 0.0, 0.0
    for row in log:
        k = row.sharpenings
        variance = (row.lost_mm.standard_uncertainty / k) ** 2 + BETWEEN_SHARPENINGS_MM**2 / k
        weights, sums = weights + 1 / variance, sums + row.lost_mm.mean / k / variance
    return sums / weights, 1 / weights


def _updated(prior: Figure, seen: Sequence[tuple[float, float]]) -> Figure:
    precision = prior.standard_uncertainty**-2
    total = precision + sum(1 / v for _, v in seen)
    mean = (prior.mean * precision + sum(y / v for y, v in seen)) / total
    return Figure(max(mean, LEAST_MM), total**-0.5)


@dataclass(frozen=True)
class Count:
    """Sharpenings until something is due: likely, and 90 % limits; at most what is countable."""

    central: float
    low: float
    high: float


def sharpenings(room_mm: float, rate: Figure) -> Count:
    """How many sharpenings a height lasts, room / rate; the rate's scatter taken as log-normal.

    >>> count = sharpenings(1.0, Figure(0.05, 0.0))
    >>> (count.central, count.low, count.high)
    (20.0, 20.0, 20.0)
    """
    central = min(max(room_mm, 0.0) / rate.mean, MOST_SHARPENINGS)
    relative = rate.standard_uncertainty / rate.mean
    wide = math.exp(Z_90 * math.sqrt(math.log1p(relative**2)))
    return Count(central, central / wide, min(central * wide, MOST_SHARPENINGS))


def height_until_mm(faces: Faces, behind_edge_mm: float) -> float | None:
    """How far the edge may rise until the blade is so thick behind it, mm; None if it never is.

    Follows the faces as they are, so a hollow thickens late and then fast.
    """
    top = float(min(faces.right[-1, 1], faces.left[-1, 1])) - faces.apex[1]

    def short(lift: float) -> float:
        return faces.thickness_mm(lift) - behind_edge_mm

    if short(0.0) >= 0:
        return 0.0
    if short(top) < 0:
        return None
    return float(brentq(short, 0.0, top, xtol=1e-6))


@dataclass(frozen=True)
class LifeCounts:
    """Sharpenings until thinning, until the bolster is filed, until the end; None: never due."""

    thinning: Count | None
    bolster: Count | None
    end: Count


def life_counts(
    faces: Faces,
    rate: Figure,
    limits: Limits,
    *,
    thickened_mm: float,
    height_now_mm: float,
    height_new_mm: float,
    lowered_since_filed_mm: float,
    full_bolster: bool,
    single_bevel: bool,
) -> LifeCounts:
    """What is due after how many sharpenings.

    A single bevel has no thinning: its whole face is what is sharpened.

    Parameters
    ----------
    faces : both faces as they stand.
    rate : height a sharpening takes, mm.
    limits : the shop's, for thinning, filing and the end of life.
    thickened_mm : how much thicker than new it stands behind the edge already, mm.
    height_now_mm : height at the heel now, mm.
    height_new_mm : the same when new, mm.
    lowered_since_filed_mm : height the edge lost since the bolster was filed, mm.
    full_bolster : whether a bolster reaches the edge.
    single_bevel : whether one face only is ground.
    """
    room = None
    if not single_bevel:
        left = max(limits.thicker_mm - thickened_mm, 0.0)
        room = height_until_mm(faces, faces.behind_edge_mm + left)
    end_room = height_now_mm - height_new_mm * (1 - limits.worn_share)
    end = sharpenings(end_room, rate)
    thinning = None if room is None or room > max(end_room, 0) else sharpenings(room, rate)
    bolster = sharpenings(limits.proud_mm - lowered_since_filed_mm, rate) if full_bolster else None
    return LifeCounts(thinning, bolster, end)
