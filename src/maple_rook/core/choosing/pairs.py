"""What several knives do together: the work each covers, and when one of two is enough.

Work is divided into parts a knife can play on the board; how well a knife plays one follows from
its shape (length, height, traced edge) and from what rules it out. Common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.choosing.candidates import Traits
from maple_rook.core.choosing.circumstances import Owned
from maple_rook.core.choosing.customer import Bone, CustomerProfile, Motion, Size
from maple_rook.core.choosing.deciding import board_fit
from maple_rook.core.choosing.ruling import ruled_by
from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.geometry.profile import ROCKS_SHARE
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.knife_types import knife_type
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.measurement.wording import listed
from maple_rook.core.prediction.blade import Blade

ENOUGH = 0.10
"""A second knife is worth having where it adds so much of the work (assumption)."""
_SINGLE_BEVELS = ("single_bevel_slicer", "deba")
"""Types that are usually ground on one side."""
STRAIGHT_SHARE = 0.70
"""An edge that chops with so much of its length is called straight (assumption)."""
DOES = 0.45
"""From here on a knife is said to do a part of the work (assumption)."""


class Part(Labelled):
    """A part of the work on the board."""

    BOARD = "board", "the daily work on the board"
    SMALL = "small", "small work"
    SLICES = "slices", "long slices"
    ROUND_BONES = "round_bones", "work round bones"
    BONES = "bones", "small bones"


PARTS = tuple(Part)


def as_part(profile: CustomerProfile, part: Part) -> CustomerProfile:
    """The customer where a knife plays this part, cutting what is cut with it."""
    size, bone, motion = {
        Part.BOARD: (Size.MAIN, Bone.NONE, profile.motion),
        Part.SMALL: (Size.SMALL, Bone.NONE, Motion.ANY),
        Part.SLICES: (Size.LONG, Bone.NONE, Motion.SLICE),
        Part.ROUND_BONES: (Size.SMALL, Bone.AROUND, Motion.ANY),
        Part.BONES: (Size.MAIN, Bone.THROUGH, Motion.ANY),
    }[part]
    food_mix = {Part.SMALL: FoodMix.SMALL, Part.SLICES: FoodMix.SLICING}.get(part)
    kitchen = profile.kitchen
    if food_mix is not None:
        kitchen = replace(kitchen, food_mix=food_mix, shares=())
    return replace(profile, size=size, bone=bone, motion=motion, kitchen=kitchen)


def part_of(profile: CustomerProfile) -> Part:
    """The part for which the customer looks for a knife."""
    if profile.bone is not Bone.NONE:
        return Part.ROUND_BONES if profile.bone is Bone.AROUND else Part.BONES
    return {Size.MAIN: Part.BOARD, Size.SMALL: Part.SMALL, Size.LONG: Part.SLICES}[profile.size]


def weights(profile: CustomerProfile) -> Array:
    """How much of the customer's work each part is, in the order of :data:`PARTS`; sums to 1."""
    slices = profile.size is Size.LONG or profile.kitchen.food_mix is FoodMix.SLICING
    found = {
        Part.BOARD: 1.0 if profile.size is Size.LONG else 3.0,
        Part.SMALL: 3.0 if profile.size is Size.SMALL else 1.0,
        Part.SLICES: 3.0 if slices else 0.7,
        Part.ROUND_BONES: 3.0 if profile.bone is Bone.AROUND else 0.0,
        Part.BONES: 3.0 if profile.bone is Bone.THROUGH else 0.0,
    }
    shares = np.array([found[part] for part in PARTS])
    return np.asarray(shares / shares.sum())


def covers(profile: CustomerProfile, of: Traits) -> Array:
    """How well each knife plays each part, 0 to 1, (n, parts); 0 where it is ruled out."""
    columns = []
    for part in PARTS:
        asked = as_part(profile, part)
        fit = np.nan_to_num(board_fit(asked, of))
        columns.append(np.where(ruled_by(asked, of).any(axis=1), 0.0, fit))
    return np.stack(columns, axis=1)


def covered_by_owned(profile: CustomerProfile) -> Array:
    """How well each knife the customer has plays each part, by its type and length alone."""
    free = replace(profile, budget=None)
    found = [covers(free, usual_traits(knife)) for knife in profile.owned]
    return np.concatenate([np.zeros((0, len(PARTS))), *found])


