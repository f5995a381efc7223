"""What the shop says about showing a piece at an address of its own; its newest word stands."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from maple_rook.store.exchange_tables import Publication
from maple_rook.store.records import NotFound


def standing_of(db: Session, piece_id: int) -> Publication | None:
    """What the shop last said about showing a piece."""
    return standing_at(db, [piece_id]).get(piece_id)


def standing_at(db: Session, piece_ids: Sequence[int] | None = None) -> dict[int, Publication]:
    """The same of several pieces, or of all; those it never said anything of are left out."""
    newest = (
        select(Publication)
        .ext(distinct_on(Publication.piece_id))
        .order_by(Publication.piece_id, Publication.id.desc())
    )
    if piece_ids is not None:
        newest = newest.where(Publication.piece_id.in_(piece_ids))
    return {standing.piece_id: standing for standing in db.scalars(newest)}


def on_at(db: Session, piece_ids: Sequence[int] | None = None) -> dict[int, str]:
    """The addresses of those pieces that have a page."""
    found = standing_at(db, piece_ids)
    return {piece: standing.address for piece, standing in found.items() if standing.on}


def at_address(db: Session, address: str) -> Publication:
    """What is shown at an address; a page that is off is nowhere."""
    piece = db.scalar(select(Publication.piece_id).where(Publication.address == address).limit(1))
    standing = standing_of(db, piece) if piece is not None else None
    if standing is None or not standing.on or standing.address != address:
        raise NotFound("page", address)
    return standing
