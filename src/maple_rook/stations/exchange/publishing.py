"""A knife shown to anybody: switched on per knife, what the shop chose, at a stable address."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.documents.knife_document import GROUPS, everything
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, version
from maple_rook.stations.exchange.schemas import PublicationIn, PublicationOut, ShowChoice
from maple_rook.store import pages, records
from maple_rook.store.exchange_tables import Publication
from maple_rook.store.publications import standing_of
from maple_rook.store.records import model_name
from maple_rook.store.tables import Piece

FIRST_SHOWN = (
    "drawing",
    "price",
    "making",
    "weight",
    "edge_length",
    "overall_length",
    "height_heel",
    "spine_heel",
    "edge_angle",
    "hardness",
)
"""What is ticked before anybody chose."""


def published(db: Session, piece_id: int) -> PublicationOut:
    """How a piece is shown, and what could be."""
    piece = records.pieces(db, [piece_id])[0]
    standing = standing_of(db, piece_id)
    measured = records.figures(db, [piece_id])[piece_id]
    return PublicationOut(
        on=standing is not None and standing.on,
        address=standing.address if standing else _address(db, piece),
        shown=standing.shown if standing else list(FIRST_SHOWN),
        words=standing.words if standing else "",
        choices=[
            *(ShowChoice(key=key, label=label, group=True) for key, label in GROUPS.items()),
            *(
                ShowChoice(key=q.key, label=q.label, group=False)
                for q in QUANTITIES.values()
                if q.key in measured
            ),
        ],
        etag=version(standing),
    )


def publish(
    db: Session, person: Somebody, piece_id: int, asked: PublicationIn, seen: IfMatch
) -> PublicationOut:
    """Say again how a piece is shown; what was said before stays in the record.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    piece_id : number of the piece.
    asked : what was asked, as it came in.
    seen : the version of it that the writer had in sight.
    """
    piece = records.get(db, Piece, "piece", piece_id, lock=True)
    unknown = set(asked.shown) - everything()
    if unknown:
        raise InvalidValue("shown", ", ".join(sorted(unknown)), "groups and quantities")
    standing = standing_of(db, piece_id)
    seen.check(standing)
    address = standing.address if standing else _address(db, piece)
    db.add(
        Publication(
            piece_id=piece_id,
            address=address,
            on=asked.on,
            shown=list(dict.fromkeys(asked.shown)),
            words=asked.words,
            person_id=person.id,
        )
    )
    db.commit()
    return published(db, piece_id)


def _address(db: Session, piece: Piece) -> str:
    """An address no other piece has: the model's name and the tag in small letters."""
    slug = pages.slug(f"{model_name(piece.model)} {piece.tag}", f"knife-{piece.id}")
    taken = set(
        db.scalars(
            select(Publication.address).where(
                Publication.address.startswith(slug), Publication.piece_id != piece.id
            )
        )
    )
    return slug if slug not in taken else f"{slug}-{piece.id}"
