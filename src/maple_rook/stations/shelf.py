"""The shelf: what every station shows of a knife, computed once per state of the piece."""

from __future__ import annotations

import math
import threading
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from sqlalchemy.orm import Session

from maple_rook.core.blade import Blade
from maple_rook.core.built import spots
from maple_rook.core.candidates import Candidate, Row, Traits, row, stacked
from maple_rook.core.checks import contradictions
from maple_rook.core.comparing import ClaimVerdict
from maple_rook.core.cutting import STROKES, Food
from maple_rook.core.finish_work import Shelf as Finished
from maple_rook.core.hardness import MINIMUM_HARDENED_HRC
from maple_rook.core.hardness_session import Hardened, hardened
from maple_rook.core.knife_types import Grind
from maple_rook.core.life_model import PUBLISHED_LIFE, Basis, LifeModel
from maple_rook.core.predict import PredictionArrays, predict_arrays
from maple_rook.core.stops import required_quantities
from maple_rook.core.uncertainty import Array, Figure
from maple_rook.stations.claims import ClaimOut, judged_claims
from maple_rook.stations.reckoning import Reckoning
from maple_rook.stations.schemas import (
    OutlineOut,
    PieceOut,
    Points,
    blade_outline,
    section_polygon,
)
from maple_rook.stations.shape import ProfileOut, profile_of
from maple_rook.store import marks as piece_marks
from maple_rook.store import records
from maple_rook.store.foods import shop_foods
from maple_rook.store.tables import Piece
from maple_rook.store.work_orders import finishes

SHELF_DRAWS = 128
CHUNK = 500
_PUSH = (STROKES["push"],)
_SHOWN = ("cutting_ease", "months_to_stone")
DECIDES = ("months_to_stone", "release")
"""Figures kept of each knife for deciding between them, beside the forces."""


class Whisker(BaseModel):
    """A predicted figure on the shelf: likely value and 90 % interval."""

    central: float
    low: float
    high: float


@dataclass(eq=False)
class ShelfKnife:
    """What the shelf knows of one piece until a reading of it is taken or voided."""

    mark: object
    piece: PieceOut
    blade: Blade
    ease: Whisker | None
    months_to_stone: Whisker | None
    flags: list[str]
    text: str
    claims: list[ClaimOut]
    central: Array
    """Central forces of a push by food, N, then :data:`DECIDES`; NaN where there is none."""
    model_id: int

    @property
    def figures(self) -> Mapping[str, Figure]:
        return self.blade.figures

    @cached_property
    def outline(self) -> OutlineOut:
        """Drawn when it is first shown."""
        return OutlineOut.of(blade_outline(self.blade))

    @cached_property
    def profile(self) -> ProfileOut:
        """Laid on the board when it is first compared."""
        return profile_of(self.blade)

    @cached_property
    def section(self) -> Points | None:
        return section_polygon(self.blade)

    @cached_property
    def decides(self) -> Row:
        """What decides about it at the Counter, worked out when first asked for."""
        return row(self.candidate)

    @property
    def candidate(self) -> Candidate:
        """As it may be offered."""
        return Candidate(self.blade, self.piece.price, self.piece.handle)

    @property
    def model(self) -> str:
        """The model this is a piece of."""
        return self.piece.name.rpartition(" · ")[0]

    def value(self, key: str) -> float | None:
        """The figure a range or a sort asks for; None where there is none."""
        if key == "price":
            return self.piece.price
        if key in ("ease", "months_to_stone"):
            whisker: Whisker | None = getattr(self, key)
            return whisker.central if whisker else None
        return self.figures[key].mean if key in self.figures else None


@dataclass(frozen=True)
class ShelfTable:
    """The whole shelf in columns, pieces in the order in which they are offered: new ones first."""

    knives: list[ShelfKnife]
    decides: Traits
    central: Array
    models: NDArray[np.int64]


