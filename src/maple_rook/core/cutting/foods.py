"""Foods on the board, motions of the knife, and the jobs that name both.

References
----------
.. [1] Toughness of carrot and of cheese after published tests, from memory; the other values are
   orders of magnitude, fitted to what hands report (assumptions).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.measurement.uncertainty import Array

FOOD_SCATTER = 0.4
"""Standard deviation in ln of how an assumed food resists, the same for all knives (assumption)."""
THROUGH = 1.0
"""Stiffness of one side over the other where the cut goes through the middle."""


@dataclass(frozen=True)
class Food:
    """A food and how it resists [1]_.

    Parameters
    ----------
    key, label : its code and its name.
    toughness_j_m2 : fracture toughness R.
    blunting_um : edge radius r_f that doubles the parting force.
    modulus_mpa : stiffness E of the food crushed beside the edge.
    crush_mpa : pressure s_c at which it gives.
    crush_mm : height lam over which that pressure fades.
    stiffness_n_mm3 : side pressure k per mm of thickness.
    friction : mu, on the faces.
    adhesion_kpa : shear tau with which it sticks to the faces.
    height_mm, width_mm : as it lies on the board.
    slice_stiffness : stiffness s of a slice that falls away, over that of the block.
    spread : standard deviation in ln of how it resists, the same for all knives.
    knives_tried : how many knives' cut trials its values rest on; none where they are assumed.
    """

    key: str
    label: str
    toughness_j_m2: float
    blunting_um: float
    modulus_mpa: float
    crush_mpa: float
    crush_mm: float
    stiffness_n_mm3: float
    friction: float
    adhesion_kpa: float
    height_mm: float
    width_mm: float
    slice_stiffness: float
    spread: float = FOOD_SCATTER
    knives_tried: int = 0

    def resisting(self, toughness: float, stiffness: float, adhesion: float) -> Food:
        """The food with R, k and tau so many times its own."""
        return replace(
            self,
            toughness_j_m2=toughness * self.toughness_j_m2,
            stiffness_n_mm3=stiffness * self.stiffness_n_mm3,
            adhesion_kpa=adhesion * self.adhesion_kpa,
        )


FOODS: dict[str, Food] = {
    food.key: food
    for food in (
        Food("tomato", "tomato", 40, 1, 0.30, 0.25, 0.5, 0.002, 0.15, 0.2, 50, 60, 0.1),
        Food("onion", "half onion", 180, 6, 0.8, 0.6, 0.8, 0.006, 0.20, 0.3, 35, 65, 0.15),
        Food("carrot", "carrot", 350, 12, 2.0, 1.2, 1.0, 0.06, 0.25, 0.5, 28, 28, 0.2),
        Food(
            "squash",
            *("quarter squash or swede", 500, 12, 1.6, 1.0, 1.2, 0.035, 0.30, 0.8, 45, 60, 0.3),
        ),
        Food("fish", "boneless fish", 100, 3, 0.04, 0.05, 2.0, 0.0015, 0.20, 0.6, 35, 60, 0.05),
        Food("cheese", "firm cheese", 20, 10, 0.25, 0.15, 1.5, 0.006, 0.30, 4.0, 40, 60, 0.4),
    )
}


def completed(stored: Mapping[str, Any]) -> Food:
    """A food as it was stored, perhaps by a release that knew fewer of its values.

    What is not there is that of the shipped food of its key, or of the one that presses the sides
    most alike.
    """
    like = FOODS.get(stored["key"]) or min(
        FOODS.values(), key=lambda f: abs(f.stiffness_n_mm3 - stored["stiffness_n_mm3"])
    )
    return Food(**{**asdict(like), **stored})


CUT_SHARES = (0.2, 0.5, 0.8)
"""Where along the edge a cut is taken, as shares of its length from the heel."""
LONGEST_RATIO = 6.0
USED_OF_THE_EDGE = 0.9
"""Share of the edge that a long draw uses (assumption)."""


@dataclass(frozen=True)
class Stroke:
    """A motion of the knife: horizontal over downward speed xi, and where along the edge it cuts.

    ``ratio`` None is one long draw, as long as the edge allows. ``weights`` are of
    :data:`CUT_SHARES`. In ``slices`` the slice falls away; else the cut goes through the
    middle. A draw lets the spine follow into the food, a pressed blade cuts tall food in passes.
    Work ``in_hand`` goes no deeper than the bite, and a long or tall blade is in its way.
    """

    key: str
    label: str
    ratio: float | None
    weights: tuple[float, float, float]
    slices: bool = False
    in_hand: bool = False

    def slice_push_ratio(self, food: Food, edge_mm: ArrayLike) -> Array:
        """xi of this stroke: its own, or (0.9 L - w) / H of a long draw, from 0 to 6.

        >>> float(STROKES["draw"].slice_push_ratio(FOODS["fish"], 270.0))
        5.228571428571429
        """
        edge = np.asarray(edge_mm, dtype=float)
        if self.ratio is not None:
            return np.full_like(edge, self.ratio)
        drawn = (USED_OF_THE_EDGE * edge - food.width_mm) / food.height_mm
        return np.asarray(np.clip(drawn, 0, LONGEST_RATIO))

    def side_stiffness(self, food: Food) -> float:
        """s of the food in this stroke."""
        return food.slice_stiffness if self.slices else THROUGH

    @property
    def in_passes(self) -> bool:
        """Whether food taller than the blade takes more than one pass."""
        return self.ratio is not None and not self.in_hand


STROKES: dict[str, Stroke] = {
    s.key: s
    for s in (
        Stroke("push", "straight push", 0.0, (0.3, 0.5, 0.2)),
        Stroke("rock", "rocking", 0.5, (0.2, 0.4, 0.4)),
        Stroke("glide", "gliding push", 1.0, (0.3, 0.5, 0.2)),
        Stroke("draw", "long draw, thin slices", None, (1 / 3, 1 / 3, 1 / 3), slices=True),
    )
}
IN_HAND = Stroke("hand", "small work in the hand", 0.0, (0.1, 0.3, 0.6), in_hand=True)
"""Trimming, peeling, pitting: with the front half of the edge, guided by the thumb."""
FOOD_MIX_SHARES: dict[FoodMix, dict[str, float]] = {
    FoodMix.ALL_ROUND: {},
    FoodMix.VEGETABLES: {"onion": 4, "carrot": 3, "tomato": 2, "squash": 1},
    FoodMix.ROOTS: {"carrot": 5, "squash": 5},
    FoodMix.SLICING: {"fish": 6, "tomato": 2, "cheese": 2},
    FoodMix.SMALL: {"onion": 4, "carrot": 3, "tomato": 3},
}
"""Parts of each food in a food mix; every food alike where none is named (assumption)."""
_MOTIONS = {FoodMix.SLICING: STROKES["draw"], FoodMix.SMALL: IN_HAND}
"""The motion of a food mix, where it is not a straight push."""


def stroke_of(food_mix: FoodMix, own: str = "") -> Stroke:
    """How a food mix is cut: by the hand's ``own`` motion, where it has one.

    Else it is pushed through, or cut in thin slices by a long draw. Small work is always in the
    hand.

    >>> stroke_of(FoodMix.ROOTS).key, stroke_of(FoodMix.SLICING).key, stroke_of(FoodMix.SMALL).key
    ('push', 'draw', 'hand')
    >>> stroke_of(FoodMix.ROOTS, "rock").key
    'rock'
    """
    if own and food_mix is not FoodMix.SMALL:
        return STROKES[own]
    return _MOTIONS.get(food_mix, STROKES["push"])


def food_mix_weights(
    food_mix: FoodMix, foods: Sequence[Food], shares: Sequence[tuple[str, float]] = ()
) -> Array:
    """Weights of these foods in a food mix, adding up to 1; alike where the mix knows none of them.

    ``shares`` by key of the food, where there are any, take the place of the mix's own.

    >>> [round(float(w), 2) for w in food_mix_weights(FoodMix.ROOTS, list(FOODS.values()))]
    [0.0, 0.0, 0.5, 0.5, 0.0, 0.0]
    """
    parts = dict(shares) or FOOD_MIX_SHARES[food_mix]
    found = np.array([parts.get(food.key, 0.0) for food in foods])
    if found.sum() == 0:
        found = np.ones(len(foods))
    return np.asarray(found / found.sum())
