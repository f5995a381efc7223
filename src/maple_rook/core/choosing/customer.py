"""What a customer does with a knife and to it; nothing about the person is kept beyond a label.

Answers are closed lists. Weights of the criteria and what another answer changes of them are
practice rules.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from maple_rook.core.choosing.circumstances import (
    EFFECTS,
    Buyer,
    Effect,
    HandSize,
    Hours,
    Owned,
    Storage,
    Trouble,
    Wrist,
)
from maple_rook.core.choosing.criteria import CRITERIA, WEIGHTS, Criterion
from maple_rook.core.edge_life.retention import Kitchen, RodSchool, Technique, Use
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.uncertainty import Array


class Size(Labelled):
    """The role of the knife."""

    MAIN = "main", "the main knife"
    SMALL = "small", "small work"
    LONG = "long", "long slices"


class Motion(Labelled):
    ROCK = "rock", "rocks"
    PUSH = "push", "pushes and chops"
    SLICE = "slice", "long slices"
    ANY = "any", "a bit of each"


class Hand(Labelled):
    RIGHT = "right"
    LEFT = "left"
    BOTH = "both", "shared by both"


class Grip(Labelled):
    PINCH = "pinch", "pinches the blade"
    HANDLE = "handle", "holds the handle"


class Bone(Labelled):
    NONE = "none", "no bone"
    AROUND = "around", "round bones, through joints"
    THROUGH = "through", "through small bones"


class Care(Labelled):
    WIPED = "wiped", "washed and dried at once"
    WET = "wet", "sometimes left wet"
    DISHWASHER = "dishwasher"


class Tools(Labelled):
    NOTHING = "nothing"
    ROD = "rod", "a rod"
    STONES = "stones"
    SERVICE = "service", "brought to the shop"


class Skill(Labelled):
    LEARNER = "learning"
    STEADY = "steady"
    TRAINED = "trained"


class Heft(Labelled):
    LIGHT = "light"
    HEFT = "heft"
    EITHER = "either", "no matter"


class School(Labelled):
    """What to have where both cannot be had."""

    GEOMETRY = "geometry", "geometry first"
    STEEL = "steel", "steel first"


class Ratio(Labelled):
    """How an uneven edge's n:m is read."""

    RECORDED = "recorded", "as each was recorded"
    WIDTH = "width", "bevel widths"
    ANGLE = "angle", "a division of the angle"


SCHOOL_WEIGHTS = {
    School.GEOMETRY: {Criterion.EASE: 4.5, Criterion.LIFE: 1.5},
    School.STEEL: {Criterion.EASE: 1.5, Criterion.LIFE: 4.5},
}
WEIGHT_SCATTER = 0.4
"""Standard deviation of ln(weight): how well anybody knows what counts for them (assumption)."""
_WEIGHT_SEED = 41_507


CIRCUMSTANCES = ("hand_size", "wrist", "hours", "buyer", "storage")
"""Fields of a profile that may be *not asked*."""


