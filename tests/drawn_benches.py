"""Benches drawn at random, and how often what they state holds.

``python -m tests.drawn_benches KNIVES`` prints the table of ``docs/coverage.md``.
"""

from __future__ import annotations

import math
import sys

import numpy as np

from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.hardness_session import CERTIFICATE_MPE_HRC, corrected
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Array, Figure, figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evaluate import OTHERS
from maple_rook.core.prediction.predict import drawn, predict_arrays

KNIFE = {
    "weight": 186.0,
    "edge_length": 210.0,
    "overall_length": 355.0,
    "handle_length": 130.0,
    "spine_heel": 2.2,
    "spine_mid": 1.9,
    "spine_tip": 0.8,
    "height_heel": 46.0,
    "height_mid": 40.0,
    "height_front": 28.0,
    "thickness_behind_edge": 0.30,
    "edge_angle": 15.0,
    "asymmetry": 50.0,
    "hardness": 60.0,
    "balance_point": 10.0,
}
BLOCK_HRC = 62.0
CERTIFICATE_U_HRC = CERTIFICATE_MPE_HRC / math.sqrt(3)
DRAWS = 600

Coverage = dict[str, float]


def measured(knife: dict[str, float], n: int, chance: np.random.Generator) -> dict[str, Figure]:
    """A knife's figures from n readings of each quantity at a bench of its own.

    The instruments are off by what their permissible errors allow as standard uncertainty, and the
    bench scatters within a fifth of what is usual.
    """
    figures = {}
    for key, true in knife.items():
        q = QUANTITIES[key]
        off = chance.normal(0, q.mpe / math.sqrt(3))
        scatter = q.repeatability * math.exp(chance.normal(0, 0.2))

        def read(value: float, q=q, off=off, scatter=scatter) -> Figure:  # type: ignore[no-untyped-def]
            readings = value + off + chance.normal(0, scatter, n)
            steps = np.round(readings / q.resolution) * q.resolution
            return figure(steps.tolist(), q.resolution, q.mpe, q.repeatability)

        figures[key] = read(true)
        if key == "hardness":
            block = read(BLOCK_HRC + chance.normal(0, CERTIFICATE_U_HRC))
            figures[key] = corrected(figures[key], block, BLOCK_HRC, CERTIFICATE_U_HRC)
    return figures


def coverage(n: int, knives: int) -> tuple[Coverage, Coverage]:
    """Share of the knives whose true value lies within U, by quantity, and within the 90 %
    interval, by prediction; n readings of everything.

    True predictions are drawn from the models themselves, with all that they leave open.
    """
    chance = np.random.default_rng([n, knives])
    steps = {key: max(QUANTITIES[key].resolution, 0.01) for key in KNIFE}
    true = [
        {key: value + steps[key] * chance.uniform(-1, 1) for key, value in KNIFE.items()}
        for _ in range(knives)
    ]
    benches = [measured(knife, n, chance) for knife in true]
    within = {
        key: float(
            np.mean(
                [
                    abs(bench[key].mean - knife[key]) <= bench[key].expanded
                    for knife, bench in zip(true, benches, strict=True)
                ]
            )
        )
        for key in KNIFE
    }
    found = predict_arrays(
        [_blade(bench, i) for i, bench in enumerate(benches)],
        draws=DRAWS,
        shares=False,
        strokes=(),
    )
    exact = [{key: Figure(value, 1e-9) for key, value in knife.items()} for knife in true]
    happened = drawn(
        [_blade(figures, knives + i) for i, figures in enumerate(exact)],
        Kitchen(),
        foods=tuple(FOODS.values()),
        draws=knives,
        only=OTHERS,
    )
    at = np.arange(knives)
    of_predictions = {}
    for j, target in enumerate(found.targets):
        if target.key not in happened:
            continue
        truth: Array = happened[target.key][at, at]
        if not np.isnan(truth).any():
            low, high = found.low[:, j], found.high[:, j]
            of_predictions[target.key] = float(np.mean((low <= truth) & (truth <= high)))
    return within, of_predictions


def _blade(figures: dict[str, Figure], seed: int) -> Blade:
    return Blade(figures, steel=STEELS["1.4116"], nominal_mm=210.0, seed=1 + seed)


def _table(title: str, columns: list[Coverage]) -> str:
    lines = [f"| {title} | 1 reading | 2 readings | 3 readings |", "| --- | --- | --- | --- |"]
    for key in columns[0]:
        shares = " | ".join(f"{100 * column[key]:.1f} %" for column in columns)
        lines.append(f"| {key.replace('_', ' ')} | {shares} |")
    return "\n".join(lines)


if __name__ == "__main__":
    found = [coverage(n, int(sys.argv[1])) for n in (1, 2, 3)]
    print(_table("figure, within U", [figures for figures, _ in found]))
    print()
    print(_table("prediction, within its 90 % interval", [of for _, of in found]))
