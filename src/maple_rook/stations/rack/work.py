"""The shelf searched, narrowed and sorted: by the database, from the rows that are kept of it."""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from sqlalchemy import ColumnElement, Float, Select, cast, func, literal, select, union_all
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.quantities import QUANTITIES
from maple_rook.stations.rack.schemas import RackHead, Range, StripKnife
from maple_rook.stations.shelf import Shelf
from maple_rook.store import records
from maple_rook.store import shelf as kept
from maple_rook.store.shelf_tables import SORTED_BY, ShelfRow

BINS = 16
LARGE, LOOKED_AGAIN_S = 5_000, 10.0
"""On a larger shelf the distributions of its figures may be so old, s."""
RANGE_KEYS: dict[str, tuple[str, str]] = {
    "edge_length": ("edge length", "mm"),
    "weight": ("weight", "g"),
    "height_heel": ("height at heel", "mm"),
    "hardness": ("hardness", "HRC"),
    "edge_angle": ("edge angle", "°/side"),
    "thickness_behind_edge": ("behind the edge", "mm"),
    "ease": ("cutting ease", ""),
    "months_to_stone": ("months to stone", "months"),
    "price": ("price", ""),
}


@dataclass(frozen=True)
class RackQuery:
    search: str = ""
    sort: str = "name"
    descending: bool = False
    knife_types: tuple[str, ...] = ()
    ranges: dict[str, tuple[float, float]] = field(default_factory=dict)
    offset: int = 0
    limit: int = 48

    @property
    def narrowed(self) -> bool:
        return bool(self.search.strip() or self.knife_types or self.ranges)


FIGURE_KEYS = (*RANGE_KEYS, *(key for key in QUANTITIES if key not in RANGE_KEYS))
"""All that a range or a sort may ask for."""
_NAMED_SORTS = {"name": ShelfRow.name, "type": ShelfRow.type_label}
SORT_KEYS = (*_NAMED_SORTS, *FIGURE_KEYS)


def range_of(text: str) -> tuple[str, tuple[float, float]]:
    """A range as it is asked for: key:low:high."""
    key, _, limits = text.partition(":")
    low, _, high = limits.partition(":")
    try:
        bounds = float(low), float(high)
    except ValueError:
        raise InvalidValue("within", text, "key:low:high, such as weight:100:200") from None
    if key not in FIGURE_KEYS:
        raise InvalidValue("within", text, ", ".join(FIGURE_KEYS))
    return key, bounds


def _figure(key: str) -> ColumnElement[float | None]:
    """Most figures are not worth an index of their own."""
    if key in SORTED_BY:
        column: ColumnElement[float | None] = getattr(ShelfRow, key)
        return column
    return cast(ShelfRow.figures[key].astext, Float)


def _kept(query: RackQuery) -> list[ColumnElement[bool]]:
    """What search, types and ranges ask of a piece."""
    asked: list[ColumnElement[bool]] = [
        ShelfRow.words.contains(word, autoescape=True) for word in query.search.lower().split()
    ]
    if query.knife_types:
        asked.append(ShelfRow.knife_type.in_(query.knife_types))
    asked += [_figure(key).between(low, high) for key, (low, high) in query.ranges.items()]
    return asked


def _order(query: RackQuery) -> tuple[ColumnElement[Any], ...]:
    """In the order asked; knives without the figure come last either way."""
    if query.sort not in SORT_KEYS:
        raise InvalidValue("sort", query.sort, ", ".join(SORT_KEYS))
    by: ColumnElement[Any] = _NAMED_SORTS.get(query.sort) or _figure(query.sort)  # type: ignore[assignment]
    return (by.desc() if query.descending else by.asc()).nulls_last(), ShelfRow.piece_id.asc()


def count(db: Session, query: RackQuery) -> int:
    """How many knives search, types and ranges leave."""
    return _left(db, query)[0]


def _left(db: Session, query: RackQuery) -> tuple[int, float]:
    """How many, and how long the longest drawing of them is."""
    n, longest = db.execute(
        select(func.count(), func.max(ShelfRow.drawn_mm)).where(*_kept(query))
    ).one()
    return n, longest or 0.0


def page(db: Session, query: RackQuery) -> list[str]:
    """Rows of a page as the Rack shows them, each as JSON."""
    wanted = select(ShelfRow.row).where(*_kept(query)).order_by(*_order(query))
    return list(db.scalars(wanted.offset(query.offset).limit(query.limit)))


def chosen(
    db: Session, query: RackQuery, *, offset: int = 0, limit: int | None = None
) -> list[int]:
    """Ids of the knives that search, types and ranges leave, in the order asked."""
    wanted = select(ShelfRow.piece_id).where(*_kept(query)).order_by(*_order(query))
    return list(db.scalars(wanted.offset(offset).limit(limit)))


