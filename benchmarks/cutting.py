"""Building sections and cutting six foods with them, beside the same integral by hand."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from benchmarks import by_hand
from benchmarks.rows import Row
from maple_rook.core.cutting.foods import FOODS, STROKES
from maple_rook.core.cutting.force import forces_n
from maple_rook.core.geometry.section import section
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Array

BLADES = 10_000
GROWTH = (100, 1_000, 10_000)
_BULGE, _RADIUS = -0.3, 1.0
ROUNDS = 9
EDGE_MM = 210.0


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
    made = section(grind, *(b[:, None] for b in blades), bulge=bulge)
    edge = np.full(len(blades[0]), EDGE_MM)
    radii = (np.asarray(_RADIUS), np.asarray(3 * _RADIUS))  # fresh and worn, as by hand
    return forces_n(made, list(FOODS.values()), list(STROKES.values()), radii, edge)[0].through


def _hand(blades: tuple[Array, ...]) -> Array:
    wide = [b[:, None] for b in blades]
    radius, edge = np.full_like(wide[0], _RADIUS), np.full_like(wide[0], EDGE_MM)
    return by_hand.forces(*wide, radius, edge)[0]


def _in_turn_s(n: int) -> tuple[float, float, float]:
    """Median seconds of flat blades, hollow ones, and flat ones by hand, taken in turn."""
    blades = _blades(n)
    core, hand = _core(Grind.FULL_FLAT, blades), _hand(blades)
    assert np.allclose(core, hand, rtol=1e-9), "both must compute the same forces"
    works = (
        lambda: _core(Grind.FULL_FLAT, blades),
        lambda: _core(Grind.DEEP_CONCAVE, blades),
        lambda: _hand(blades),
    )
    taken: tuple[list[float], ...] = ([], [], [])
    for _ in range(ROUNDS):
        for kept, work in zip(taken, works, strict=True):
            started = time.perf_counter()
            work()
            kept.append(time.perf_counter() - started)
    flat, hollow, by_it = (float(np.median(times)) for times in taken)
    return flat, hollow, by_it


def rows() -> Iterator[Row]:
    flat, hollow, hand = _in_turn_s(BLADES)
    figure = f"{BLADES:,} flat blades, six foods, four strokes, by hand 1 (at most 1.6)"
    yield Row(figure, 1000 * flat, "ms", flat / hand)
    yield Row("  as many hollow ones, to the flat by hand", 1000 * hollow, "ms", hollow / hand)
    for n in GROWTH:
        each = _in_turn_s(n)[0] / n
        yield Row(f"  time a blade, {n:,} flat blades at once", 1e6 * each, "µs")
