"""What rules a knife out for a customer, and what has to be said with one that is offered.

A *stop* is never a low score: it rules a knife out, with its reason. All of them are common
practice, without a published source.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.choosing.candidates import NEEDED, REACTIVITIES, Candidate, Traits, traits
from maple_rook.core.choosing.circumstances import Buyer, Storage, Trouble, Wrist
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Hand,
    Motion,
    Size,
    Tools,
)
from maple_rook.core.edge_life.retention import HARD_HRC, RodSchool, Technique
from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.geometry.profile import Rocking
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.core.upkeep.sharpening_tools import STEEL_ROD_HRC, Leave, Tool, rod_for

THIN_DEG = 12.0
"""Below this angle per side an edge is not put to bones (common practice)."""
HONED_HRC = 54.0
"""Below this an edge rolls within days, and wants a rod that somebody uses (common practice)."""
PARTS_MM = {Size.MAIN: (140.0, 360.0), Size.SMALL: (50.0, 170.0), Size.LONG: (220.0, 400.0)}
BONING_MM = (90.0, 190.0)
"""Shortest and longest edge for the part a knife plays; one that goes round bones is short."""
LOWEST_MAIN_MM, TALLEST_LONG_MM = 34.0, 48.0
"""Under the one a hand has no room over the board; over the other a blade drags in long slices."""
WEAK_WRIST_G, CARRIED_MM = 300.0, 260.0
_STAINLESS, _REACTIVE = (REACTIVITIES.index(r) for r in (Reactivity.STAINLESS, Reactivity.REACTIVE))

Bools = NDArray[np.bool_]


class Stop(NamedTuple):
    """A rule: which knives it rules out for a profile, and the reason for one of them."""

    applies: Callable[[CustomerProfile, Traits], Bools]
    reason: Callable[[CustomerProfile, Candidate], str]


def _said(words: str) -> Callable[[CustomerProfile, Candidate], str]:
    return lambda *_: words


def _lacking(_: CustomerProfile, knife: Candidate) -> str:
    usable = knife.blade.usable
    lacking = [words for key, words in NEEDED.items() if key not in usable]
    return f"Not measured enough to be advised: {', '.join(lacking)}."


def _wrong_hand(profile: CustomerProfile, t: Traits) -> Bools:
    left = t.left_handed > 0
    fits = {Hand.LEFT: left, Hand.RIGHT: ~left, Hand.BOTH: np.zeros_like(left)}[profile.hand]
    return (t.single_bevel > 0) & ~fits


def _hand_reason(profile: CustomerProfile, knife: Candidate) -> str:
    ground = "left" if knife.blade.left_handed else "right"
    if profile.hand is Hand.BOTH:
        return f"Ground for the {ground} hand only, and both share it."
    return f"{profile.hand.label.capitalize()}-handed, and this is ground for the {ground} hand."


def _mean(knife: Candidate, key: str) -> float:
    """A figure as :class:`Traits` has it: measured, or inferred if it was not measured."""
    return knife.blade.inputs[key].figure.mean


def _hrc(knife: Candidate) -> str:
    """Its hardness in words, and by what it is known where nobody tested it."""
    text = f"{knife.blade.hrc:.0f} HRC"
    known = "hardness" in knife.blade.known
    return text if known else f"about {text} by its claim or grade"


def _where(condition: bool, found: Bools) -> Bools:
    return found if condition else np.zeros_like(found)


def _part_mm(profile: CustomerProfile) -> tuple[float, float]:
    return BONING_MM if profile.bone is Bone.AROUND else PARTS_MM[profile.size]


def _length_reason(profile: CustomerProfile, knife: Candidate) -> str:
    length = _mean(knife, "edge_length")
    part = "work round bones" if profile.bone is Bone.AROUND else profile.size.label
    return (
        f"Too {'short' if length < _part_mm(profile)[0] else 'long'} for {part}: {length:.0f} mm."
    )


def _height_reason(profile: CustomerProfile, knife: Candidate) -> str:
    height = _mean(knife, "height_heel")
    if profile.size is Size.LONG:
        return f"{height:.0f} mm tall: a long slice wants a lower blade."
    return f"{height:.0f} mm tall: it leaves the knuckles no room over the board."


def _wrong_height(profile: CustomerProfile, t: Traits) -> Bools:
    if profile.bone is not Bone.NONE or profile.size is Size.SMALL:
        return np.zeros(t.height.shape, dtype=bool)
    if profile.size is Size.LONG:
        return t.height > TALLEST_LONG_MM
    return t.height < LOWEST_MAIN_MM


def _goes_back(_: CustomerProfile, knife: Candidate) -> str:
    finish = knife.finish
    if finish.unsafe:
        return f"Not safe: {'; '.join(finish.unsafe)}."
    named = f": {'; '.join(finish.work)}" if finish.work else ""
    return f"Marked return to maker{named}."


UNFIT = (
    Stop(
        lambda _, t: t.refused > 0, lambda _, knife: f"{knife.blade.refused} It cannot be compared."
    ),
    Stop(lambda _, t: t.goes_back > 0, _goes_back),
    Stop(lambda _, t: t.not_for_sale > 0, _said("Not for sale.")),
    Stop(lambda _, t: t.reserved > 0, _said("Reserved.")),
    Stop(lambda _, t: t.lacking > 0, _lacking),
)
"""Reasons that stand alone: nothing more is to be said of such a knife."""

STOPS = (
    Stop(lambda _, t: t.steel == 0, _said("Its steel is not known.")),
    Stop(
        lambda _, t: t.hardened == 0,
        lambda _, knife: f"Not hardened: {_hrc(knife)} will not hold an edge.",
    ),
    Stop(_wrong_hand, _hand_reason),
    Stop(
        lambda profile, t: _where(profile.bone is Bone.THROUGH, t.for_bone == 0),
        _said("Goes through bone, and this is no bone chopper: the edge would break out."),
    ),
    Stop(
        lambda profile, t: _where(profile.bone is not Bone.THROUGH, t.for_bone > 0),
        _said("A bone chopper, and no bone is cut through."),
    ),
    Stop(
        lambda profile, t: _where(profile.bone is Bone.AROUND, t.hardness > HARD_HRC),
        lambda _, knife: f"Works round bones, and {_hrc(knife)} chips on them.",
    ),
    Stop(
        lambda profile, t: _where(profile.bone is Bone.AROUND, t.half_angle < THIN_DEG),
        _said("Works round bones, and the edge is too thin for them."),
    ),
    Stop(
        lambda profile, t: _where(
            profile.kitchen.technique is Technique.ROUGH, t.hardness > HARD_HRC
        ),
        lambda _, knife: f"Twists and scrapes, and {_hrc(knife)} chips from it.",
    ),
    Stop(
        lambda profile, t: _where(profile.tools in (Tools.ROD, Tools.NOTHING), t.single_bevel > 0),
        _said("A single bevel is kept on stones, never on a rod."),
    ),
    Stop(
        lambda profile, t: _where(profile.care is Care.DISHWASHER, t.reactivity != _STAINLESS),
        _said("Dishwasher, and this steel rusts."),
    ),
    Stop(
        lambda profile, t: t.price > (np.inf if profile.budget is None else profile.budget),
        lambda profile, knife: f"Costs {knife.price:g}, over the {profile.budget:g} set.",
    ),
    Stop(
        lambda profile, t: _where(
            profile.bone is not Bone.THROUGH,
            (t.edge_length < _part_mm(profile)[0]) | (t.edge_length > _part_mm(profile)[1]),
        ),
        _length_reason,
    ),
    Stop(_wrong_height, _height_reason),
    Stop(
        lambda profile, t: _where(profile.motion is Motion.ROCK, t.hardness >= HARD_HRC),
        lambda _, knife: f"Rocks on the board, and {_hrc(knife)} chips from it.",
    ),
    Stop(
        lambda profile, t: _where(
            profile.tools in (Tools.NOTHING, Tools.SERVICE), t.hardness < HONED_HRC
        ),
        lambda _, knife: f"Nobody hones it, and {_hrc(knife)} needs a rod every few days.",
    ),
    Stop(
        lambda profile, t: _where(profile.wrist is Wrist.WEAK, t.weight > WEAK_WRIST_G),
        lambda _, knife: f"Weighs {_mean(knife, 'weight'):.0f} g, too much for a wrist that tires.",
    ),
    Stop(
        lambda profile, t: _where(Trouble.RUSTED in profile.troubles, t.reactivity == _REACTIVE),
        _said("The last knife rusted, and this steel reacts."),
    ),
    Stop(
        lambda profile, t: _where(profile.buyer is Buyer.GIFT, t.used > 0),
        _said("A gift, and this one is used."),
    ),
    Stop(
        lambda profile, t: _where(profile.buyer is Buyer.GIFT, t.single_bevel > 0),
        _said("A gift, and a single bevel asks for stones and for the right hand to use it."),
    ),
    Stop(
        lambda profile, t: _where(profile.storage is Storage.ROLL, t.edge_length > CARRIED_MM),
        lambda _, knife: f"{_mean(knife, 'edge_length'):.0f} mm is too long to carry about.",
    ),
)


def ruled_by(profile: CustomerProfile, of: Traits) -> Bools:
    """Which stops rule which knives out for this profile, (n, stops) in the order of the lists."""
    return np.stack([stop.applies(profile, of) for stop in (*UNFIT, *STOPS)], axis=-1)


def stops(profile: CustomerProfile, knife: Candidate) -> list[str]:
    """Why this knife must not be offered for this profile; empty where nothing rules it out."""
    return stops_of(profile, knife, ruled_by(profile, traits([knife]))[0])


def stops_of(profile: CustomerProfile, knife: Candidate, by: Bools) -> list[str]:
    """The reasons in words, from which stops rule it out, (stops,) of :func:`ruled_by`."""
    every = (*UNFIT, *STOPS)
    alone = next((stop for stop, applies in zip(UNFIT, by, strict=False) if applies), None)
    if alone is not None:
        return [alone.reason(profile, knife)]
    return [stop.reason(profile, knife) for stop, applies in zip(every, by, strict=True) if applies]


def commonest(by: Bools) -> tuple[int, Stop]:
    """A knife ruled out and why: the stop met most often, from :func:`ruled_by` of a shelf."""
    most = int(np.argmax(by.sum(axis=0)))
    return int(np.argmax(by[:, most])), (*UNFIT, *STOPS)[most]


def gently_honed(profile: CustomerProfile, of: Traits) -> Bools:
    """Which of these knives a rod may not touch by the profile's school, though there is one."""
    off = profile.tools is Tools.ROD and profile.rods is RodSchool.NONE
    return _where(off, of.hardness >= HARD_HRC)


