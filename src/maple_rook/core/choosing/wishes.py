"""The knife a customer needs, in figures: what to look for where nothing on the shelf suits.

Ranges are common practice, and follow the rules by which knives are ruled out and judged.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from maple_rook.core.choosing.candidates import REACTIVITIES, Traits
from maple_rook.core.choosing.circumstances import HandSize, Storage, Trouble, Wrist
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Hand,
    Heft,
    Motion,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.choosing.ruling import CARRIED_MM, WEAK_WRIST_G, Bools, ruled_by
from maple_rook.core.edge_life.retention import HARD_HRC, Technique
from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.geometry.profile import ROCKS_SHARE

Range = tuple[float | None, float | None]
_STAINLESS = REACTIVITIES.index(Reactivity.STAINLESS)
_LENGTHS_MM = {Size.MAIN: (170.0, 240.0), Size.SMALL: (80.0, 150.0), Size.LONG: (240.0, 300.0)}


@dataclass(frozen=True)
class Specification:
    """Ranges by quantity (mm, g, degrees per side, HRC; None: open), and the rest in words.

    ``stainless`` where nothing else will do; ``straight`` a long straight edge, ``rocks`` a curved
    one that rocks, ``double`` an edge ground on both sides.
    """

    ranges: dict[str, Range]
    stainless: bool
    straight: bool
    rocks: bool
    double: bool

    @property
    def words(self) -> list[str]:
        asked = {
            "stainless steel": self.stainless,
            "a long straight edge": self.straight,
            "a curved edge that rocks": self.rocks,
            "ground on both sides": self.double,
        }
        return [words for words, wanted in asked.items() if wanted]


def specification(profile: CustomerProfile) -> Specification:
    """What would suit this customer."""
    ranges: dict[str, Range] = {
        "edge_length": _length(profile),
        "hardness": _hardness(profile),
        "edge_angle": _angle(profile),
    }
    if (weight := _weight(profile)) != (None, None):
        ranges["weight"] = weight
    if profile.size is Size.MAIN and profile.bone is Bone.NONE:
        ranges["height_heel"] = (40.0, 50.0 if profile.hand_size is HandSize.SMALL else None)
    if profile.budget is not None:
        ranges["price"] = (None, profile.budget)
    wet = profile.care is Care.DISHWASHER or Trouble.RUSTED in profile.troubles
    return Specification(
        ranges,
        stainless=wet or (profile.care is Care.WET),
        straight=profile.motion is Motion.PUSH and profile.bone is Bone.NONE,
        rocks=profile.motion is Motion.ROCK and profile.bone is Bone.NONE,
        double=profile.hand is not Hand.RIGHT or profile.tools in (Tools.ROD, Tools.NOTHING),
    )


def _length(profile: CustomerProfile) -> Range:
    if profile.bone is Bone.AROUND:
        return (130.0, 170.0)
    low, high = _LENGTHS_MM[profile.size]
    shorter = profile.skill is Skill.LEARNER or profile.hand_size is HandSize.SMALL
    if profile.size is Size.MAIN and (shorter or profile.motion is Motion.PUSH):
        low, high = 150.0, 210.0
    if profile.storage is Storage.ROLL:
        high = min(high, CARRIED_MM)
    return (low, high)


def _weight(profile: CustomerProfile) -> Range:
    if profile.bone is Bone.THROUGH:
        return (400.0, None)
    if profile.wrist is Wrist.WEAK:
        return (None, 180.0)
    if profile.light_counts or profile.heft is Heft.LIGHT:
        return (None, 200.0)
    return (200.0, WEAK_WRIST_G) if profile.heft is Heft.HEFT else (None, None)


def _hardness(profile: CustomerProfile) -> Range:
    rough = (
        profile.kitchen.technique is Technique.ROUGH
        or profile.motion is Motion.ROCK
        or profile.bone is not Bone.NONE
        or Trouble.CHIPPED in profile.troubles
    )
    if rough:
        return (55.0, HARD_HRC - 1)
    return (60.0, None) if profile.school is School.STEEL else (56.0, None)


def _angle(profile: CustomerProfile) -> Range:
    if profile.bone is Bone.THROUGH:
        return (20.0, 28.0)
    if profile.bone is Bone.AROUND or profile.kitchen.technique is Technique.ROUGH:
        return (14.0, 20.0)
    return (9.0, 16.0)


def meets(profile: CustomerProfile, wanted: Specification, of: Traits) -> Bools:
    """Which knives answer a wish: none of the customer's stops, and within every range, (n,)."""
    columns = {
        "edge_length": of.edge_length,
        "hardness": of.hardness,
        "edge_angle": of.half_angle,
        "weight": of.weight,
        "height_heel": of.height,
        "price": of.price,
    }
    found = ~ruled_by(profile, of).any(axis=1)
    for key, (low, high) in wanted.ranges.items():
        values = columns[key]
        found &= ~np.isnan(values)
        found &= (values >= (-np.inf if low is None else low)) & (
            values <= (np.inf if high is None else high)
        )
    if wanted.stainless:
        found &= of.reactivity == _STAINLESS
    if wanted.straight:
        found &= of.chops >= 0.55
    if wanted.rocks:
        found &= of.rocks >= ROCKS_SHARE
    if wanted.double:
        found &= of.single_bevel == 0
    return np.asarray(found)
