"""A page of the Rack, and the knives in hand."""

from __future__ import annotations

from sqlalchemy.orm import Session

from maple_rook.shelf.overview import Overview
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import ShelfQuery, left, page
from maple_rook.stations.rack.schemas import RackHead, StripKnife
from maple_rook.store import records


def rack(db: Session, shelf: Shelf, overview: Overview, query: ShelfQuery) -> str:
    """One page of the shelf, with the ranges its filters are drawn from, as JSON."""
    behind = shelf.catch_up(db)
    rows = page(db, query)
    found = overview.spread(db, behind)
    shown, longest = left(db, query) if query.narrowed else (found.total, found.longest_mm)
    head = RackHead(
        total=found.total,
        shown=shown,
        behind=behind,
        longest_mm=longest,
        ranges=found.ranges(query.food_mix),
        knife_types=found.knife_types,
    )
    return f'{head.model_dump_json()[:-1]},"rows":[{",".join(rows)}]}}'


def strip(db: Session, shelf: Shelf, ids: list[int]) -> list[StripKnife]:
    """The knives in hand, in their order; those that no longer exist are left off."""
    known = records.existing(db, ids)
    return [
        StripKnife(
            id=knife.piece.id, name=knife.piece.name, tag=knife.piece.tag, outline=knife.outline
        )
        for knife in (shelf.knives(db, known) if known else [])
    ]
