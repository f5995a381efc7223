"""Which pieces the shelf has to recalculate, and what it knows of the others."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from sqlalchemy import (
    Row,
    Select,
    delete,
    func,
    literal,
    or_,
    select,
    text,
    tuple_,
    union,
    update,
)
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.store.records import NotFound
from maple_rook.store.shelf_tables import QuarantinedPiece, ShelfClaim, ShelfRow, ShelfStale
from maple_rook.store.tables import Piece

Mark = tuple[int | None, int]
"""How often the piece was calculated after a change, and how many changes came since."""

_HELD = text("""
    WITH waiting AS MATERIALIZED (SELECT unnest(CAST(:ids AS integer[])) AS piece_id)
    SELECT piece_id FROM waiting WHERE pg_try_advisory_xact_lock(84202, piece_id) LIMIT :most
""")
_UP_TO_DATE = text("""
    SELECT NOT (EXISTS (SELECT FROM shelf_stale)
                OR EXISTS (SELECT FROM shelf WHERE model_version < :now)
                OR EXISTS (SELECT FROM shelf WHERE model_version > :now)
                OR EXISTS (SELECT FROM shelf_quarantine WHERE model_version <> :now))
""")
_WRITTEN = text("""
    SELECT pg_snapshot_xmin(pg_current_snapshot())::text::bigint,
           EXISTS (SELECT FROM shelf WHERE written >= :before)