class Shelf:
    """The whole rack in memory, each piece recomputed only when its readings change."""

    def __init__(self, reckoning: Reckoning | None = None) -> None:
        self._reckoning = reckoning or Reckoning()
        self._life = PUBLISHED_LIFE
        self._known: dict[int, ShelfKnife] = {}
        self._foods: tuple[Food, ...] = ()
        self._snapshot = ""
        self._changes: int | None = None
        self._marks: dict[int, piece_marks.Mark] = {}
        self._looked_at: dict[int, piece_marks.Mark] | None = None
        self._tabled: list[ShelfKnife] = []
        self._table = ShelfTable([], stacked([]), np.zeros((0, 0)), np.zeros(0, dtype=np.int64))
        self._lock = threading.Lock()

    def knives(self, db: Session, ids: Sequence[int] | None = None) -> list[ShelfKnife]:
        """Every knife as it stands in the record now by id, or those asked in their order."""
        with self._lock:
            foods, life = shop_foods(db), self._reckoning.life(db, Basis.CALIBRATED)
            if foods != self._foods or not life.says_as(self._life):
                self._known.clear()
                self._looked_at = None
                self._foods, self._life = foods, life
            self._drop_changed_models(db)
            marks = self._every_mark(db) if ids is None else piece_marks.marks(db, ids)
            stale = [] if marks is self._looked_at else [
                key for key, mark in marks.items()
                if key not in self._known or self._known[key].mark != mark
            ]  # fmt: skip
            unusual = records.unusual_pieces(db) if stale else set()
            for start in range(0, len(stale), CHUNK):
                chunk = records.pieces(db, stale[start : start + CHUNK], claims=True)
                for knife in _computed(db, chunk, marks, unusual, foods, life):
                    self._known[knife.piece.id] = knife
            if ids is None:
                self._looked_at = marks
            return [self._known[key] for key in ids or marks]

    def _drop_changed_models(self, db: Session) -> None:
        """Compute the pieces of a model anew where it or its claims were changed, by anybody."""
        self._changes, models = piece_marks.changed_models(db, self._changes)
        if models:
            self._known = {k: v for k, v in self._known.items() if v.model_id not in models}
            self._looked_at = None

    def _every_mark(self, db: Session) -> dict[int, piece_marks.Mark]:
        """Marks of the whole shelf, read again only when anything was written since."""
        snapshot = piece_marks.snapshot(db)
        if snapshot != self._snapshot:
            self._marks = piece_marks.every_mark(db)
            self._snapshot = snapshot
        return self._marks

    def table(self, db: Session) -> ShelfTable:
        """Every knife of the shelf in columns; made again when one of them has changed."""
        every = self.knives(db)
        if every != self._tabled:  # knives not computed again are the same objects
            offered = sorted(every, key=lambda k: k.piece.condition != "new")
            self._tabled, self._table = (
                every,
                ShelfTable(
                    offered,
                    stacked([k.decides for k in offered]),
                    np.array([k.central for k in offered]),
                    np.array([k.model_id for k in offered], dtype=np.int64),
                ),
            )
        return self._table

    def reckoned_with(self, basis: Basis) -> tuple[tuple[Food, ...], LifeModel]:
        """Foods and edge-life models as they stood when knives were last asked for."""
        return self._foods, self._reckoning.last_life(basis)


def _computed(
    db: Session, chunk: Sequence[Piece], marks: Mapping[int, object], unusual: set[int],
    foods: tuple[Food, ...], life: LifeModel,
) -> Iterator[ShelfKnife]:  # fmt: skip
    figures = records.figures(db, [p.id for p in chunk])
    blades = records.blades(db, chunk, figures)
    finish = finishes(db, [p.id for p in chunk])
    predicted = predict_arrays(
        blades,
        foods=foods,
        strokes=_PUSH,
        draws=SHELF_DRAWS,
        shares=False,
        only=_SHOWN,
        life=life,
    )
    columns = {t.key: j for j, t in enumerate(predicted.targets)}
    decides = [*range(len(foods)), *(columns[key] for key in DECIDES)]
    for i, piece in enumerate(chunk):
        claims = judged_claims(piece, blades[i].figures)
        shown = PieceOut.of(piece)
        flags = _flags(piece, blades[i], claims, piece.id in unusual)
        if (state := finish[piece.id].shelf) in (Finished.NEEDS_WORK, Finished.RETURN):
            flags.append(state.value)
        yield ShelfKnife(
            mark=marks[piece.id],
            piece=shown,
            blade=blades[i],
            ease=_whisker(predicted, i, columns["cutting_ease"]),
            months_to_stone=_whisker(predicted, i, columns["months_to_stone"]),
            flags=flags,
            text=_search_text(shown, flags),
            claims=claims,
            central=predicted.central[i, decides],
            model_id=piece.model_id,
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


def _soft(figures: Mapping[str, Figure]) -> bool:
    """Whether the reading alone would say "not hardened"; where it stood is looked at after."""
    found = figures.get("hardness")
    return found is not None and found.mean + found.expanded < MINIMUM_HARDENED_HRC


def _flags(piece: Piece, blade: Blade, claims: list[ClaimOut], unusual: bool) -> list[str]:
    figures = dict(blade.figures)
    flags = []
    if not figures:
        flags.append("not measured")
    elif _measured_share(piece, figures) < 1:
        flags.append("half measured")
    if _soft(figures) and hardened(figures, spots(blade)).verdict is Hardened.NOT_HARDENED:
        flags.append("not hardened")
    flags += [f"claim contradicted: {c.label}" for c in claims
              if c.verdict is ClaimVerdict.CONTRADICTED]  # fmt: skip
    if contradictions(figures, Grind(piece.model.grind)):
        flags.append("figures contradict")
    if unusual:
        flags.append("unusual, confirmed")
    if piece.condition != "new":
        flags.append(piece.condition)
    return flags
