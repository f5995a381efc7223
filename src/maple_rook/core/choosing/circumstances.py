"""What a good seller asks beyond the work itself, and what each answer changes.

Every question may be skipped: *not asked* changes nothing. What an answer changes is common
practice, without a published source.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.labelled import Labelled


class HandSize(Labelled):
    NOT_ASKED = "not_asked"
    SMALL = "small", "small"
    MIDDLE = "middle", "middling"
    LARGE = "large", "large"


class Wrist(Labelled):
    NOT_ASKED = "not_asked"
    WEAK = "weak", "tires soon"
    STRONG = "strong"


class Hours(Labelled):
    """Hours a day at the board."""

    NOT_ASKED = "not_asked"
    SHORT = "short", "under an hour"
    SOME = "some", "one to three hours"
    LONG = "long", "four hours or more"


class Trouble(Labelled):
    """What the last knife did wrong."""

    DULL = "dull", "went dull soon"
    CHIPPED = "chipped"
    RUSTED = "rusted", "rusted or stained"
    TIRING = "tiring", "tired the hand"
    STUCK = "stuck", "food stuck to it"
    WEDGED = "wedged", "wedged in roots"
    HARD_TO_SHARPEN = "hard_to_sharpen", "was hard to sharpen"


class Buyer(Labelled):
    NOT_ASKED = "not_asked"
    OWN = "own", "for own use"
    GIFT = "gift", "a gift"


class Storage(Labelled):
    NOT_ASKED = "not_asked"
    BLOCK = "block", "block or rack"
    MAGNET = "magnet", "magnetic strip"
    GUARD = "guard", "drawer, with a guard"
    DRAWER = "drawer", "loose in a drawer"
    ROLL = "roll", "roll or bag, travels"


@dataclass(frozen=True)
class Owned:
    """A knife the customer has: its type and the length of its edge, mm."""

    knife_type: str
    length_mm: float


@dataclass(frozen=True)
class Effect:
    """What an answer changes: weights added to criteria, and in words what follows from it."""

    words: str
    weights: Mapping[Criterion, float]


EFFECTS: dict[Labelled, Effect] = {
    HandSize.SMALL: Effect(
        "Small hand: a shorter handle and a lower, shorter blade count for more.",
        {Criterion.HANDLING: 1.0},
    ),
    HandSize.LARGE: Effect(
        "Large hand: a longer handle and room for the knuckles count for more.",
        {Criterion.HANDLING: 1.0},
    ),
    Wrist.WEAK: Effect(
        "Wrist that tires: nothing over 300 g, light knives and easy cutting count for more.",
        {Criterion.HANDLING: 1.0, Criterion.EASE: 1.0},
    ),
    Hours.LONG: Effect(
        "Four hours or more a day: lighter knives and edge life count for more.",
        {Criterion.HANDLING: 1.0, Criterion.LIFE: 0.5},
    ),
    Trouble.DULL: Effect(
        "The last knife went dull soon: edge life counts for more.", {Criterion.LIFE: 1.5}
    ),
    Trouble.CHIPPED: Effect(
        "The last knife chipped: a robust edge counts for more.", {Criterion.ROBUSTNESS: 2.0}
    ),
    Trouble.RUSTED: Effect(
        "The last knife rusted: no reactive steel, and easy upkeep counts for more.",
        {Criterion.UPKEEP: 1.0},
    ),
    Trouble.TIRING: Effect(
        "The last knife tired the hand: lighter knives and easy cutting count for more.",
        {Criterion.HANDLING: 1.0, Criterion.EASE: 0.5},
    ),
    Trouble.STUCK: Effect(
        "Food stuck to the last knife: food release counts for more.", {Criterion.RELEASE: 2.0}
    ),
    Trouble.WEDGED: Effect(
        "The last knife wedged: cutting ease counts for more.", {Criterion.EASE: 1.5}
    ),
    Trouble.HARD_TO_SHARPEN: Effect(
        "The last knife was hard to sharpen: easy upkeep counts for more.",
        {Criterion.UPKEEP: 1.5},
    ),
    Buyer.GIFT: Effect(
        "A gift: nothing used, no single bevel, and easy upkeep counts for more.",
        {Criterion.UPKEEP: 1.0},
    ),
    Storage.DRAWER: Effect(
        "Loose in a drawer: a robust edge counts for more.", {Criterion.ROBUSTNESS: 1.0}
    ),
    Storage.ROLL: Effect(
        "Carried about: nothing over 260 mm, and easy upkeep counts for more.",
        {Criterion.UPKEEP: 0.5},
    ),
}
"""What is not named here changes nothing by itself."""
