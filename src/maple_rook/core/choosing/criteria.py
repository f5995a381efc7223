"""What speaks for a knife or against it, and how much each counts before anything is asked."""

from __future__ import annotations

from maple_rook.core.labelled import Labelled


class Criterion(Labelled):
    EASE = "ease", "cutting ease"
    LIFE = "life", "edge life"
    ROBUSTNESS = "robustness"
    HANDLING = "handling"
    BOARD = "board", "board fit"
    RELEASE = "release", "food release"
    UPKEEP = "upkeep"
    VALUE = "value"


CRITERIA = tuple(Criterion)
WEIGHTS = {
    Criterion.EASE: 3.0,
    Criterion.LIFE: 2.5,
    Criterion.ROBUSTNESS: 2.0,
    Criterion.HANDLING: 1.5,
    Criterion.BOARD: 2.5,
    Criterion.RELEASE: 0.7,
    Criterion.UPKEEP: 1.5,
    Criterion.VALUE: 1.5,
}
"""Weight of each criterion (practice rule)."""
