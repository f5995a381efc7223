"""Differences between knives, and claims against measurement.

References
----------
.. [1] ISO 14253-1, decision rules for verifying conformity or nonconformity.
.. [2] JCGM 100:2008 (uncertainty of a difference).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.thresholds import Threshold
from maple_rook.core.measurement.uncertainty import COVERAGE_FACTOR, Figure


class Verdict(Labelled):
    NOTICEABLE = "noticeable"
    REAL = "real"
    NOT_MEASURABLE = "not_measurable"


def difference_uncertainty(a: Figure, b: Figure) -> float:
    """Expanded uncertainty of a difference, U_D = 2 sqrt(u_a^2 + u_b^2) [2]_.

    >>> difference_uncertainty(Figure(1.0, 0.3), Figure(2.0, 0.4))
    1.0
    """
    return COVERAGE_FACTOR * float(np.hypot(a.standard_uncertainty, b.standard_uncertainty))


def pair_verdict(a: Figure, b: Figure, threshold: Threshold | None) -> Verdict:
    """Judge two figures: real if |D| > U_D, and noticeable past the threshold.

    >>> pair_verdict(Figure(60.0, 0.9), Figure(61.0, 0.9), Threshold(1))
    <Verdict.NOT_MEASURABLE: 'not_measurable'>
    """
    gap = abs(a.mean - b.mean)
    if gap <= difference_uncertainty(a, b):
        return Verdict.NOT_MEASURABLE
    noticed = threshold is not None and gap >= noticeable_amount(a, b, threshold)
    return Verdict.NOTICEABLE if noticed else Verdict.REAL


def pair_verdicts(
    figures: Sequence[Figure | None], threshold: Threshold | None
) -> list[Verdict | None]:
    """Every pair of figures judged: first with second, third and so on, then second with third.

    None where either is missing.
    """
    return [
        None if a is None or b is None else pair_verdict(a, b, threshold)
        for i, a in enumerate(figures)
        for b in figures[i + 1 :]
    ]


def gravest(pairs: Sequence[Verdict | None]) -> Verdict:
    """The verdict of the pair that differs most.

    >>> gravest([None, Verdict.NOT_MEASURABLE, Verdict.REAL]).value
    'real'
    """
    return min(filter(None, pairs), key=list(Verdict).index, default=Verdict.NOT_MEASURABLE)


def noticeable_amount(a: Figure, b: Figure, threshold: Threshold) -> float:
    """The threshold in the quantity's unit; a relative one is of the smaller figure."""
    base = min(abs(a.mean), abs(b.mean)) if threshold.relative else 1.0
    return threshold.amount * base


def noticeable_gap(figures: Sequence[Figure], threshold: Threshold | None) -> float:
    """The widest gap between figures, in times what is noticeable; 1 where nothing says what is.

    >>> noticeable_gap([Figure(60.0, 0.4), Figure(63.0, 0.4)], Threshold(1))
    3.0
    """
    if len(figures) < 2:
        return 0.0
    low, high = (pick(figures, key=lambda f: f.mean) for pick in (min, max))
    gap = high.mean - low.mean
    amount = noticeable_amount(low, high, threshold) if threshold else abs(gap)
    return gap / amount if amount else 0.0


def percent_difference(value: float, base: float) -> float:
    """Difference in per cent of ``base``, the figure one compares with.

    >>> round(percent_difference(9, 16))
    -44
    """
    return 100 * (value - base) / base


class ClaimVerdict(Labelled):
    CONFIRMED = "confirmed"
    CONTRADICTED = "contradicted"
    UNDECIDED = "undecided", "undecided, measure more"
    NOT_MEASURED = "not_measured"


def claim_verdict(measured: Figure | None, low: float, high: float) -> ClaimVerdict:
    """Decide a claimed band [low, high] by ISO 14253-1 with expanded uncertainty U [1]_.

    Confirmed if low + U <= m <= high - U; contradicted if m < low - U or m > high + U. What is
    estimated, or measured with a reservation, leaves it undecided.

    >>> claim_verdict(Figure(57.0, 0.5), 60, 64)
    <ClaimVerdict.CONTRADICTED: 'contradicted'>
    """
    if measured is None:
        return ClaimVerdict.NOT_MEASURED
    if not measured.judges:
        return ClaimVerdict.UNDECIDED
    m, expanded = measured.mean, measured.expanded
    if low + expanded <= m <= high - expanded:
        return ClaimVerdict.CONFIRMED
    if m < low - expanded or m > high + expanded:
        return ClaimVerdict.CONTRADICTED
    return ClaimVerdict.UNDECIDED


MOST_READINGS = 200


def readings_to_settle(measured: Figure, low: float, high: float) -> int | None:
    r"""How many more readings like those taken would settle an undecided claim.

    The mean is taken to stay: it is settled once U = 2 sqrt(u_B^2 + s^2 / n) is no more than the
    distance from the mean to the nearest limit of the band, s as pooled. None where the instrument
    alone, U = 2 u_B, is further off, or over :data:`MOST_READINGS` would be needed.

    >>> readings_to_settle(Figure(59.0, 0.6, 2, 0.7, 0.5), 58.0, 61.0)
    2
    """
    m, instrument = measured.mean, measured.type_b
    reach = min(abs(m - low), abs(high - m))
    spread = measured.type_a * measured.n**0.5
    room = (reach / COVERAGE_FACTOR) ** 2 - instrument**2
    if room <= 0:
        return None
    needed = int(np.ceil(spread**2 / room - 1e-9))
    more = max(needed - measured.n, 1)
    return more if more <= MOST_READINGS else None
