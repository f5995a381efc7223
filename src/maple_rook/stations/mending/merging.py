"""What was entered twice made one: makers, models, pieces."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from sqlalchemy import Table, select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.routine.stock import Stock
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.stations.mending.schemas import MendedOut, MergeIn
from maple_rook.stations.mending.writing import written
from maple_rook.store import records
from maple_rook.store.amendments import Act, Changes, Subject
from maple_rook.store.exchange_tables import Publication
from maple_rook.store.shelf_tables import QuarantinedPiece, ShelfClaim, ShelfRow, ShelfStale
from maple_rook.store.tables import Base, KnifeModel, Maker, Piece

_STAY = {t.__tablename__ for t in (ShelfRow, ShelfClaim, ShelfStale, QuarantinedPiece, Piece)}
"""What is calculated from a piece is not moved, nor is the row of the piece itself."""


def merge_makers(db: Session, person: Somebody, maker_id: int, asked: MergeIn) -> MendedOut:
    """Give a maker's models to another, who was entered twice; models of one name become one."""
    row, into = _both(db, Maker, "maker", maker_id, asked.into)
    changes = Changes(db)
    mine, theirs = (
        db.scalars(select(KnifeModel).where(KnifeModel.maker_id == maker.id)).all()
        for maker in (row, into)
    )
    known = {_known_by(model): model for model in theirs}
    for one in mine:
        same = known.get(_known_by(one))
        if same is None:
            changes.set(one, maker_id=into.id)
        else:
            _merge_model(db, one, same, changes)
    db.flush()
    name = f"{row.name} into {into.name}"
    changes.remove(row)
    return written(db, person, Act.MERGE, Subject.MAKER, into.id, name, changes, asked.reason)


def _known_by(row: KnifeModel) -> tuple[str, str, float]:
    return row.line.casefold(), row.knife_type, row.nominal_mm


def merge_models(db: Session, person: Somebody, model_id: int, asked: MergeIn) -> MendedOut:
    """Give a model's pieces to another that is the same; claims the other lacks go along."""
    row, into = _both(db, KnifeModel, "model", model_id, asked.into)
    name = f"{records.model_name(row)} into {records.model_name(into)}"
    changes = Changes(db)
    _merge_model(db, row, into, changes)
    return written(db, person, Act.MERGE, Subject.MODEL, into.id, name, changes, asked.reason)


def _merge_model(db: Session, row: KnifeModel, into: KnifeModel, changes: Changes) -> None:
    for one in db.scalars(select(Piece).where(Piece.model_id == row.id)):
        changes.set(one, model_id=into.id)
    claimed = {claim.quantity for claim in into.claims}
    for claim in list(row.claims):
        if claim.quantity in claimed:
            row.claims.remove(claim)
            changes.remove(claim)
        else:
            changes.set(claim, model_id=into.id)
    db.flush()
    db.expire(row, ["claims"])
    db.expire(into, ["claims"])
    changes.remove(row)


def merge_pieces(db: Session, person: Somebody, piece_id: int, asked: MergeIn) -> MendedOut:
    """Give everything of a piece to another: one knife that was entered twice. Its tag leads on."""
    row, into = _both(db, Piece, "piece", piece_id, asked.into)
    if into.merged_into_id is not None or row.merged_into_id is not None:
        raise Conflict("One of them is merged into another already.")
    shown = select(Publication.id).where(Publication.piece_id == row.id, Publication.on)
    if db.scalar(shown.limit(1)):
        raise Conflict("It has a public page: take that down first.")
    changes = Changes(db)
    for table, column in _of_pieces():
        found = select(table.c.id).where(table.c[column] == row.id).order_by(table.c.id)
        for key in db.scalars(found).all():
            changes.move(table, column, key, into.id)
    changes.set(row, merged_into_id=into.id, stock=Stock.RETIRED.value)
    name = f"{row.tag} into {into.tag}"
    return written(db, person, Act.MERGE, Subject.PIECE, into.id, name, changes, asked.reason)


def _of_pieces() -> Iterable[tuple[Table, str]]:
    """Every table of the record whose rows belong to a piece, and the column that says to which."""
    for table in Base.metadata.sorted_tables:
        if table.name in _STAY or table.name == Publication.__tablename__:
            continue
        for column in table.columns:
            if any(key.target_fullname == "pieces.id" for key in column.foreign_keys):
                yield table, column.key


def _both(db: Session, of: type[Any], what: str, key: int, into: int) -> tuple[Any, Any]:
    if key == into:
        raise InvalidValue("into", into, f"another {what}")
    first, second = sorted((key, into))
    rows = {k: records.get(db, of, what, k, lock=True) for k in (first, second)}
    return rows[key], rows[into]
