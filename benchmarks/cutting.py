"""Building sections and cutting six foods with them, beside the same integral by hand."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from benchmarks import by_hand
from benchmarks.rows import Row
from maple_rook.core.cutting.force import FOODS, STROKES, peak_forces_n
from maple_rook.core.geometry.section import section
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Array

BLADES = 10_000
GROWTH = (100, 1_000, 10_000, 100_000)
_BULGE, _RADIUS = -0.3, 1.0
ROUNDS = 15


def _blades(n: int) -> tuple[Array, ...]:
    rng = np.random.default_rng(8)
    return (
        rng.uniform(1.8, 3.5, n),
        rng.uniform(38, 52, n),
        rng.uniform(0.12, 0.5, n),
        rng.uniform(10, 20, n),
        rng.uniform(0.3, 0.7, n),
    )


def _core(grind: Grind, blades: tuple[Array, ...]) -> Array:
    bulge = _BULGE if grind is Grind.DEEP_CONCAVE else None
    made = section(grind, *blades, bulge=bulge)
    return peak_forces_n(made, list(FOODS.values()), list(STROKES.values()), _RADIUS)


def _hand(grind: Grind, blades: tuple[Array, ...]) -> Array:
    if grind is Grind.DEEP_CONCAVE:
        return by_hand.hollow_forces(*blades, _BULGE, _RADIUS)
    return by_hand.forces(*blades, np.asarray(_RADIUS))[0]


def _in_turn_s(grind: Grind, n: int) -> tuple[float, float]:
    """Median seconds of core and hand, taken in turn."""
    blades = _blades(n)
    core, hand = _core(grind, blades).reshape(18, n), _hand(grind, blades)
    assert np.allclose(core, hand, rtol=1e-9), "both must compute the same forces"
    taken: tuple[list[float], list[float]] = ([], [])
    for _ in range(ROUNDS):
        for kept, work in zip(taken, (_core, _hand), strict=True):
            started = time.perf_counter()
            work(grind, blades)
            kept.append(time.perf_counter() - started)
    return float(np.median(taken[0])), float(np.median(taken[1]))


def rows() -> Iterator[Row]:
    for grind, name in ((Grind.FULL_FLAT, "flat"), (Grind.DEEP_CONCAVE, "hollow")):
        core, hand = _in_turn_s(grind, BLADES)
        figure = f"{BLADES:,} {name} blades, six foods, three strokes, by hand 1 (at most 1.5)"
        yield Row(figure, 1000 * core, "ms", core / hand)
    for n in GROWTH:
        each = _in_turn_s(Grind.FULL_FLAT, n)[0] / n
        yield Row(f"  time a blade, {n:,} flat blades at once", 1e6 * each, "µs")
