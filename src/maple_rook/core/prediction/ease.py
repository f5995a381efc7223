"""Cutting ease food by food, and how it goes with the edge angle; central values of one blade."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from maple_rook.core.cutting.foods import Food, food_mix_weights
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, LifeModel
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evaluate import evaluate, targets
from maple_rook.core.prediction.inputs import INDEX, input_arrays, unavailable

EASE_KEYS = ("cutting_ease", "worn_ease", "bite")
SWEPT_KEYS = (*EASE_KEYS, "months_to_stone")
ANGLES_DEG = tuple(float(a) for a in range(8, 31))


@dataclass(frozen=True)
class FoodEase:
    """Indices of one food, 100 the reference blade; ``part`` of the job, 0 to 1."""

    food: Food
    part: float
    fresh: float
    worn: float
    bite: float


def ease_by_food(blade: Blade, kitchen: Kitchen, foods: Sequence[Food]) -> list[FoodEase]:
    """The cutting ease of each food by the motion of the job, fresh and half way to the stone.

    The index of the job is the geometric mean of the foods', weighted by their parts. Empty where
    nothing is predicted.
    """
    if unavailable(blade, "cutting_ease"):
        return []
    means, _ = input_arrays([blade])
    parts = food_mix_weights(kitchen.food_mix, foods, kitchen.shares)
    found = []
    for food, part in zip(foods, parts.tolist(), strict=True):
        ease = _indices(blade, kitchen, [food], means, EASE_KEYS, PUBLISHED_LIFE)
        fresh, worn, bite = (float(ease[key][0]) for key in EASE_KEYS)
        found.append(FoodEase(food, part, fresh, worn, bite))
    return found


def by_edge_angle(
    blade: Blade, kitchen: Kitchen, foods: Sequence[Food], life: LifeModel
) -> Mapping[str, Array]:
    """Ease, bite and months to the stone over :data:`ANGLES_DEG`, per cent of those as measured.

    Only the edge angle changes; a micro-bevel stays. Empty where nothing is predicted.
    """
    if unavailable(blade, "cutting_ease") or "edge_angle" not in blade.inputs:
        return {}
    means, _ = input_arrays([blade])
    values = np.repeat(means, len(ANGLES_DEG) + 1, axis=0)
    values[1:, INDEX["edge_angle"]] = ANGLES_DEG
    found = _indices(blade, kitchen, foods, values, SWEPT_KEYS, life)
    return {key: 100 * v[1:] / v[0] for key, v in found.items() if np.isfinite(v).all()}


def _indices(
    blade: Blade,
    kitchen: Kitchen,
    foods: Sequence[Food],
    values: Array,
    keys: Sequence[str],
    life: LifeModel,
) -> dict[str, Array]:
    """Targets of one blade in n shapes, inputs (n, inputs), each (n,)."""
    blades, shapes = [blade] * len(values), values[:, :, None]
    with np.errstate(invalid="ignore"):  # what is not known is NaN and stays NaN
        out = evaluate(shapes, blades, kitchen, list(foods), [], frozenset(keys), life)[..., 0]
    places = {t.key: i for i, t in enumerate(targets(foods, ()))}
    return {key: out[:, places[key]] for key in keys}
