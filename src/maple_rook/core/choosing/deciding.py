"""What speaks for a knife: each criterion as a desirability from 0 to 1, and all of them together.

Together they are a weighted geometric mean. Limits and weights are practice rules.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from maple_rook.core.choosing.candidates import REACTIVITIES, Traits
from maple_rook.core.choosing.circumstances import HandSize
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Grip,
    Heft,
    Motion,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.choosing.desirability import (
    larger_is_better,
    overall,
    smaller_is_better,
    target_is_best,
)
from maple_rook.core.choosing.owning import USUAL, Terms, cost_of_year
from maple_rook.core.choosing.ruling import gently_honed
from maple_rook.core.edge_life.retention import HARD_HRC, FoodMix, Kitchen
from maple_rook.core.edge_life.stability import (
    SIDE_LOAD_N_MM,
    USUAL_STROKE,
    StrokeStyle,
    borne_n_mm,
)
from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.geometry.profile import ROCKS_SHARE
from maple_rook.core.measurement.uncertainty import Array

FIGURES = ("cutting_ease", "months_to_stone", "release")
"""Predictions a decision rests on, by key; each (n,) or (n, draws)."""
_REACTS = {
    Care.WIPED: {
        Reactivity.STAINLESS: 1.0,
        Reactivity.SEMI_STAINLESS: 0.85,
        Reactivity.REACTIVE: 0.6,
    },
    Care.WET: {Reactivity.STAINLESS: 1.0, Reactivity.SEMI_STAINLESS: 0.5, Reactivity.REACTIVE: 0.1},
    Care.DISHWASHER: {
        Reactivity.STAINLESS: 0.7,
        Reactivity.SEMI_STAINLESS: 0.2,
        Reactivity.REACTIVE: 0.0,
    },
}
SPOILT_HANDLE = 0.5
"""What upkeep is worth with a handle a dishwasher spoils (practice rule)."""
_SIZES_MM = {Size.MAIN: (120, 215, 330), Size.SMALL: (50, 120, 190), Size.LONG: (180, 270, 380)}
_CHOPPING_MM, _SHORTER_MM, _BONING_MM = (90, 180, 300), (110, 185, 300), (90, 150, 220)
"""Length of a main knife that goes straight down, of one for a small hand or a learner, and of one
that goes round bones."""
_KNUCKLES_MM = {Size.MAIN: (28, 45), Size.SMALL: (5, 15), Size.LONG: (20, 34)}
"""Height at the heel that leaves the knuckles no room over the board, and enough."""
_BONING_HEIGHT_MM, _SLICING_HEIGHT_MM = (15, 36, 56), (15, 36, 64)
"""A tall blade does not turn round a bone, and drags in a long slice."""
DOUBLE_ON_FISH = 0.85
"""For long slices of fish a single bevel leaves the cleaner face (practice rule)."""
_SLIM_MM = (2.2, 3.5)
"""Spine at the heel that is slim for small work, and too stout."""
_STIFF_MM = (1.8, 3.0)
"""Spine at the heel that is too soft round bones, and stiff enough."""


def stroke_style(profile: CustomerProfile) -> StrokeStyle:
    """The stroke the edge has to bear in this profile."""
    if profile.bone is Bone.THROUGH:
        return StrokeStyle.BONE
    return (
        StrokeStyle.TWIST
        if profile.bone is Bone.AROUND
        else USUAL_STROKE[profile.kitchen.technique]
    )


_MOTIONS = {Motion.ROCK: "rock", Motion.PUSH: "push", Motion.SLICE: "draw"}
"""The habitual stroke of a hand, where it has one."""


def kitchen_of(profile: CustomerProfile) -> Kitchen:
    """The kitchen of a profile: how the hand moves there, and who hones.

    An edge is honed where there is a rod or stones to do it with.
    """
    honed = profile.tools in (Tools.ROD, Tools.STONES)
    return replace(
        profile.kitchen,
        honed=honed,
        stroke=_MOTIONS.get(profile.motion, ""),
        rods=profile.rods,
    )


def as_kept(
    profile: CustomerProfile, of: Traits, figures: Mapping[str, Array], terms: Terms = USUAL
) -> dict[str, Array]:
    """The figures with months as this customer keeps each edge.

    A rod the school keeps off a hard edge does not hone it: the factor for one never honed.
    """
    factor = np.where(gently_honed(profile, of), terms.coefficients.stone_never_honed, 1.0)
    months = np.asarray(figures["months_to_stone"], dtype=float)
    return {**figures, "months_to_stone": months * _beside(factor, months)}


def _beside(column: Array, values: Array) -> Array:
    """A column (n,) broadcast against values (n,) or (n, draws)."""
    return column.reshape(column.shape + (1,) * (values.ndim - 1))


def desirabilities(
    profile: CustomerProfile, of: Traits, figures: Mapping[str, Array], terms: Terms = USUAL
) -> Array:
    """Desirability of each knife by criterion: (n, criteria) or (n, draws, criteria).

    ``figures`` are :data:`FIGURES` for the kitchen of the profile, :func:`as_kept`. Months are
    judged by what an ordinary kitchen would make of them: a hard one is no fault of the knife.
    """
    ease, months, release = (np.asarray(figures[key], dtype=float) for key in FIGURES)
    price = _beside(of.price, ease)
    lasting = months * profile.kitchen.harshness(terms.coefficients)
    a_year = cost_of_year(price, _beside(of.height, ease), lasting, terms).total
    worth = np.log(np.maximum(a_year, 1e-9) / (ease / 100))
    parts = {
        Criterion.EASE: larger_is_better(ease, 50, 125),
        Criterion.LIFE: larger_is_better(np.log(lasting), math.log(0.4), math.log(7)),
        Criterion.RELEASE: larger_is_better(release, 0, 60),
        Criterion.ROBUSTNESS: _beside(_robust(profile, of), ease),
        Criterion.HANDLING: _beside(_handling(profile, of), ease),
        Criterion.BOARD: _beside(board_fit(profile, of), ease),
        Criterion.UPKEEP: _beside(_upkeep(profile, of), ease),
        Criterion.VALUE: np.where(
            np.isnan(price), 0.5, smaller_is_better(worth, *map(math.log, _a_year(terms)))
        ),
    }
    return np.stack([np.broadcast_to(parts[c], ease.shape) for c in CRITERIA], axis=-1)


def _a_year(terms: Terms) -> tuple[float, float]:
    """Cost of a year that is little, and that is much; without a charge, of the knife alone."""
    return (15.0, 300.0) if terms.charge else (3.0, 60.0)


def scores(profile: CustomerProfile, desirable: Array) -> Array:
    """Score of each knife, 0 to 1, at the profile's weights: (n,) or (n, draws)."""
    return overall(desirable, profile.weights)


