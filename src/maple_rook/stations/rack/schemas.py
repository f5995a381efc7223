from __future__ import annotations

from pydantic import BaseModel

from maple_rook.stations.schemas import FigureOut, OutlineOut, PieceOut
from maple_rook.stations.shelf import Whisker


class RackRow(BaseModel):
    piece: PieceOut
    outline: OutlineOut
    figures: dict[str, FigureOut]
    ease: Whisker | None
    months_to_stone: Whisker | None
    flags: list[str]


class Range(BaseModel):
    """A range filter with the shelf's own distribution: counts in equal bins."""

    key: str
    label: str
    unit: str
    low: float
    high: float
    counts: list[int]


class RackOut(BaseModel):
    total: int
    shown: int
    rows: list[RackRow]
    ranges: list[Range]
    knife_types: dict[str, int]


class StripKnife(BaseModel):
    """A knife in hand: enough to hang it on the strip."""

    id: int
    name: str
    tag: str
    outline: OutlineOut
