"""The shelf: rows computed once per state of a piece, then filtered and sorted in memory."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.knife_types import KNIFE_TYPES
from maple_rook.core.quantities import QUANTITIES
from maple_rook.stations.rack.schemas import RackOut, RackRow, Range, StripKnife
from maple_rook.stations.schemas import FigureOut
from maple_rook.stations.shelf import Shelf, ShelfKnife
from maple_rook.store import records

BINS = 16
SHOWN_FIGURES = ("hardness", "edge_length", "weight", "height_heel", "spine_heel", "edge_angle",
                 "thickness_behind_edge")  # fmt: skip
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


FIGURE_KEYS = (*RANGE_KEYS, *(key for key in QUANTITIES if key not in RANGE_KEYS))
"""All that a range or a sort may ask for."""
_NAMED_SORTS: dict[str, Callable[[ShelfKnife], str]] = {
    "name": lambda knife: knife.piece.name.lower(),
    "type": lambda knife: KNIFE_TYPES[knife.piece.knife_type].label,
}
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


def rack(db: Session, shelf: Shelf, query: RackQuery) -> RackOut:
    """One page of the shelf with the ranges its filters are drawn from."""
    every = shelf.knives(db)
    kept = _chosen(every, query)
    return RackOut(
        total=len(every),
        shown=len(kept),
        rows=[_row(knife) for knife in kept[query.offset : query.offset + query.limit]],
        ranges=_ranges(every),
        knife_types=Counter(knife.piece.knife_type for knife in every),
    )


def chosen(db: Session, shelf: Shelf, query: RackQuery) -> list[ShelfKnife]:
    """Every knife that search, types and ranges leave, in the order asked."""
    return _chosen(shelf.knives(db), query)


def _chosen(every: list[ShelfKnife], query: RackQuery) -> list[ShelfKnife]:
    if query.sort not in SORT_KEYS:
        raise InvalidValue("sort", query.sort, ", ".join(SORT_KEYS))
    return _sorted([knife for knife in every if _matches(knife, query)], query)


def _sorted(knives: list[ShelfKnife], query: RackQuery) -> list[ShelfKnife]:
    """In the order asked; knives without the figure come last either way."""
    if query.sort in _NAMED_SORTS:
        return sorted(knives, key=_NAMED_SORTS[query.sort], reverse=query.descending)
    valued = [(knife.value(query.sort), knife) for knife in knives]
    known = [(value, knife) for value, knife in valued if value is not None]
    known.sort(key=lambda pair: pair[0], reverse=query.descending)
    return [knife for _, knife in known] + [knife for value, knife in valued if value is None]


def _matches(knife: ShelfKnife, query: RackQuery) -> bool:
    if query.knife_types and knife.piece.knife_type not in query.knife_types:
        return False
    for key, (low, high) in query.ranges.items():
        value = knife.value(key)
        if value is None or not low <= value <= high:
            return False
    return all(word in knife.text for word in query.search.lower().split())


def _ranges(knives: list[ShelfKnife]) -> list[Range]:
    found = []
    for key, (label, unit) in RANGE_KEYS.items():
        values = [v for knife in knives if (v := knife.value(key)) is not None]
        if not values:
            continue
        low, high = _rounded(min(values), max(values))
        counts, _ = np.histogram(values, bins=BINS, range=(low, high))
        found.append(
            Range(key=key, label=label, unit=unit, low=low, high=high, counts=counts.tolist())
        )
    return found


def _rounded(low: float, high: float) -> tuple[float, float]:
    """The range widened to round numbers, so that the slider's ends hold every knife."""
    step = 10 ** math.floor(math.log10(max(high - low, 1e-3))) / 2
    ends = round(math.floor(low / step) * step, 6), round(math.ceil(high / step) * step, 6)
    return (ends[0], ends[1]) if ends[1] > ends[0] else (ends[0], ends[0] + step)


def _row(knife: ShelfKnife) -> RackRow:
    return RackRow(
        piece=knife.piece,
        outline=knife.outline,
        figures={k: FigureOut.of(f) for k, f in knife.figures.items() if k in SHOWN_FIGURES},
        ease=knife.ease,
        months_to_stone=knife.months_to_stone,
        flags=knife.flags,
    )


def strip(db: Session, shelf: Shelf, ids: list[int]) -> list[StripKnife]:
    """The knives in hand, in their order; those that no longer exist are left off."""
    known = records.existing(db, ids)
    return [
        StripKnife(
            id=knife.piece.id, name=knife.piece.name, tag=knife.piece.tag, outline=knife.outline
        )
        for knife in (shelf.knives(db, known) if known else [])
    ]
