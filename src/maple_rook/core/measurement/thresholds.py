"""What difference between two knives is noticeable at the board (practice rules)."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Threshold:
    """A difference in the quantity's unit, or relative to the smaller figure."""

    amount: float
    relative: bool = False


NOTICEABLE_FORCE = Threshold(0.20, relative=True)
NOTICEABLE_EDGE_LIFE = Threshold(0.30, relative=True)
