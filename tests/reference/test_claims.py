"""Claims against measurement: what would settle an undecided one."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.choosing.comparing import (
    MOST_READINGS,
    ClaimVerdict,
    claim_verdict,
    readings_to_settle,
)
from maple_rook.core.measurement.uncertainty import Figure

LOW, HIGH = 58.0, 62.0


def reading(mean: float, n: int, spread: float, instrument: float) -> Figure:
    """n repeats with this standard deviation, on an instrument of this standard uncertainty."""
    repeats = spread / math.sqrt(n)
    return Figure(mean, math.hypot(repeats, instrument), n, spread, repeats)


@given(st.floats(54, 66), st.integers(2, 12), st.floats(0.05, 3), st.floats(0.02, 1))
def test_so_many_more_settle_it_and_one_fewer_does_not(
    mean: float, n: int, spread: float, instrument: float
) -> None:
    """Decision rule of ISO 14253-1, U = 2 u; the readings to come repeat like those taken."""
    taken = reading(mean, n, spread, instrument)
    if claim_verdict(taken, LOW, HIGH) is not ClaimVerdict.UNDECIDED:
        return
    more = readings_to_settle(taken, LOW, HIGH)
    if more is None:
        with_most = reading(mean, n + MOST_READINGS, spread, instrument)
        reach = min(abs(mean - LOW), abs(mean - HIGH))
        assert with_most.expanded >= reach * (1 - 1e-9)
        return
    assert reading(mean, n + more, spread, instrument * (1 - 1e-9)).expanded <= (
        min(abs(mean - LOW), abs(mean - HIGH)) * (1 + 1e-6)
    )
    if more > 1:
        fewer = reading(mean, n + more - 1, spread, instrument)
        assert claim_verdict(fewer, LOW, HIGH) is ClaimVerdict.UNDECIDED


@pytest.mark.parametrize(
    ("taken", "more"),
    [
        (reading(59.0, 4, 1.0, 0.3), 3),  # U may be 1.0: s^2/n <= 0.25 - 0.09, n = 7
        (reading(59.0, 4, 1.0, 0.5), None),  # the tester alone is as far off as the limit
        (reading(58.0, 4, 1.0, 0.1), None),  # on the limit nothing settles it
        (reading(59.0, 1, 0.45, 0.3), 1),  # one reading scatters as benches do: n >= 0.2025 / 0.16
    ],
)
def test_worked_cases(taken: Figure, more: int | None) -> None:
    assert readings_to_settle(taken, LOW, HIGH) == more
