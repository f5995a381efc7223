"""What is in stock at a glance: how many pieces of which type, and how its figures spread."""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from pydantic import BaseModel
from sqlalchemy import ColumnElement, Select, func, literal, select, union_all
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.routine.stock import IN_STOCK
from maple_rook.shelf.query import EASE_KEYS, RANGE_KEYS, ShelfQuery, figure, left, of_mix
from maple_rook.store import shelf as shelf_store
from maple_rook.store.shelf_tables import ShelfRow

BINS = 16
LARGE, LOOKED_AGAIN_S = 5_000, 10.0
"""On a larger shelf the distributions of its figures may be so old, s."""


class Range(BaseModel):
    """A range filter with the shelf's own distribution: counts in equal bins."""

    key: str
    label: str
    unit: str
    low: float
    high: float
    counts: list[int]


@dataclass(frozen=True)
class Spread:
    """What is in stock at a glance: how many pieces of which type, figures in equal bins."""

    total: int
    longest_mm: float
    knife_types: dict[str, int]
    spreads: dict[str, Range]
    """By the key under which the shelf keeps the figure."""

    def ranges(self, food_mix: FoodMix) -> list[Range]:
        """The filters' ranges, the cutting ease for what is cut."""
        return [
            found.model_copy(update={"key": key})
            for key in RANGE_KEYS
            if (found := self.spreads.get(of_mix(key, food_mix))) is not None
        ]


class Overview:
    """The spread of the shelf, looked at again where rows were written since.

    On a large one that takes as long as many lists, so distributions may be
    :data:`LOOKED_AGAIN_S` old, and nobody waits for somebody else's look. How many pieces there
    are is said as of now wherever nothing is behind: what was looked at while pieces waited to be
    calculated is looked at again once none does, and newer pieces are counted by their ids.
    """

    def __init__(self) -> None:
        self._spread, self._newest = Spread(0, 0.0, {}, {}), 0
        self._before, self._looked, self._behind = 0, -math.inf, 0
        self._lock = threading.Lock()

    def spread(self, db: Session, behind: int = 0) -> Spread:
        """The spread while so many pieces are behind."""
        if not self._lately(behind):
            before, written = shelf_store.written_since(db, self._before)
            if not written and self._before:
                self._behind = behind
            elif self._lock.acquire(blocking=not self._large() or self._settled(behind)):
                try:
                    if not self._lately(behind):
                        self._look(db)
                        self._before, self._behind = before, behind
                finally:
                    self._lock.release()
        return self._with_newer(db) if self._large() else self._spread

    def _look(self, db: Session) -> None:
        total, longest = left(db, ShelfQuery(stock=IN_STOCK))
        self._newest = db.scalar(select(func.max(ShelfRow.piece_id))) or 0
        self._spread = Spread(total, longest, _types(db), _spreads(db))
        self._looked = time.monotonic()

    def _with_newer(self, db: Session) -> Spread:
        newer = db.execute(
            select(func.count(), func.max(ShelfRow.drawn_mm)).where(
                ShelfRow.piece_id > self._newest, _in_stock()
            )
        ).one()
        spread = self._spread
        if not newer[0]:
            return spread
        longest = max(spread.longest_mm, newer[1] or 0.0)
        return replace(spread, total=spread.total + newer[0], longest_mm=longest)

    def _large(self) -> bool:
        return self._spread.total >= LARGE

    def _settled(self, behind: int) -> bool:
        """Nothing is behind any more of what was when it was looked at last."""
        return self._behind > 0 and not behind

    def _lately(self, behind: int) -> bool:
        lately = self._large() and time.monotonic() < self._looked + LOOKED_AGAIN_S
        return lately and not self._settled(behind)


def _in_stock() -> ColumnElement[bool]:
    return ShelfRow.stock.in_(IN_STOCK)


def _types(db: Session) -> dict[str, int]:
    query = select(ShelfRow.knife_type, func.count()).where(_in_stock())
    query = query.group_by(ShelfRow.knife_type)
    return {row[0]: row[1] for row in db.execute(query.order_by(func.min(ShelfRow.piece_id)))}


def _spreads(db: Session) -> dict[str, Range]:
    kept = (*RANGE_KEYS, *EASE_KEYS)
    ends: Sequence[Any] = db.execute(
        select(*(f(figure(key)) for key in kept for f in (func.min, func.max))).where(_in_stock())
    ).one()
    limits = {
        key: _rounded(*ends[2 * i : 2 * i + 2])
        for i, key in enumerate(kept)
        if ends[2 * i] is not None
    }
    if not limits:
        return {}
    counted = db.execute(union_all(*(_bins(key, *ends) for key, ends in limits.items())))
    counts = {key: [0] * BINS for key in limits}
    for key, at, n in counted:
        counts[key][at - 1] = n
    said = RANGE_KEYS | dict.fromkeys(EASE_KEYS, RANGE_KEYS["cutting_ease"])
    return {
        key: Range(
            key=key,
            label=said[key][0],
            unit=said[key][1],
            low=low,
            high=high,
            counts=counts[key],
        )
        for key, (low, high) in limits.items()
    }


def _bins(key: str, low: float, high: float) -> Select[Any]:
    """How many knives are in each bin; the highest figure is in the last one, as in a histogram."""
    values = figure(key)
    at = func.least(func.width_bucket(values, low, high, BINS), BINS).label("at")
    counted = select(literal(key), at, func.count()).where(values.is_not(None), _in_stock())
    return counted.group_by(at)


def _rounded(low: float, high: float) -> tuple[float, float]:
    """The range widened to round numbers, so that the slider's ends hold every knife."""
    step = 10 ** math.floor(math.log10(max(high - low, 1e-3))) / 2
    ends = round(math.floor(low / step) * step, 6), round(math.ceil(high / step) * step, 6)
    return (ends[0], ends[1]) if ends[1] > ends[0] else (ends[0], ends[0] + step)