def usual_traits(owned: Owned) -> Traits:
    """A knife of which type and length are known: all else as is usual of the type."""
    kind = knife_type(owned.knife_type)
    blade = Blade({}, knife_type=kind.key)
    rocks, chops = blade.motion
    known = {
        "steel": 1.0,
        "hardened": 1.0,
        "hardness": 59.0,
        "toughness_60": 15.0,
        "half_angle": kind.usual("edge_angle"),
        "single_bevel": float(kind.key in _SINGLE_BEVELS),
        "reactivity": 0.0,
        "sharpens": 0.7,
        "washable": 1.0,
        "price": np.nan,
        "weight": kind.usual("weight"),
        "edge_length": owned.length_mm,
        "height": kind.usual("height_heel"),
        "spine": kind.usual("spine_heel"),
        "handle_length": kind.usual("handle_length"),
        "balance": 0.0,
        "rocks": rocks,
        "chops": chops,
        "for_bone": float(kind.for_bone),
    }
    return Traits(*(np.array([known.get(name, 0.0)]) for name in Traits._fields))


def together(profile: CustomerProfile, cover: Array) -> float:
    """Share of the work that knives (n, parts) cover together: each part by the best of them."""
    return float(weights(profile) @ cover.max(axis=0)) if len(cover) else 0.0


def added(profile: CustomerProfile, there: Array, of: Traits) -> tuple[Array, NDArray[np.int64]]:
    """What each knife (n) adds to those that are there (m, parts), and the part it adds most to.

    The part the customer looks for a knife for is left out: it has one.
    """
    base = there.max(axis=0) if len(there) else np.zeros(len(PARTS))
    gains = weights(profile) * np.clip(covers(profile, of) - base, 0, None)
    gains[:, PARTS.index(part_of(profile))] = 0.0
    return gains.sum(axis=1), gains.argmax(axis=1)


@dataclass(frozen=True)
class PairAdvice:
    """Of two knives, which to have or both; ``alone`` and ``both`` are shares of the work."""

    take: tuple[int, ...]
    alone: tuple[float, float]
    both: float
    words: str


def which_of_two(
    profile: CustomerProfile, of: Traits, names: Sequence[str], better: int
) -> PairAdvice:
    """Which of two to have, or both, beside what the customer has.

    Parameters
    ----------
    profile : the customer's.
    of : the columns of the two.
    names : what they are called.
    better : which of them suits the customer better, 0 or 1; asked where one is enough.
    """
    cover, has = covers(profile, of), covered_by_owned(profile)
    before = together(profile, has)
    one, other = (together(profile, np.concatenate([has, cover[[i]]])) for i in (0, 1))
    alone = (one, other)
    both = together(profile, np.concatenate([has, cover]))
    beside = " beside what is there" if len(has) else ""
    if both - before < ENOUGH and len(has):
        words = f"Neither: the knives that are there do the work of {names[0]} and {names[1]}."
        return PairAdvice((), alone, both, words)
    if both - max(alone) >= ENOUGH:
        does = [_does(cover, i) for i in (0, 1)]
        words = f"Both{beside}: {names[0]} for {listed(does[0])}, {names[1]} for {listed(does[1])}."
        return PairAdvice((0, 1), alone, both, words)
    lead = max(alone) - min(alone)
    first = int(np.argmax(alone)) if lead >= ENOUGH else better
    words = f"One is enough{beside}: {names[first]}. {_why_one(profile, of, cover, names, first)}"
    return PairAdvice((first,), alone, both, words)


def done_by_owned(profile: CustomerProfile) -> list[str]:
    """What each knife the customer has does already, in a sentence each."""
    cover = covered_by_owned(profile)
    told = []
    for knife, plays in zip(profile.owned, cover, strict=True):
        parts = [part.label for part, fit in zip(PARTS, plays, strict=True) if fit >= DOES]
        name = f"{knife_type(knife.knife_type).label} {knife.length_mm:g} mm"
        does = f"does {listed(parts)} already" if parts else "does none of this work"
        told.append(f"The {name} that is there {does}.")
    return told


def _does(cover: Array, i: int) -> list[str]:
    """The parts a knife plays better than the other of the two."""
    mine, other = cover[i], cover[1 - i]
    parts = [
        part.label for part, a, b in zip(PARTS, mine, other, strict=True) if a >= DOES and a > b
    ]
    return parts or [PARTS[int(np.argmax(mine - other))].label]


def _why_one(
    profile: CustomerProfile, of: Traits, cover: Array, names: Sequence[str], first: int
) -> str:
    other = names[1 - first]
    curved, straight = (of.rocks >= ROCKS_SHARE), (of.chops >= STRAIGHT_SHARE)
    differ = curved[first] != curved[1 - first] or straight[first] != straight[1 - first]
    if not cover[1 - first].any():
        return f"{other} does none of this work."
    if differ and profile.motion in (Motion.ROCK, Motion.PUSH):
        return (
            f"A curved edge and a straight one do the same work: {names[first]} has the edge "
            f"for a hand that {profile.motion.label}."
        )
    if differ:
        return (
            "A curved edge and a straight one do the same work: have the one whose motion is yours."
        )
    return f"{other} does the same work."
