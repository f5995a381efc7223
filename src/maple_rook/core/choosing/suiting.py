"""What a knife is for and whom it does not suit, in a sentence each; common practice."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.choosing.ruling import CARRIED_MM, THIN_DEG, WEAK_WRIST_G
from maple_rook.core.cutting.foods import FOOD_MIX_SHARES, Food, food_mix_weights
from maple_rook.core.cutting.force import ONE_HAND_LIMIT_N
from maple_rook.core.edge_life.retention import HARD_HRC, FoodMix, Kitchen
from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.geometry.profile import Rocking
from maple_rook.core.measurement.knife_types import KNIFE_TYPES

ROOTS_SHARE = 0.15
"""From here on a root is a fair part of what is cut (assumption)."""
FINE_DEG, STOUT_DEG = 12.5, 17.0
"""Half the angle at the apex, degrees: a fine edge up to the one, a stout one from the other."""


def what_for(knife: Candidate) -> str:
    """What it is for, from type, motion and edge.

    A knife of a type that is not known is told of as a gyuto.
    """
    blade = knife.blade
    kind = blade.kind or KNIFE_TYPES["gyuto"]
    curve = "the edge" if blade.traced is not None else "its type usually"
    return f"For {kind.work}: {curve} {Rocking.of(blade.motion[0]).label}{_edge(knife)}."


def _edge(knife: Candidate) -> str:
    half = _half_angle(knife)
    if half is None:
        return ""
    if half <= FINE_DEG:
        return ", and it is ground fine, for clean cuts in soft food"
    if half >= STOUT_DEG:
        return ", and it is ground stout, for rough work"
    return ", and it is ground for daily work"


def _half_angle(knife: Candidate) -> float | None:
    """Half the inclusive angle at the apex, degrees."""
    found = knife.blade.input_figure(knife.blade.apex_key)
    return None if found is None else found.mean / (2 if knife.blade.single_bevel else 1)


def not_for(knife: Candidate) -> str:
    """Whom or what it does not suit; empty where nothing speaks against it."""
    blade, figures = knife.blade, knife.blade.figures
    hardness, weight, length = (figures.get(k) for k in ("hardness", "weight", "edge_length"))
    stainless = blade.steel is not None and blade.steel.reactivity is Reactivity.STAINLESS
    hard = hardness is not None and hardness.mean >= HARD_HRC
    half = _half_angle(knife)
    against = []
    if blade.single_bevel:
        against += [
            f"the {'right' if blade.left_handed else 'left'} hand",
            "anybody without stones",
        ]
    if not stainless:
        against.append("a dishwasher or a wet sink")
    if hard:
        against.append("twisting, scraping and rocking")
    if not blade.for_bone and (hard or (half is not None and half < THIN_DEG)):
        against.append("bones and frozen food")
    if weight is not None and weight.mean > WEAK_WRIST_G:
        against.append("a wrist that tires")
    if length is not None and length.mean > CARRIED_MM:
        against.append("a small board")
    return f"Not for {'; '.join(against)}." if against else ""


def roots_of(kitchen: Kitchen, foods: Sequence[Food]) -> list[Food]:
    """Those of the roots' food mix that are a fair part of what a kitchen cuts."""
    cut = food_mix_weights(kitchen.food_mix, foods, kitchen.shares)
    roots = FOOD_MIX_SHARES[FoodMix.ROOTS]
    return [
        food
        for food, share in zip(foods, cut, strict=True)
        if food.key in roots and share >= ROOTS_SHARE
    ]


def hard_food(forces: Mapping[str, float]) -> str:
    """What is said where a root asks for more than one hand presses; ``forces`` in N by food.

    >>> hard_food({"carrot": 60.0, "swede": 142.0})
    'Swede takes 142 N, more than one hand gives: halve it, rock, or both hands on the spine.'
    """
    over = {food: n for food, n in forces.items() if n > ONE_HAND_LIMIT_N}
    if not over:
        return ""
    food = max(over, key=lambda key: over[key])
    return (
        f"{food.capitalize()} takes {over[food]:.0f} N, more than one hand gives: "
        "halve it, rock, or both hands on the spine."
    )
