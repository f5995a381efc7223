"""Desirability, ranks and fronts against their published definitions, exact results and force."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from maple_rook.core.choosing.desirability import (
    FLOOR,
    larger_is_better,
    overall,
    smaller_is_better,
    target_is_best,
)
from maple_rook.core.choosing.ranking import TIE, pareto_front, ranking

scores = st.lists(st.floats(0, 1), min_size=1, max_size=6)


@pytest.mark.parametrize(
    ("y", "s", "d"),
    [
        (100, 1, 0),
        (110, 1, 0.5),
        (110, 2, 0.25),
        (110, 0.5, math.sqrt(0.5)),
        (120, 1, 1),
        (140, 3, 1),
        (80, 1, 0),
    ],
)
def test_desirability_as_derringer_and_suich_define_it(y: float, s: float, d: float) -> None:
    """Derringer and Suich 1980, one-sided transformation (from memory)."""
    assert float(larger_is_better(y, 100, 120, s)) == pytest.approx(d)
    assert float(smaller_is_better(-y, -120, -100, s)) == pytest.approx(d)


def test_a_target_is_best_met_and_falls_off_to_both_sides() -> None:
    """Derringer and Suich 1980, two-sided transformation (from memory)."""
    found = target_is_best([10, 15, 20, 25, 40, 50], 10, 20, 40, s=2, t=0.5)
    wanted = [0, 0.25, 1, math.sqrt(0.75), 0, 0]
    assert found.tolist() == pytest.approx(wanted)


def test_the_whole_is_the_weighted_geometric_mean() -> None:
    """scipy's weighted gmean."""
    d, w = [0.9, 0.4, 0.7], [3.0, 1.0, 2.0]
    assert float(overall(d, w)) == pytest.approx(float(stats.gmean(d, weights=w)))
    assert float(overall([0.0, 1.0], [1, 1])) == pytest.approx(math.sqrt(FLOOR))


@given(scores, st.integers(0, 5), st.floats(0, 1))
def test_a_better_part_never_makes_the_whole_worse(
    parts: list[float], at: int, more: float
) -> None:
    better = list(parts)
    i = at % len(parts)
    better[i] = max(better[i], more)
    assert float(overall(better, np.ones(len(parts)))) >= float(overall(parts, np.ones(len(parts))))


@pytest.mark.parametrize(("gap", "u"), [(0.0, 1.0), (0.5, 1.0), (2.0, 0.7)])
def test_rank_probabilities_of_two_normals_are_exact(gap: float, u: float) -> None:
    """P(A > B) = Phi((a - b) / sqrt(u_a^2 + u_b^2))."""
    rng = np.random.default_rng(6)
    drawn = np.stack([rng.normal(gap, u, 200_000), rng.normal(0, 1, 200_000)])
    exact = stats.norm.cdf(gap / math.hypot(u, 1))
    found = ranking(drawn)
    assert found.first[0] == pytest.approx(exact, abs=0.004)
    assert found.ahead[0, 1] == pytest.approx(exact, abs=0.004)
    assert found.ahead[1, 0] == pytest.approx(1 - exact, abs=0.004)
    assert found.tied_with_best() == ([] if exact >= TIE else [found.order[1]])


def test_two_of_a_kind_are_a_tie() -> None:
    same = np.random.default_rng(1).normal(0, 1, 100)
    found = ranking([same, same, same - 5])
    assert found.first.tolist() == pytest.approx([0.5, 0.5, 0])
    assert found.tied_with_best() == [1]


@given(st.lists(st.lists(st.floats(0, 1), min_size=5, max_size=5), min_size=2, max_size=5))
def test_a_worse_candidate_never_changes_the_order_of_the_others(drawn: list[list[float]]) -> None:
    before = ranking(drawn)
    worst = np.min(drawn, axis=0) - 1
    after = ranking([*drawn, worst])
    assert after.order == [*before.order, len(drawn)]
    assert after.first[:-1].tolist() == pytest.approx(before.first.tolist())


@given(st.lists(st.tuples(st.integers(1, 9), st.integers(1, 9)), min_size=1, max_size=12))
def test_the_front_is_what_brute_force_finds(knives: list[tuple[int, int]]) -> None:
    price, score = np.array(knives, dtype=float).T
    wanted = [
        not any(
            p <= price[i] and s >= score[i] and (p < price[i] or s > score[i])
            for p, s in zip(price, score, strict=True)
        )
        for i in range(len(knives))
    ]
    assert pareto_front(price, score).tolist() == wanted


def test_what_has_no_price_is_on_no_front() -> None:
    assert pareto_front([np.nan, 10], [0.9, 0.1]).tolist() == [False, True]
