"""The posterior of 5,000 trials and 10,000 edge-life curves, beside plain numpy and scipy."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.linalg import cho_factor, cho_solve

from benchmarks.rows import Row
from benchmarks.timing import in_turn_ms
from maple_rook.core.edge_life.calibration import CLASSES, leave_one_out, prior, update
from maple_rook.core.edge_life.course import edge_life
from maple_rook.core.measurement.uncertainty import Array

TRIALS, CURVES = 5_000, 10_000
DAYS = np.arange(0, 180.0, 2.0)


def _regression(k: Array, y: Array, w: Array, variance: float) -> tuple[Array, Array]:
    """Mean and scaled covariance of the conjugate regression, its design matrix written out."""
    x = np.zeros((y.size, 1 + len(CLASSES)))
    x[:, 0] = x[np.arange(y.size), 1 + k] = 1
    precision = x.T @ (w[:, None] * x) + np.eye(x.shape[1]) / variance
    factor = cho_factor(precision)
    return cho_solve(factor, x.T @ (w * y)), cho_solve(factor, np.eye(x.shape[1]))


def _saw_tooth(rod: Array, stone: Array) -> Array:
    """The same course written straight down, a rod and a stone when due."""
    since_stone = np.mod(DAYS, stone[:, None])
    rods = np.floor(since_stone / rod[:, None])
    start = 0.15 * 0.25 / (1 - 0.15 * 0.5) * (1 - 0.075**rods)
    rolled = 0.5 - (0.5 - start) * 0.5 ** (since_stone / rod[:, None] - rods)
    return np.asarray(100 * (1 - 0.5 * np.sqrt(since_stone / stone[:, None])) * (1 - rolled))


def rows() -> Iterator[Row]:
    rng = np.random.default_rng(4)
    k, y = rng.integers(0, len(CLASSES), TRIALS), rng.normal(0.1, 0.12, TRIALS)
    w = rng.uniform(0.2, 1.0, TRIALS)
    before = prior(0.12, 0.25)
    variance = float(before.covariance[0, 0])
    rod, stone = rng.uniform(1, 12, CURVES), rng.uniform(30, 150, CURVES)
    assert np.allclose(update(before, k, y, w).mean, _regression(k, y, w, variance)[0])
    assert np.allclose(edge_life(DAYS, rod, stone).sharpness, _saw_tooth(rod, stone))
    core, scipy, left, curves, plain = in_turn_ms(
        lambda: update(before, k, y, w),
        lambda: _regression(k, y, w, variance),
        lambda: leave_one_out(before, k, y, w),
        lambda: edge_life(DAYS, rod, stone),
        lambda: _saw_tooth(rod, stone),
    )
    yield Row(
        f"Posterior after {TRIALS:,} trials, numpy and scipy written out 1",
        core,
        "ms",
        core / scipy,
    )
    yield Row("  with each left out in turn", left, "ms", left / scipy)
    yield Row(
        f"{CURVES:,} edge-life curves of {DAYS.size} days, plain numpy 1",
        curves,
        "ms",
        curves / plain,
    )
