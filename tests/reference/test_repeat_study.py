"""Variance parts of a repeat study, and a bench's own scatter."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.repeat_study import Scatter, pooled, variance_parts

# Two people, three pieces, three readings, mm; invented.
STUDY = np.array(
    [
        [[2.21, 2.23, 2.22], [1.98, 2.01, 1.99], [2.35, 2.33, 2.37]],
        [[2.25, 2.24, 2.27], [2.02, 2.00, 2.03], [2.36, 2.40, 2.38]],
    ]
)


def test_the_repeats_are_the_residual_of_the_cells() -> None:
    """ISO 5725-2: repeatability is pooled within cells; against scipy's one-way analysis."""
    found = variance_parts(STUDY)
    cells = STUDY.reshape(6, 3)
    assert found.freedom == 12
    assert found.repeatability == pytest.approx(np.sqrt(cells.var(axis=1, ddof=1).mean()))
    between = 3 * cells.mean(axis=1).var(ddof=1)
    assert stats.f_oneway(*cells).statistic == pytest.approx(between / found.repeatability**2)


def test_mean_squares_by_hand() -> None:
    """Two-factor random effects, Montgomery's expected mean squares (from memory).

    Means of people 2.18778 and 2.21667, of pieces 2.23667, 2.005 and 2.365; sums of squares
    0.0037556 for people, 0.3994778 for pieces, 0.0000778 for both, 0.0032 for repeats. Both
    together vary less than repeats do, so people differ by their own part alone.
    """
    found = variance_parts(STUDY)
    ms_people, ms_pieces, ms_both = 0.0037556, 0.3994778 / 2, 0.0000778 / 2
    assert found.repeatability == pytest.approx(np.sqrt(0.0032 / 12))
    assert found.between_people == pytest.approx(np.sqrt((ms_people - ms_both) / 9), rel=1e-3)
    assert found.between_pieces == pytest.approx(np.sqrt((ms_pieces - ms_both) / 6), rel=1e-3)
    assert sum(found.shares.values()) == pytest.approx(1)
    assert found.shares["between_pieces"] > 0.9


def test_studies_of_a_known_bench_find_it_on_average() -> None:
    """Drawn from the model it assumes: people 0.05, both 0.03, pieces 0.2, repeats 0.04."""
    chance = np.random.default_rng(4)
    found = []
    for _ in range(400):
        people = chance.normal(0, 0.05, (3, 1, 1))
        both = chance.normal(0, 0.03, (3, 5, 1))
        pieces = chance.normal(0, 0.2, (1, 5, 1))
        found.append(variance_parts(people + both + pieces + chance.normal(0, 0.04, (3, 5, 3))))
    squares = np.mean(
        [(f.repeatability**2, f.between_people**2, f.between_pieces**2) for f in found], axis=0
    )
    # a part that would come out negative is nil, which lifts small parts a little
    assert np.sqrt(squares) == pytest.approx([0.04, np.hypot(0.05, 0.03), 0.2], rel=0.06)


@pytest.mark.parametrize("shape", [(1, 3, 3), (2, 1, 3), (2, 3, 1), (2, 3)])
def test_a_study_that_is_too_small_is_refused(shape: tuple[int, ...]) -> None:
    with pytest.raises(InvalidValue, match="2 people, 2 pieces, 2 readings"):
        variance_parts(np.zeros(shape))


def test_a_bench_pools_its_repeats_by_degrees_of_freedom() -> None:
    """ISO 5725-2: s^2 = sum (n - 1) s^2 / sum (n - 1); single readings say nothing."""
    found = pooled([(3, 0.1), (2, 0.2), (1, 0.0)])
    assert found.freedom == 3
    assert found.deviation == pytest.approx(np.sqrt((2 * 0.01 + 0.04) / 3))
    assert pooled([]) == Scatter(0.0, 0)


@given(st.floats(0.001, 5), st.integers(0, 200), st.floats(0.001, 5))
def test_what_counts_lies_between_the_usual_and_the_benchs_own(
    own: float, freedom: int, usual: float
) -> None:
    counts = Scatter(own, freedom).with_usual(usual)
    assert min(own, usual) - 1e-9 <= counts <= max(own, usual) + 1e-9
    assert Scatter(own, 10_000).with_usual(usual) == pytest.approx(
        np.sqrt((own**2 * 10_000 + 3 * usual**2) / 10_003)
    )
