"""Stated uncertainties hold as often as they say, from the first reading on."""

from __future__ import annotations

import math

import pytest
from tests.drawn_benches import coverage

KNIVES = 400


def allowed(low: float, high: float) -> tuple[float, float]:
    """Bounds for the share seen among 400 where the true one lies between these: 2.6 deviations
    of a binomial share, a chance of one in a hundred for each figure at the bound itself.
    """
    return tuple(  # type: ignore[return-value]
        at + sign * 2.6 * math.sqrt(at * (1 - at) / KNIVES) for at, sign in ((low, -1), (high, 1))
    )


@pytest.mark.parametrize("n", [1, 2, 3])
def test_u_and_intervals_hold_as_often_as_they_say(n: int) -> None:
    """JCGM 100:2008: k = 2 is about 95 %; intervals are the central 90 % (JCGM 101:2008)."""
    figures, predictions = coverage(n, KNIVES)
    assert len(figures) == 15
    assert len(predictions) > 15
    for found, (low, high) in (
        (figures, allowed(0.93, 0.97)),
        (predictions, allowed(0.87, 0.93)),
    ):
        off = {key: share for key, share in found.items() if not low <= share <= high}
        assert off == {}
