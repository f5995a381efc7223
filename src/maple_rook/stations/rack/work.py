"""The shelf: rows computed once per state of a piece, then filtered and sorted in memory."""

from __future__ import annotations

import math
import threading
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from sqlalchemy.orm import Session

from maple_rook.core.cutting import STROKES
from maple_rook.core.errors import InvalidValue
from maple_rook.core.hardness import hardened_verdict
from maple_rook.core.knife_types import KNIFE_TYPES, Grind
from maple_rook.core.outline import outline
from maple_rook.core.predict import PredictionArrays, predict_arrays
from maple_rook.core.quantities import required_quantities
from maple_rook.core.sheet import contradictions
from maple_rook.stations.claims import contradicted_claims
from maple_rook.stations.rack.schemas import RackOut, RackRow, Range, StripKnife, Whisker
from maple_rook.stations.schemas import FigureOut, OutlineOut, PieceOut, piece_outline
from maple_rook.store import records
from maple_rook.store.tables import Piece

SHELF_DRAWS = 128
_PUSH = (STROKES["push"],)
CHUNK = 500
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


@dataclass
class ShelfKnife:
    """What the shelf knows of one piece until a reading of it is taken or voided."""

    mark: object
    piece: PieceOut
    figures: records.Figures
    ease: Whisker | None
    months_to_stone: Whisker | None
    flags: list[str]
    text: str

    @cached_property
    def row(self) -> RackRow:
        """The row as it is sent; drawn when it is first shown."""
        drawn = outline(self.figures, self.piece.knife_type, self.piece.nominal_mm)
        return RackRow(
            piece=self.piece,
            outline=OutlineOut.of(drawn),
            figures={k: FigureOut.of(f) for k, f in self.figures.items() if k in SHOWN_FIGURES},
            ease=self.ease,
            months_to_stone=self.months_to_stone,
            flags=self.flags,
        )

    def value(self, key: str) -> float | None:
        """The figure a range or a sort asks for; None where there is none."""
        if key == "price":
            return self.piece.price
        if key in ("ease", "months_to_stone"):
            whisker: Whisker | None = getattr(self, key)
            return whisker.central if whisker else None
        return self.figures[key].mean if key in self.figures else None


class Shelf:
    """The whole rack in memory, each piece recomputed only when its readings change."""

    def __init__(self) -> None:
        self._known: dict[int, ShelfKnife] = {}
        self._lock = threading.Lock()

    def knives(self, db: Session) -> list[ShelfKnife]:
        """Every knife as it stands in the record now, by id."""
        with self._lock:
            marks = records.marks(db)
            stale = [
                key for key, mark in marks.items()
                if key not in self._known or self._known[key].mark != mark
            ]  # fmt: skip
            unusual = records.unusual_pieces(db) if stale else set()
            for start in range(0, len(stale), CHUNK):
                chunk = records.pieces(db, stale[start : start + CHUNK], claims=True)
                for knife in _computed(db, chunk, marks, unusual):
                    self._known[knife.piece.id] = knife
            return [self._known[key] for key in marks]


def _computed(
    db: Session, chunk: Sequence[Piece], marks: dict[int, object], unusual: set[int]
) -> Iterator[ShelfKnife]:
    figures = records.figures(db, [p.id for p in chunk])
    blades = [records.blade(p, figures.get(p.id, {})) for p in chunk]
    predicted = predict_arrays(blades, strokes=_PUSH, draws=SHELF_DRAWS, shares=False)
    columns = {t.key: j for j, t in enumerate(predicted.targets)}
    for i, piece in enumerate(chunk):
        found = figures.get(piece.id, {})
        shown, flags = PieceOut.of(piece), _flags(piece, found, piece.id in unusual)
        yield ShelfKnife(
            mark=marks[piece.id],
            piece=shown,
            figures=found,
            ease=_whisker(predicted, i, columns["cutting_ease"]),
            months_to_stone=_whisker(predicted, i, columns["months_to_stone"]),
            flags=flags,
            text=_search_text(shown, flags),
        )


def _search_text(piece: PieceOut, flags: list[str]) -> str:
    return " ".join(
        (piece.name, piece.steel or "", piece.construction, piece.grind.replace("_", " "), *flags)
    ).lower()


def _whisker(arrays: PredictionArrays, i: int, j: int) -> Whisker | None:
    central = float(arrays.central[i, j])
    if math.isnan(central):
        return None
    return Whisker(central=central, low=float(arrays.low[i, j]), high=float(arrays.high[i, j]))


def _measured_share(piece: Piece, figures: records.Figures) -> float:
    required = required_quantities(piece.model.knife_type, Grind(piece.model.grind))
    return sum(key in figures for key in required) / len(required)


def _flags(piece: Piece, figures: records.Figures, unusual: bool) -> list[str]:
    flags = []
    if not figures:
        flags.append("not measured")
    elif _measured_share(piece, figures) < 1:
        flags.append("half measured")
    if (h := figures.get("hardness")) and hardened_verdict(h.mean, h.expanded) == "not hardened":
        flags.append("not hardened")
    flags += [f"claim contradicted: {label}" for label in contradicted_claims(piece, figures)]
    if contradictions(figures):
        flags.append("figures contradict")
    if unusual:
        flags.append("unusual, confirmed")
    if piece.condition != "new":
        flags.append(piece.condition)
    return flags


_NAMED_SORTS: dict[str, Callable[[ShelfKnife], str]] = {
    "name": lambda knife: knife.piece.name.lower(),
    "type": lambda knife: KNIFE_TYPES[knife.piece.knife_type].label,
}
SORT_KEYS = (*_NAMED_SORTS, *RANGE_KEYS)


def rack(db: Session, shelf: Shelf, query: RackQuery) -> RackOut:
    """One page of the shelf with the ranges its filters are drawn from."""
    if query.sort not in SORT_KEYS:
        raise InvalidValue("sort", query.sort, ", ".join(SORT_KEYS))
    every = shelf.knives(db)
    kept = _sorted([knife for knife in every if _matches(knife, query)], query)
    return RackOut(
        total=len(every),
        shown=len(kept),
        rows=[knife.row for knife in kept[query.offset : query.offset + query.limit]],
        ranges=_ranges(every),
        knife_types=Counter(knife.piece.knife_type for knife in every),
    )


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


def strip(db: Session, ids: list[int]) -> list[StripKnife]:
    """The knives in hand, in their order; those that no longer exist are left off."""
    hung = records.pieces(db, records.existing(db, ids))
    figures = records.figures(db, [p.id for p in hung])
    return [
        StripKnife(
            id=p.id,
            name=records.piece_name(p),
            tag=p.tag,
            outline=piece_outline(p, figures.get(p.id, {})),
        )
        for p in hung
    ]