""")
_NOW: dict[str, Any] = {
    "written": text("pg_current_xact_id()::text::bigint"),
    "written_at": func.clock_timestamp(),
}
_MOMENT = text("SELECT pg_current_snapshot()::text, pg_current_xact_id_if_assigned() IS NULL")


class Changed(NamedTuple):
    """Pieces of which the shelf wrote a row, and what to ask with for those of later.

    ``places`` are the transaction that wrote a row and the piece, in that order.
    """

    places: list[tuple[int, int]]
    until: int


def changed_since(
    db: Session, after: tuple[int, int], most: int, since: dt.datetime | None = None
) -> Changed:
    """The first pieces written after a place, by the transaction that wrote them.

    Only transactions before which none is open any more: a slow one is not passed over. ``since``
    leaves out what was written before a moment.
    """
    until, _ = written_since(db, 0)
    place = tuple_(ShelfRow.written, ShelfRow.piece_id)
    query = select(ShelfRow.written, ShelfRow.piece_id).where(
        place > tuple_(*map(literal, after)), ShelfRow.written < until
    )
    if since is not None:
        query = query.where(ShelfRow.written_at >= since)
    rows = db.execute(query.order_by(ShelfRow.written, ShelfRow.piece_id).limit(most))
    return Changed([(written, key) for written, key in rows], until)


def moment(db: Session) -> str | None:
    """What the database has seen committed: the same text means that nothing at all was written.

    PostgreSQL's own snapshot of transactions; reading makes none. None in a transaction that has
    written itself.
    """
    snapshot, only_reads = db.execute(_MOMENT).one()
    return snapshot if only_reads else None


def up_to_date(db: Session, model_version: str) -> bool:
    """Whether nothing was written of any piece since, and all were tried with this."""
    return bool(db.scalar(_UP_TO_DATE, {"now": model_version}))


def written_since(db: Session, before: int) -> tuple[int, bool]:
    """What to ask with next time, and whether rows were written since ``before`` (0: ever).

    Whatever a later snapshot sees and this one does not was written by that transaction or later.
    """
    now, written = db.execute(_WRITTEN, {"before": before}).one()
    return now, written


def marks(db: Session, ids: Sequence[int]) -> dict[int, Mark]:
    """By piece, what is another one as soon as anything of it was written."""
    waiting = (
        select(func.count())
        .where(ShelfStale.piece_id == Piece.id)
        .correlate(Piece)
        .scalar_subquery()
    )
    query = (
        select(Piece.id, ShelfRow.version, waiting)
        .outerjoin(ShelfRow, ShelfRow.piece_id == Piece.id)
        .where(Piece.id.in_(ids))
    )
    found = {key: (version, n) for key, version, n in db.execute(query)}
    for key in ids:
        if key not in found:
            raise NotFound("piece", key)
    return found


def behind(db: Session, model_version: str) -> int:
    """How many pieces are to be calculated."""
    found = union(select(ShelfStale.piece_id), *_of_another_version(model_version)).subquery()
    return db.scalar(select(func.count()).select_from(found)) or 0


def waiting(db: Session, model_version: str, most: int, *, newest: bool = False) -> list[int]:
    """Pieces to be calculated: first those that changed, in turn or the newest first."""
    order = ShelfStale.id.desc() if newest else ShelfStale.id
    found = list(dict.fromkeys(db.scalars(select(ShelfStale.piece_id).order_by(order).limit(most))))
    for other in _of_another_version(model_version):
        if len(found) < most:
            (column,) = other.selected_columns
            found += db.scalars(other.where(column.not_in(found)).limit(most - len(found)))
    return found


def _of_another_version(model_version: str) -> tuple[Select[int], Select[int]]:
    """Pieces on the shelf (two looks at the index instead of one at the table), and put aside."""
    before_or_after = or_(
        ShelfRow.model_version < model_version, ShelfRow.model_version > model_version
    )
    return (
        select(ShelfRow.piece_id).where(before_or_after),
        select(QuarantinedPiece.piece_id).where(QuarantinedPiece.model_version != model_version),
    )


def hold(db: Session, ids: Iterable[int], most: int) -> list[int]:
    """Up to so many of the pieces that nobody else calculates; held until the transaction ends."""
    return list(db.scalars(_HELD, {"ids": list(ids), "most": most}))


def stale_lines(db: Session, ids: Sequence[int]) -> dict[int, list[int]]:
    """What is written of these pieces as changed, by piece; look at the record after this."""
    found: dict[int, list[int]] = {}
    query = select(ShelfStale.piece_id, ShelfStale.id).where(ShelfStale.piece_id.in_(ids))
    for piece, line in db.execute(query):
        found.setdefault(piece, []).append(line)
    return found


def put(
    db: Session,
    rows: Sequence[Mapping[str, Any]],
    claims: Sequence[Mapping[str, Any]],
    lines: Mapping[int, Sequence[int]],
) -> None:
    """Write pieces as they were calculated, and take away what said that they had changed."""
    ids = [row["piece_id"] for row in rows]
    made = insert(ShelfRow)
    values = {c.name: made.excluded[c.name] for c in ShelfRow.__table__.columns}
    values |= {"version": ShelfRow.version + made.excluded.version, **_NOW}
    upsert = made.on_conflict_do_update(index_elements=[ShelfRow.piece_id], set_=values)
    db.execute(upsert, [{**row, "version": int(row["piece_id"] in lines)} for row in rows])
    db.execute(delete(ShelfClaim).where(ShelfClaim.piece_id.in_(ids)))
    if claims:
        db.execute(insert(ShelfClaim), list(claims))
    db.execute(delete(QuarantinedPiece).where(QuarantinedPiece.piece_id.in_(ids)))
    _taken_up(db, ids, lines)


def _taken_up(db: Session, ids: Iterable[int], lines: Mapping[int, Sequence[int]]) -> None:
    done = [line for key in ids for line in lines.get(key, ())]
    db.execute(delete(ShelfStale).where(ShelfStale.id == func.any(done)))


def quarantine(
    db: Session, why: Mapping[int, str], lines: Mapping[int, Sequence[int]], model_version: str
) -> None:
    """Add entry which pieces cannot be calculated as they are now, so that they do not wait.

    Lists show what was known of them; nothing is decided with it.
    """
    made = insert(QuarantinedPiece)
    again = made.on_conflict_do_update(
        index_elements=[QuarantinedPiece.piece_id],
        set_={
            "model_version": made.excluded.model_version,
            "why": made.excluded.why,
            "since": func.now(),
        },
    )
    rows = [
        {"piece_id": key, "model_version": model_version, "why": said} for key, said in why.items()
    ]
    db.execute(again, rows)
    changed = update(ShelfRow).where(ShelfRow.piece_id.in_(why))
    values = {"model_version": model_version, "version": ShelfRow.version + 1, "central": []}
    db.execute(changed.values({**values, **_NOW}))
    _taken_up(db, why, lines)


def quarantined(db: Session) -> Sequence[Row[int, str, str]]:
    """Pieces that could not be calculated: number, tag, why."""
    query = select(QuarantinedPiece.piece_id, Piece.tag, QuarantinedPiece.why).join(
        Piece, Piece.id == QuarantinedPiece.piece_id
    )
    return db.execute(query.order_by(Piece.tag)).all()


def quarantined_count(db: Session, model_version: str) -> int:
    """How many were tried with this and could not be calculated."""
    tried = select(func.count()).where(QuarantinedPiece.model_version == model_version)
    return db.scalar(tried) or 0


def make_all_wait(db: Session) -> None:
    """Mark every piece for recalculation."""
    db.execute(insert(ShelfStale).from_select(["piece_id"], select(Piece.id).order_by(Piece.id)))


def settle(db: Session) -> None:
    """Rows from another cluster (restored, moved) count as written before now."""
    db.execute(
        text("""
        UPDATE shelf SET written = pg_current_xact_id()::text::bigint
         WHERE written > pg_current_xact_id()::text::bigint
    """)
    )