def rod_rule(profile: CustomerProfile, knife: Candidate) -> str:
    """What this edge is honed with, by hardness and grind; the school where there are two."""
    rod = rod_for(knife.blade, profile.rods)
    if knife.blade.single_bevel:
        return "Never a rod on a single bevel: burr off the back on a flat stone, no angle on it."
    if rod is None:
        return "No rod on an edge this hard: strop it, or the stone."
    if rod.tool is Tool.STEEL_ROD:
        return "A steel rod, lightly, before the work."
    if rod.leave is Leave.LIGHTLY and knife.blade.hrc >= HARD_HRC:
        return "A ceramic rod, very lightly; never a grooved steel."
    return "A fine ceramic rod, lightly; a grooved steel is for softer edges."


def warnings(profile: CustomerProfile, knife: Candidate) -> list[str]:
    """What to say with the knife, without ruling it out."""
    blade, said = knife.blade, from_the_record(knife)
    hard = blade.hrc > HARD_HRC
    stainless = blade.steel is not None and blade.steel.reactivity is Reactivity.STAINLESS
    if knife.uneven:
        ground = "right" if blade.figures["asymmetry"].mean > 50 else "left"
        if profile.hand.value != ground:
            said.append(f"Ground more on the {ground}: it steers in the other hand.")
    if hard:
        said.append("Hard and thin: no bone, no frozen food, no twisting, no scraping.")
    if profile.bone is Bone.AROUND:
        said.append("Round bones and through joints, never through bone.")
    if not stainless:
        said.append("Reacts: wipe and dry at once; it can colour food.")
    if profile.care is Care.DISHWASHER:
        said.append("A dishwasher dulls any edge: expect to sharpen sooner.")
        if not knife.washable:
            said.append("The handle does not bear a dishwasher.")
    if profile.tools is Tools.ROD and blade.hrc > STEEL_ROD_HRC:
        said.append(rod_rule(profile, knife))
    if profile.tools is Tools.NOTHING:
        said.append("Plan to have it sharpened: nothing keeps its edge by itself.")
    return [*said, *_of_motion(profile, knife), *_stored(profile, knife)]


