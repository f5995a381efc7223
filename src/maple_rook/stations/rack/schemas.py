from __future__ import annotations

from pydantic import BaseModel

from maple_rook.answers.figures import OutlineOut
from maple_rook.shelf.overview import Range
from maple_rook.shelf.rows import RackRow


class RackHead(BaseModel):
    """``behind`` pieces are shown as they were before something of them was written.

    ``longest_mm`` is the length of the longest drawing, so that all are drawn at one scale.
    """

    total: int
    shown: int
    behind: int
    longest_mm: float
    ranges: list[Range]
    knife_types: dict[str, int]


class RackOut(RackHead):
    """A page of the shelf."""

    rows: list[RackRow]


class StripKnife(BaseModel):
    """A knife in hand: enough to hang it on the strip."""

    id: int
    name: str
    tag: str
    outline: OutlineOut