def margin(profile: CustomerProfile, of: Traits) -> Array:
    """Side load the edge bears, rolling or chipping, over that of the profile's stroke; (n,)."""
    borne = borne_n_mm(of.hardness, of.half_angle, of.toughness_60)
    return np.asarray(borne / SIDE_LOAD_N_MM[stroke_style(profile)])


def _robust(profile: CustomerProfile, of: Traits) -> Array:
    return larger_is_better(np.log(margin(profile, of)), math.log(0.5), math.log(6))


def _handling(profile: CustomerProfile, of: Traits) -> Array:
    """Weight as it is liked, balance as it is held, and a length a learner guides easily."""
    liked = np.ones(of.weight.shape)
    if profile.heft is Heft.LIGHT:
        liked = smaller_is_better(of.weight, 140, 300)
    elif profile.heft is Heft.HEFT:
        liked = larger_is_better(of.weight, 140, 260)
    if profile.grip is Grip.PINCH:
        held = 0.6 + 0.4 * target_is_best(of.balance, -60, 15, 90)
    else:
        held = (0.6 + 0.4 * smaller_is_better(of.balance, 0, 60)) * larger_is_better(
            of.handle_length, 85, 120
        )
    liked = _or(liked, 1.0) * _or(held, 0.8) * _for_the_hand(profile, of)
    if profile.skill is Skill.LEARNER:
        liked = liked * _or(target_is_best(of.edge_length, 60, 180, 300), 1.0)
    return liked


