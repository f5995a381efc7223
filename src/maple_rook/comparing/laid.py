"""What lies on the Board: pieces, or the models they are pieces of."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.comparing.schemas import LaidIn
from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.model_blade import model_blade
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.store.tables import Piece

LETTERS = "ABCDEF"
"""What the knives on the Board are called, in the order of the strip."""


@dataclass(frozen=True)
class Laid:
    """A knife on the Board; ``blade`` is its own, or the next piece of its model."""

    knife: ShelfKnife
    blade: Blade
    pieces: list[str]

    @property
    def candidate(self) -> Candidate:
        return replace(self.knife.candidate, blade=self.blade)


def laid(db: Session, shelf: Shelf, piece_ids: Sequence[int], *, models: bool) -> list[Laid]:
    """The knives asked for in their order; a model's figures rest on its new, measured pieces."""
    knives = shelf.knives(db, piece_ids)
    if not models:
        return [Laid(k, k.blade, [k.piece.tag]) for k in knives]
    pieces = pieces_of_models(db, {k.model_id for k in knives})
    every = shelf.knives(db, sorted(key for keys in pieces.values() for key in keys))
    return [_of_model(k, [e for e in every if e.model_id == k.model_id]) for k in knives]


def pieces_of_models(db: Session, model_ids: Collection[int]) -> dict[int, list[int]]:
    """The pieces of each model in their order, sold ones too: they tell of the model as well."""
    query = select(Piece.model_id, Piece.id).where(Piece.model_id.in_(model_ids))
    found: dict[int, list[int]] = {}
    for model_id, key in db.execute(query.order_by(Piece.id)):
        found.setdefault(model_id, []).append(key)
    return found


def laid_out(db: Session, shelf: Shelf, asked: LaidIn) -> list[Laid]:
    """What is asked for, each knife once."""
    return laid(db, shelf, list(dict.fromkeys(asked.pieces)), models=asked.models)


def _of_model(knife: ShelfKnife, pieces: Sequence[ShelfKnife]) -> Laid:
    """Used pieces were sharpened otherwise, so they count only where there is no new one."""
    measured = [p for p in pieces if p.figures]
    fresh = [p for p in measured if p.piece.condition == "new"] or measured or [knife]
    return Laid(knife, model_blade([p.blade for p in fresh]), [p.piece.tag for p in fresh])