@dataclass(frozen=True)
class CustomerProfile:
    """What a customer does with a knife and to it, and the schools followed.

    ``kitchen`` holds use, board, technique, and the foods with their shares; ``owned`` are the
    knives the customer has, ``troubles`` what the last one did wrong.
    """

    label: str = ""
    kitchen: Kitchen = field(default_factory=Kitchen)
    size: Size = Size.MAIN
    motion: Motion = Motion.ANY
    hand: Hand = Hand.RIGHT
    grip: Grip = Grip.PINCH
    bone: Bone = Bone.NONE
    care: Care = Care.WIPED
    tools: Tools = Tools.STONES
    skill: Skill = Skill.STEADY
    heft: Heft = Heft.EITHER
    school: School = School.GEOMETRY
    rods: RodSchool = RodSchool.NONE
    ratio: Ratio = Ratio.RECORDED
    budget: float | None = None
    hand_size: HandSize = HandSize.NOT_ASKED
    wrist: Wrist = Wrist.NOT_ASKED
    hours: Hours = Hours.NOT_ASKED
    buyer: Buyer = Buyer.NOT_ASKED
    storage: Storage = Storage.NOT_ASKED
    troubles: tuple[Trouble, ...] = ()
    owned: tuple[Owned, ...] = ()

    @property
    def light_counts(self) -> bool:
        """Whether a light knife is wanted for the hand's sake, whatever the taste in weight."""
        return (
            self.wrist is Wrist.WEAK or self.hours is Hours.LONG or Trouble.TIRING in self.troubles
        )

    @property
    def effects(self) -> list[Effect]:
        """What the further answers change."""
        further = (getattr(self, name) for name in CIRCUMSTANCES)
        return [EFFECTS[answer] for answer in (*further, *self.troubles) if answer in EFFECTS]

    def in_kitchen(self, kitchen: Kitchen) -> CustomerProfile:
        """The same profile in another kitchen."""
        return replace(self, kitchen=kitchen)

    @property
    def weights(self) -> Array:
        """Weight of each criterion, in the order of :data:`CRITERIA`."""
        found = {**WEIGHTS, **SCHOOL_WEIGHTS[self.school]}
        if self.skill is Skill.LEARNER:
            found[Criterion.ROBUSTNESS] += 1
        if self.kitchen.use is Use.PROFESSIONAL:
            found[Criterion.LIFE] += 1
        if self.tools is Tools.NOTHING:
            found[Criterion.UPKEEP] += 1.5
        if self.kitchen.technique is Technique.ROUGH:
            found[Criterion.ROBUSTNESS] += 2
        if self.bone is Bone.AROUND:
            found[Criterion.BOARD] += 2
            found[Criterion.EASE] -= 1
        for effect in self.effects:
            for criterion, more in effect.weights.items():
                found[criterion] += more
        return np.array([found[c] for c in CRITERIA])

    def weight_draws(self, draws: int) -> Array:
        """The weights as loosely as they are known, (draws, criteria).

        Each is w exp(s z) with s = :data:`WEIGHT_SCATTER`, alike for every knife compared.
        """
        z = np.random.default_rng(_WEIGHT_SEED).standard_normal((draws, len(CRITERIA)))
        return np.asarray(self.weights * np.exp(WEIGHT_SCATTER * z))


def other_schools(profile: CustomerProfile) -> Iterator[tuple[str, CustomerProfile]]:
    """The same profile by each other school, in words; of rods only where there is one."""
    for school in School:
        if school is not profile.school:
            yield school.label, replace(profile, school=school)
    for heft in (Heft.LIGHT, Heft.HEFT):
        if heft is not profile.heft:
            yield f"{heft.label} preferred", replace(profile, heft=heft)
    for rods in RodSchool if profile.tools is Tools.ROD else ():
        if rods is not profile.rods:
            yield f"hard steel: {rods.label}", replace(profile, rods=rods)
    for ratio in (Ratio.WIDTH, Ratio.ANGLE):
        if ratio is not profile.ratio:
            yield f"asymmetry as {ratio.label}", replace(profile, ratio=ratio)


def without_each(profile: CustomerProfile) -> Iterator[tuple[Effect, CustomerProfile]]:
    """What each further answer changes, and the same customer without that answer."""
    for name in CIRCUMSTANCES:
        answer = getattr(profile, name)
        if answer in EFFECTS:
            yield EFFECTS[answer], replace(profile, **{name: type(answer)("not_asked")})
    for trouble in profile.troubles:
        rest = tuple(other for other in profile.troubles if other is not trouble)
        yield EFFECTS[trouble], replace(profile, troubles=rest)


def other_answers(profile: CustomerProfile) -> Iterator[tuple[str, CustomerProfile]]:
    """The same customer with one answer otherwise, in words: what might change the choice."""
    yield from other_schools(profile)
    for motion in (Motion.ROCK, Motion.PUSH):
        if motion is not profile.motion:
            yield f"a hand that {motion.label}", replace(profile, motion=motion)
    for care in Care:
        if care is not profile.care:
            yield care.label, replace(profile, care=care)
    for tools in (Tools.ROD, Tools.STONES):
        if tools is not profile.tools:
            yield f"kept sharp with {tools.label}", replace(profile, tools=tools)
    if profile.budget is not None:
        more = 1.5 * profile.budget
        yield f"up to {more:.0f} to spend", replace(profile, budget=more)