def _for_the_hand(profile: CustomerProfile, of: Traits) -> Array:
    """Size of the hand against handle and blade, and a light knife for a hand that tires."""
    parts = []
    if profile.hand_size is HandSize.SMALL:
        parts = [
            target_is_best(of.handle_length, 70, 112, 150),
            smaller_is_better(of.height, 48, 60),
            smaller_is_better(of.edge_length, 185, 270),
        ]
    if profile.hand_size is HandSize.LARGE:
        parts = [larger_is_better(of.handle_length, 105, 130), larger_is_better(of.height, 40, 50)]
    if profile.light_counts:
        parts.append(smaller_is_better(of.weight, 150, 290))
    found = np.ones(of.weight.shape)
    for part in parts:
        found = found * (0.4 + 0.6 * _or(part, 0.8))
    return found


def _or(values: Array, otherwise: float) -> Array:
    """Where a figure is not measured it speaks neither way."""
    return np.where(np.isnan(values), otherwise, values)


def board_fit(profile: CustomerProfile, of: Traits) -> Array:
    """Length and knuckle room for the part it plays, and an edge for the motion, (n,)."""
    boning = profile.bone is Bone.AROUND
    if boning:
        sized = target_is_best(of.edge_length, *_BONING_MM)
        roomy = np.minimum(
            target_is_best(of.height, *_BONING_HEIGHT_MM), larger_is_better(of.spine, *_STIFF_MM)
        )
    else:
        chops = profile.motion is Motion.PUSH and profile.size is Size.MAIN
        smaller = profile.hand_size is HandSize.SMALL or profile.skill is Skill.LEARNER
        main = _CHOPPING_MM if chops else _SHORTER_MM if smaller else _SIZES_MM[Size.MAIN]
        sized = target_is_best(
            of.edge_length, *(main if profile.size is Size.MAIN else _SIZES_MM[profile.size])
        )
        roomy = larger_is_better(of.height, *_KNUCKLES_MM[profile.size])
        if profile.size is Size.SMALL:
            roomy = np.minimum(roomy, smaller_is_better(of.spine, *_SLIM_MM))
        if profile.size is Size.LONG and profile.motion is Motion.SLICE:
            roomy = np.minimum(roomy, target_is_best(of.height, *_SLICING_HEIGHT_MM))
            if profile.kitchen.food_mix is FoodMix.SLICING:
                sized = sized * np.where(of.single_bevel > 0, 1.0, DOUBLE_ON_FISH)
    moved = {
        Motion.PUSH: larger_is_better(of.chops, 0.2, 0.75),
        Motion.ROCK: larger_is_better(of.rocks, 0.05, ROCKS_SHARE),
        Motion.SLICE: smaller_is_better(of.chops, 0.65, 1.0),
        Motion.ANY: np.ones(of.chops.shape),
    }[profile.motion]
    if boning:
        moved = np.ones(of.chops.shape)
    return np.asarray(np.minimum(sized, roomy) * np.sqrt(moved))


def _upkeep(profile: CustomerProfile, of: Traits) -> Array:
    """What the steel asks in care and at the stones, against what it will get."""
    sharpens = of.sharpens
    if profile.tools is Tools.SERVICE:
        sharpens = np.sqrt(sharpens)
    if profile.tools is Tools.ROD:
        sharpens = sharpens * np.where(of.hardness > HARD_HRC, 0.5, 1.0)
    if profile.care is Care.DISHWASHER:
        sharpens = sharpens * np.where(of.washable > 0, 1.0, SPOILT_HANDLE)
    reacts = np.array([_REACTS[profile.care][r] for r in REACTIVITIES])
    return _or(reacts[of.reactivity.astype(int)] * sharpens, 0.4)