def from_the_record(knife: Candidate) -> list[str]:
    """What the shop's own record says of a knife that is offered all the same."""
    said = []
    if knife.finish.shelf is Shelf.NEEDS_WORK:
        work = "; ".join(knife.finish.work) or "as signed off"
        said.append(f"Ready to sell after {knife.finish.minutes:.0f} min of work: {work}.")
    if knife.used:
        said.append("Used: look at its height, its edge and its log first.")
    return [*said, *(f"{claim}." for claim in knife.contradicted)]


def _of_motion(profile: CustomerProfile, knife: Candidate) -> list[str]:
    if profile.motion is not Motion.ANY:
        return []
    rocks = Rocking.of(knife.blade.motion[0]) is not Rocking.NOT
    if rocks and knife.blade.hrc >= HARD_HRC:
        return [f"Push or slice with it: {_hrc(knife)} is not for rocking, though its curve is."]
    return []


def _stored(profile: CustomerProfile, knife: Candidate) -> list[str]:
    if profile.storage is Storage.DRAWER:
        return ["Loose in a drawer any edge is knocked about: give it a guard."]
    if profile.storage is Storage.ROLL:
        steel = knife.blade.steel
        dry = steel is not None and steel.reactivity is not Reactivity.STAINLESS
        return [f"Carry it with a guard on{', and dry, or it rusts in the roll' if dry else ''}."]
    return []
