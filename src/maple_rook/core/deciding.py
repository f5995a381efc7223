"""Which knife for whom: what rules one out, what speaks for it, and how surely it is best.

A customer's job maps each criterion to a desirability from 0 to 1; together they are a weighted
geometric mean. A *stop* is never a low score: it rules a knife out, with its reason. Limits,
weights and stops are practice rules; nothing about a person is kept beyond the job.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np

from maple_rook.core.blade import Blade
from maple_rook.core.desirability import (
    larger_is_better,
    overall,
    smaller_is_better,
    target_is_best,
)
from maple_rook.core.hardness import MINIMUM_HARDENED_HRC
from maple_rook.core.knife_types import KNIFE_TYPES
from maple_rook.core.retention import Kitchen, Technique, Use, holds_an_edge
from maple_rook.core.stability import SIDE_LOAD_N_MM, StrokeStyle, roll_load_n_mm
from maple_rook.core.steels import Reactivity
from maple_rook.core.uncertainty import Array


class Motion(StrEnum):
    ROCK = "rocks"
    PUSH = "pushes and chops"
    SLICE = "long slices"
    ANY = "a bit of each"


class Size(StrEnum):
    """What part the knife plays."""

    MAIN = "the main knife"
    SMALL = "small work"
    LONG = "long slices"


class Hand(StrEnum):
    RIGHT = "right"
    LEFT = "left"
    BOTH = "shared by both"


class Care(StrEnum):
    WIPED = "washed and dried at once"
    WET = "sometimes left wet"
    DISHWASHER = "dishwasher"


class Tools(StrEnum):
    NOTHING = "nothing"
    ROD = "a rod"
    STONES = "stones"
    SERVICE = "brought to the shop"


class Skill(StrEnum):
    LEARNER = "learning"
    STEADY = "steady"
    TRAINED = "trained"


class Heft(StrEnum):
    LIGHT = "light"
    HEFT = "heft"
    EITHER = "no matter"


class School(StrEnum):
    GEOMETRY = "geometry first"
    STEEL = "steel first"


class Criterion(StrEnum):
    EASE = "cutting ease"
    LIFE = "edge life"
    ROBUSTNESS = "robustness"
    HANDLING = "handling"
    BOARD = "board fit"
    RELEASE = "food release"
    UPKEEP = "upkeep"
    VALUE = "value"


CRITERIA = tuple(Criterion)
WEIGHTS = {Criterion.EASE: 3.0, Criterion.LIFE: 2.5, Criterion.ROBUSTNESS: 2.0,
           Criterion.HANDLING: 1.5, Criterion.BOARD: 2.5, Criterion.RELEASE: 0.7,
           Criterion.UPKEEP: 1.5, Criterion.VALUE: 1.5}  # fmt: skip
SCHOOL_WEIGHTS = {School.GEOMETRY: {Criterion.EASE: 4.5, Criterion.LIFE: 1.5},
                  School.STEEL: {Criterion.EASE: 1.5, Criterion.LIFE: 4.5}}  # fmt: skip
HARD_HRC = 62.0
"""From here on no twisting, no scraping, no bone (common practice)."""
_STYLE = {Technique.CAREFUL: StrokeStyle.CAREFUL, Technique.NORMAL: StrokeStyle.NORMAL,
          Technique.ROUGH: StrokeStyle.TWIST}  # fmt: skip
_REACTS = {
    Care.WIPED: {Reactivity.STAINLESS: 1.0, Reactivity.SEMI_STAINLESS: 0.85,
                 Reactivity.REACTIVE: 0.6},
    Care.WET: {Reactivity.STAINLESS: 1.0, Reactivity.SEMI_STAINLESS: 0.5,
               Reactivity.REACTIVE: 0.1},
    Care.DISHWASHER: {Reactivity.STAINLESS: 0.7, Reactivity.SEMI_STAINLESS: 0.2,
                      Reactivity.REACTIVE: 0.0},
}  # fmt: skip
_SHARPENS = {"very easy": 1.0, "easy": 0.95, "medium": 0.8, "hard": 0.55, "very hard": 0.4}


@dataclass(frozen=True)
class CustomerJob:
    """What a customer does with a knife and to it; a label is all that is known of the person."""

    label: str = ""
    kitchen: Kitchen = field(default_factory=Kitchen)
    size: Size = Size.MAIN
    motion: Motion = Motion.ANY
    hand: Hand = Hand.RIGHT
    care: Care = Care.WIPED
    tools: Tools = Tools.SERVICE
    skill: Skill = Skill.STEADY
    heft: Heft = Heft.EITHER
    school: School = School.GEOMETRY
    bone: bool = False
    budget: float | None = None

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
        return np.array([found[c] for c in CRITERIA])


@dataclass(frozen=True)
class Candidate:
    """A knife that may be offered: the blade, what it costs, what its handle is made of."""

    blade: Blade
    price: float | None = None
    handle: str = ""


FIGURES = ("cutting_ease", "months_to_stone", "release")
"""Predictions a decision rests on, by key; each (n,) or (n, draws)."""


_NEEDED = {"hardness": "hardness", "edge_angle": "edge angle", "spine_heel": "spine at heel",
           "height_heel": "height at heel"}  # fmt: skip
"""What must be measured before a knife is advised to anybody."""


def stops(job: CustomerJob, knife: Candidate) -> list[str]:
    """Why this knife must not be offered for this job; empty where nothing rules it out."""
    return list(_stops(job, knife))


def _stops(job: CustomerJob, knife: Candidate) -> Iterator[str]:
    blade, hardness = knife.blade, knife.blade.figures.get("hardness")
    if blade.refused:
        yield f"{blade.refused} It cannot be compared."
        return
    lacking = [label for key, label in _NEEDED.items() if key not in blade.known]
    if hardness is None or lacking:
        yield f"Not measured enough to be advised: {', '.join(lacking)}."
        return
    if blade.steel is None:
        yield "Its steel is not known."
    soft = hardness.mean + hardness.expanded < MINIMUM_HARDENED_HRC
    if soft or not holds_an_edge(hardness.mean):
        yield f"Not hardened: {hardness.mean:.0f} HRC will not hold an edge."
    ground = "left" if blade.left_handed else "right"
    if blade.single_bevel and job.hand is Hand.BOTH:
        yield f"Ground for the {ground} hand only, and both share it."
    elif blade.single_bevel and job.hand.value != ground:
        yield f"{job.hand.value.capitalize()}-handed, and this is ground for the {ground} hand."
    if job.bone and not blade.heavy:
        yield "Bone, and this is no bone chopper: the edge would break out."
    if not job.bone and blade.heavy:
        yield "A bone chopper, and no bone is cut."
    if job.kitchen.technique is Technique.ROUGH and hardness.mean > HARD_HRC:
        yield f"Twists and scrapes, and {hardness.mean:.0f} HRC chips from it."
    if blade.single_bevel and job.tools in (Tools.ROD, Tools.NOTHING):
        yield "A single bevel is kept on stones, never on a rod."
    if job.care is Care.DISHWASHER and _reactivity(blade) is not Reactivity.STAINLESS:
        yield "Dishwasher, and this steel rusts."
    if job.budget is not None and knife.price is not None and knife.price > job.budget:
        yield f"Costs {knife.price:g}, over the {job.budget:g} set."


def warnings(job: CustomerJob, knife: Candidate) -> list[str]:
    """What to say with the knife, without ruling it out."""
    blade, said = knife.blade, []
    asymmetry = blade.figures.get("asymmetry")
    uneven = asymmetry is not None and abs(asymmetry.mean - 50) >= 10 and not blade.single_bevel
    if uneven and asymmetry is not None:
        ground = "right" if asymmetry.mean > 50 else "left"
        if job.hand.value != ground:
            said.append(f"Ground more on the {ground}: it steers in the other hand.")
    if blade.figures["hardness"].mean > HARD_HRC:
        said.append("Hard and thin: no bone, no frozen food, no twisting, no scraping.")
    if _reactivity(blade) is not Reactivity.STAINLESS:
        said.append("Reacts: wipe and dry at once; it can colour food.")
    if job.care is Care.DISHWASHER:
        said.append("Wash it by hand: the dishwasher dulls any edge.")
        if "acetal" not in knife.handle and "moulded" not in knife.handle:
            said.append("The handle does not bear a dishwasher.")
    if job.tools is Tools.NOTHING:
        said.append("Plan to have it sharpened: nothing keeps its edge by itself.")
    return said


def _reactivity(blade: Blade) -> Reactivity:
    return blade.steel.reactivity if blade.steel else Reactivity.REACTIVE


def desirabilities(
    job: CustomerJob, knives: Sequence[Candidate], figures: Mapping[str, Array]
) -> Array:
    """Desirability of each knife by criterion: (n, criteria) or (n, draws, criteria).

    ``figures`` are :data:`FIGURES` for the kitchen of the job.
    """
    ease, months, release = (np.asarray(figures[key], dtype=float) for key in FIGURES)
    wide = (slice(None),) + (None,) * (ease.ndim - 1)

    def of_each(values: Sequence[float]) -> Array:
        return np.asarray(values, dtype=float)[wide]

    price = of_each([k.price if k.price is not None else math.nan for k in knives])
    worth = np.log(price / (months * ease / 100))
    parts = {
        Criterion.EASE: larger_is_better(ease, 50, 125),
        Criterion.LIFE: larger_is_better(np.log(months), math.log(0.4), math.log(7)),
        Criterion.RELEASE: larger_is_better(release, 0, 60),
        Criterion.ROBUSTNESS: of_each([_robust(job, k.blade) for k in knives]),
        Criterion.HANDLING: of_each([_handling(job, k.blade) for k in knives]),
        Criterion.BOARD: of_each([_board_fit(job, k.blade) for k in knives]),
        Criterion.UPKEEP: of_each([_upkeep(job, k.blade) for k in knives]),
        Criterion.VALUE: np.where(
            np.isnan(price), 0.5, smaller_is_better(worth, math.log(8), math.log(200))
        ),
    }
    return np.stack([np.broadcast_to(parts[c], ease.shape) for c in CRITERIA], axis=-1)


def scores(job: CustomerJob, desirable: Array) -> Array:
    """Score of each knife, 0 to 1: (n,) or (n, draws)."""
    return overall(desirable, job.weights)


def _robust(job: CustomerJob, blade: Blade) -> float:
    """Load the edge bears before it rolls, over the load of this technique."""
    key = "steeper" if blade.has_steeper else "edge_angle"
    half = blade.inputs[key].figure.mean / (2 if blade.single_bevel else 1)
    style = StrokeStyle.BONE if job.bone else _STYLE[job.kitchen.technique]
    margin = float(roll_load_n_mm(blade.figures["hardness"].mean, half)) / SIDE_LOAD_N_MM[style]
    return float(larger_is_better(math.log(margin), math.log(0.5), math.log(6)))


def _handling(job: CustomerJob, blade: Blade) -> float:
    """Weight as it is liked, and a length a learner guides easily."""
    weight, length = (blade.figures.get(key) for key in ("weight", "edge_length"))
    liked = 1.0
    if weight is not None and job.heft is Heft.LIGHT:
        liked = float(smaller_is_better(weight.mean, 140, 300))
    elif weight is not None and job.heft is Heft.HEFT:
        liked = float(larger_is_better(weight.mean, 140, 260))
    if length is not None and job.skill is Skill.LEARNER:
        liked *= float(target_is_best(length.mean, 60, 180, 300))
    return liked


_SIZES_MM = {Size.MAIN: (140, 215, 330), Size.SMALL: (50, 120, 190), Size.LONG: (180, 270, 380)}
_KNUCKLES_MM = {Size.MAIN: (28, 45), Size.SMALL: (5, 15), Size.LONG: (20, 34)}
"""Height at the heel that leaves the knuckles no room over the board, and enough."""


def _board_fit(job: CustomerJob, blade: Blade) -> float:
    """Length and knuckle room for the part it plays, and an edge for the motion."""
    flat = (blade.kind or KNIFE_TYPES["gyuto"]).shape.flat_share
    length, height = (blade.inputs[key].figure.mean for key in ("edge_length", "height_heel"))
    sized = target_is_best(length, *_SIZES_MM[job.size])
    roomy = larger_is_better(height, *_KNUCKLES_MM[job.size])
    moved: dict[Motion, Array | float] = {
        Motion.PUSH: larger_is_better(flat, 0.1, 0.7),
        Motion.ROCK: smaller_is_better(flat, 0.3, 0.9),
        Motion.SLICE: smaller_is_better(flat, 0.5, 1.0),
        Motion.ANY: 1.0,
    }
    return float(np.minimum(sized, roomy)) * math.sqrt(float(moved[job.motion]))


def _upkeep(job: CustomerJob, blade: Blade) -> float:
    """What the steel asks in care and at the stones, against what it will get."""
    steel = blade.steel
    if steel is None:
        return 0.4
    sharpens = _SHARPENS.get(steel.sharpening, 0.7)
    if job.tools is Tools.SERVICE:
        sharpens = math.sqrt(sharpens)
    if job.tools is Tools.ROD and blade.figures["hardness"].mean > HARD_HRC:
        sharpens *= 0.5
    return _REACTS[job.care][steel.reactivity] * sharpens


def other_answers(job: CustomerJob) -> list[tuple[str, CustomerJob]]:
    """The same customer with one answer otherwise, in words: what might change the choice."""
    school = School.STEEL if job.school is School.GEOMETRY else School.GEOMETRY
    heft = Heft.LIGHT if job.heft is not Heft.LIGHT else Heft.HEFT
    care = Care.WET if job.care is Care.WIPED else Care.WIPED
    motion = Motion.PUSH if job.motion is not Motion.PUSH else Motion.ROCK
    return [
        (school.value, replace(job, school=school)),
        (f"rather {heft.value}", replace(job, heft=heft)),
        (care.value, replace(job, care=care)),
        (f"a hand that {motion.value}", replace(job, motion=motion)),
    ]
