"""What goes home with a knife: why it was advised, how it is kept, what it must not be put to.

Care is common practice, without a published source.
"""

from __future__ import annotations

from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.choosing.customer import Care, CustomerProfile, Tools
from maple_rook.core.choosing.ruling import rod_rule, warnings
from maple_rook.core.edge_life.retention import HARD_HRC, BoardMaterial, Technique
from maple_rook.core.measurement.wording import range_text
from maple_rook.core.upkeep.care import (
    DARKENS,
    IN_A_DISHWASHER,
    OIL_HANDLE,
    SOFTER_BOARD,
    SPINE_PUSHES,
    WASH,
    reacts,
    wooden,
)

SPEAKS = {
    Criterion.EASE: "It goes through food easily",
    Criterion.LIFE: "It keeps its edge long",
    Criterion.ROBUSTNESS: "Its edge bears rough work",
    Criterion.HANDLING: "It lies in the hand as you like it",
    Criterion.BOARD: "Its length, height and edge fit your work on the board",
    Criterion.RELEASE: "Food falls from it",
    Criterion.UPKEEP: "It asks little care",
    Criterion.VALUE: "It costs little to own",
}
GIVES_UP = {
    Criterion.EASE: "Others go through food more easily",
    Criterion.LIFE: "Others keep their edge longer",
    Criterion.ROBUSTNESS: "Others bear rougher work",
    Criterion.HANDLING: "Others lie in the hand better",
    Criterion.BOARD: "Others fit your work on the board better",
    Criterion.RELEASE: "Food sticks to it more than to others",
    Criterion.UPKEEP: "Others ask less care",
    Criterion.VALUE: "Others cost less to own",
}
"""Said with what a criterion stands on."""


def to_mind(profile: CustomerProfile, knife: Candidate) -> list[str]:
    """What is said with the knife, but for the rod: that is part of its care."""
    return [words for words in warnings(profile, knife) if words != rod_rule(profile, knife)]


def care_lines(
    profile: CustomerProfile, knife: Candidate, months: tuple[float, float]
) -> list[str]:
    """How this knife is kept in this kitchen; ``months`` to the stone, 90 % limits."""
    lines = [IN_A_DISHWASHER if profile.care is Care.DISHWASHER else WASH]
    if reacts(knife.blade):
        lines.append(DARKENS)
    if wooden(knife.handle):
        lines.append(OIL_HANDLE)
    rule = rod_rule(profile, knife)
    lines.append(f"To hone it: {rule[0].lower()}{rule[1:]}")
    lines.append(
        f"Expect a stone about every {range_text(*months)} months in your kitchen"
        + (", brought to the shop." if profile.tools in (Tools.SERVICE, Tools.NOTHING) else ".")
    )
    if profile.kitchen.board in (BoardMaterial.GLASS, BoardMaterial.BAMBOO):
        lines.append(SOFTER_BOARD)
    if profile.kitchen.technique is Technique.ROUGH or knife.blade.hrc > HARD_HRC:
        lines.append(SPINE_PUSHES)
    return lines