@dataclass(frozen=True)
class Spread:
    """The whole shelf at a glance: how many pieces of which type, figures in equal bins."""

    total: int
    longest_mm: float
    knife_types: dict[str, int]
    ranges: list[Range]


class Overview:
    """The spread of the shelf, looked at again where rows were written since.

    On a large one that takes as long as many lists, so distributions may be
    :data:`LOOKED_AGAIN_S` old, and nobody waits for somebody else's look. How many pieces there
    are is said as of now wherever nothing is behind: what was looked at while pieces waited to be
    worked out is looked at again once none does, and newer pieces are counted by their ids.
    """

    def __init__(self) -> None:
        self._spread, self._newest = Spread(0, 0.0, {}, []), 0
        self._before, self._looked, self._behind = 0, -math.inf, 0
        self._lock = threading.Lock()

    def spread(self, db: Session, behind: int = 0) -> Spread:
        """The spread while so many pieces are behind."""
        if not self._lately(behind):
            before, written = kept.written_since(db, self._before)
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
        total, longest = _left(db, RackQuery())
        self._newest = db.scalar(select(func.max(ShelfRow.piece_id))) or 0
        self._spread = Spread(total, longest, _types(db), _ranges(db))
        self._looked = time.monotonic()

    def _with_newer(self, db: Session) -> Spread:
        newer = db.execute(
            select(func.count(), func.max(ShelfRow.drawn_mm)).where(
                ShelfRow.piece_id > self._newest
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


def rack(db: Session, shelf: Shelf, overview: Overview, query: RackQuery) -> str:
    """One page of the shelf, with the ranges its filters are drawn from, as JSON."""
    behind = shelf.catch_up(db)
    rows = page(db, query)
    found = overview.spread(db, behind)
    shown, longest = _left(db, query) if query.narrowed else (found.total, found.longest_mm)
    head = RackHead(
        total=found.total, shown=shown, behind=behind, longest_mm=longest, ranges=found.ranges,
        knife_types=found.knife_types,
    )  # fmt: skip
    return f'{head.model_dump_json()[:-1]},"rows":[{",".join(rows)}]}}'


def _types(db: Session) -> dict[str, int]:
    query = select(ShelfRow.knife_type, func.count()).group_by(ShelfRow.knife_type)
    return {row[0]: row[1] for row in db.execute(query.order_by(func.min(ShelfRow.piece_id)))}


def _ranges(db: Session) -> list[Range]:
    ends: Sequence[Any] = db.execute(
        select(*(f(_figure(key)) for key in RANGE_KEYS for f in (func.min, func.max)))
    ).one()
    limits = {key: _rounded(*ends[2 * i : 2 * i + 2])
              for i, key in enumerate(RANGE_KEYS) if ends[2 * i] is not None}  # fmt: skip
    if not limits:
        return []
    counted = db.execute(union_all(*(_bins(key, *ends) for key, ends in limits.items())))
    counts = {key: [0] * BINS for key in limits}
    for key, at, n in counted:
        counts[key][at - 1] = n
    return [
        Range(key=key, label=RANGE_KEYS[key][0], unit=RANGE_KEYS[key][1], low=low, high=high,
              counts=counts[key])
        for key, (low, high) in limits.items()
    ]  # fmt: skip


def _bins(key: str, low: float, high: float) -> Select[Any]:
    """How many knives are in each bin; the highest figure is in the last one, as in a histogram."""
    figure = _figure(key)
    at = func.least(func.width_bucket(figure, low, high, BINS), BINS).label("at")
    counted = select(literal(key), at, func.count()).where(figure.is_not(None))
    return counted.group_by(at)


def _rounded(low: float, high: float) -> tuple[float, float]:
    """The range widened to round numbers, so that the slider's ends hold every knife."""
    step = 10 ** math.floor(math.log10(max(high - low, 1e-3))) / 2
    ends = round(math.floor(low / step) * step, 6), round(math.ceil(high / step) * step, 6)
    return (ends[0], ends[1]) if ends[1] > ends[0] else (ends[0], ends[0] + step)


def strip(db: Session, shelf: Shelf, ids: list[int]) -> list[StripKnife]:
    """The knives in hand, in their order; those that no longer exist are left off."""
    known = records.existing(db, ids)
    return [
        StripKnife(
            id=knife.piece.id, name=knife.piece.name, tag=knife.piece.tag, outline=knife.outline
        )
        for knife in (shelf.knives(db, known) if known else [])
    ]
