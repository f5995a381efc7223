"""The shelf: rows computed once per state of a piece, then filtered and sorted in memory."""

from __future__ import annotations

import math
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
from sqlalchemy.orm import Session

from maple_rook.core.cutting import STROKES
from maple_rook.core.errors import InvalidValue
from maple_rook.core.hardness import hardened_verdict
from maple_rook.core.knife_types import KNIFE_TYPES, Grind
from maple_rook.core.predict import PredictionArrays, predict_arrays
from maple_rook.core.quantities import required_quantities
from maple_rook.core.sheet import contradictions
from maple_rook.stations.claims import contradicted_claims
from maple_rook.stations.rack.schemas import RackOut, RackRow, Range, StripKnife, Whisker
from maple_rook.stations.schemas import FigureOut, PieceOut, piece_outline
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


class Shelf:
    """Rows of the whole rack, kept until a reading of theirs is taken or voided."""

    def __init__(self) -> None:
        self._rows: dict[int, RackRow] = {}
        self._marks: dict[int, object] = {}
        self._lock = threading.Lock()

    def rows(self, db: Session) -> list[RackRow]:
        """Every row, recomputing those whose piece changed."""
        with self._lock:
            all_pieces = records.pieces(db)
            revisions = records.revisions(db)
            marks = {p.id: (p.created_at, revisions.get(p.id)) for p in all_pieces}
            stale = [p for p in all_pieces if self._marks.get(p.id) != marks[p.id]]
            unusual = records.unusual_pieces(db) if stale else set()
            for start in range(0, len(stale), CHUNK):
                chunk = stale[start : start + CHUNK]
                for piece, row in zip(chunk, _rows(db, chunk, unusual), strict=True):
                    self._rows[piece.id], self._marks[piece.id] = row, marks[piece.id]
            return [self._rows[p.id] for p in all_pieces]


def _rows(db: Session, chunk: Sequence[Piece], unusual: set[int]) -> list[RackRow]:
    figures = records.figures(db, [p.id for p in chunk])
    blades = [records.blade(p, figures.get(p.id, {})) for p in chunk]
    predicted = predict_arrays(blades, strokes=_PUSH, draws=SHELF_DRAWS, shares=False)
    columns = {t.key: j for j, t in enumerate(predicted.targets)}
    rows = []
    for i, piece in enumerate(chunk):
        found = figures.get(piece.id, {})
        rows.append(
            RackRow(
                piece=PieceOut.of(piece),
                outline=piece_outline(piece, found),
                figures={k: FigureOut.of(found[k]) for k in SHOWN_FIGURES if k in found},
                ease=_whisker(predicted, i, columns["cutting_ease"]),
                months_to_stone=_whisker(predicted, i, columns["months_to_stone"]),
                flags=_flags(piece, found, piece.id in unusual),
                measured_share=_measured_share(piece, found),
            )
        )
    return rows


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


_SORTS: dict[str, Callable[[RackRow], float | str | None]] = {
    "name": lambda row: row.piece.name.lower(),
    "type": lambda row: KNIFE_TYPES[row.piece.knife_type].label,
    **{key: (lambda row, key=key: _value(row, key)) for key in RANGE_KEYS},  # type: ignore[misc]
}
SORT_KEYS = tuple(_SORTS)


def _value(row: RackRow, key: str) -> float | None:
    if key == "price":
        return row.piece.price
    if key in ("ease", "months_to_stone"):
        whisker: Whisker | None = getattr(row, key)
        return whisker.central if whisker else None
    return row.figures[key].mean if key in row.figures else None


def rack(db: Session, shelf: Shelf, query: RackQuery) -> RackOut:
    """One page of the shelf with the ranges its filters are drawn from."""
    if query.sort not in _SORTS:
        raise InvalidValue("sort", query.sort, ", ".join(_SORTS))
    every = shelf.rows(db)
    rows = [row for row in every if _matches(row, query)]
    key = _SORTS[query.sort]
    known = [row for row in rows if key(row) is not None]
    known.sort(key=key, reverse=query.descending)  # type: ignore[arg-type]
    rows = known + [row for row in rows if key(row) is None]
    types: dict[str, int] = {}
    for row in every:
        types[row.piece.knife_type] = types.get(row.piece.knife_type, 0) + 1
    return RackOut(
        total=len(every),
        shown=len(rows),
        rows=rows[query.offset : query.offset + query.limit],
        ranges=_ranges(every),
        knife_types=types,
    )


def _matches(row: RackRow, query: RackQuery) -> bool:
    if query.knife_types and row.piece.knife_type not in query.knife_types:
        return False
    for key, (low, high) in query.ranges.items():
        value = _value(row, key)
        if value is None or not low <= value <= high:
            return False
    piece = row.piece
    text = " ".join(
        (piece.name, KNIFE_TYPES[piece.knife_type].label, piece.steel or "", piece.construction,
         piece.grind.replace("_", " "), *row.flags)
    ).lower()  # fmt: skip
    return all(word in text for word in query.search.lower().split())


def _ranges(rows: list[RackRow]) -> list[Range]:
    found = []
    for key, (label, unit) in RANGE_KEYS.items():
        values = [v for row in rows if (v := _value(row, key)) is not None]
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
