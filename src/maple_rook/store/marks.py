"""What tells whether a piece has changed since it was last looked at."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import ScalarSelect, Select, func, select, text
from sqlalchemy.orm import Session

from maple_rook.store.people_tables import AuditEntry
from maple_rook.store.records import NotFound
from maple_rook.store.tables import (
    Claim,
    EdgeTrace,
    KnifeModel,
    Observation,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
)
from maple_rook.store.upkeep_tables import WorkEventRow, WorkJobRow, WorkOrderRow

Mark = tuple[object, ...]
"""When the piece was taken in, newest reading, observation, trace and work, how many voids."""
_TABLES = (Reading, Observation, EdgeTrace)


def snapshot(session: Session) -> str:
    """What the database has seen committed: the same text means that nothing at all was written.

    PostgreSQL's own snapshot of transactions; reading makes none.
    """
    return str(session.execute(text("SELECT pg_current_snapshot()::text")).scalar_one())


def marks(session: Session, ids: Sequence[int]) -> dict[int, Mark]:
    """A mark of each of these pieces, by id; by index, for the few that are asked for."""

    def newest(table: type[Reading | Observation | EdgeTrace]) -> ScalarSelect[int]:
        of_piece = select(func.max(table.id)).join(Sheet, Sheet.id == table.sheet_id)
        return of_piece.where(Sheet.piece_id == Piece.id).correlate(Piece).scalar_subquery()

    voids = (
        select(func.count())
        .select_from(ReadingVoid)
        .join(Reading, Reading.id == ReadingVoid.reading_id)
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .where(Sheet.piece_id == Piece.id)
        .correlate(Piece)
        .scalar_subquery()
    )
    worked = _work().where(WorkOrderRow.piece_id == Piece.id).correlate(Piece).scalar_subquery()
    seen = (newest(table) for table in _TABLES)
    query = select(Piece.id, Piece.created_at, *seen, worked, voids).where(Piece.id.in_(ids))
    found: dict[int, Mark] = {key: tuple(mark) for key, *mark in session.execute(query)}
    for key in ids:
        if key not in found:
            raise NotFound("piece", key)
    return found


def changed_models(session: Session, since: int | None) -> tuple[int, set[int]]:
    """The newest change written down, and the models changed after ``since``, claims included.

    A maker that was renamed is a change of all its models.
    """
    newest = session.scalar(select(func.max(AuditEntry.id))) or 0
    if since is None or newest == since:
        return newest, set()
    about = select(AuditEntry.of).where(AuditEntry.id > since, AuditEntry.id <= newest)
    changed = about.where(AuditEntry.act != "made")
    claims, models, makers = (
        {int(key) for key in session.scalars(query.where(AuditEntry.about == table))}
        for query, table in ((about, "claims"), (changed, "knife_models"), (changed, "makers"))
    )
    of_claims = select(Claim.model_id).where(Claim.id.in_(claims))
    of_makers = select(KnifeModel.id).where(KnifeModel.maker_id.in_(makers))
    return newest, {*models, *session.scalars(of_claims), *session.scalars(of_makers)}


def _work() -> Select[int]:
    """The newest event of any job."""
    return (
        select(func.max(WorkEventRow.id))
        .join(WorkJobRow, WorkJobRow.id == WorkEventRow.job_id)
        .join(WorkOrderRow, WorkOrderRow.id == WorkJobRow.order_id)
    )


def every_mark(session: Session) -> dict[int, Mark]:
    """The same marks of every piece, by id; each table is read through once."""
    parts = []
    for table in _TABLES:
        of_sheet = (
            select(table.sheet_id, func.max(table.id).label("id"))
            .group_by(table.sheet_id)
            .subquery()
        )
        of_piece = select(Sheet.piece_id, func.max(of_sheet.c.id).label("mark"))
        joined = of_piece.join(of_sheet, of_sheet.c.sheet_id == Sheet.id)
        parts.append(joined.group_by(Sheet.piece_id).subquery())
    worked = _work().with_only_columns(
        WorkOrderRow.piece_id, func.max(WorkEventRow.id).label("mark")
    )
    parts.append(worked.group_by(WorkOrderRow.piece_id).subquery())
    voided = (
        select(Sheet.piece_id, func.count().label("mark"))
        .select_from(ReadingVoid)
        .join(Reading, Reading.id == ReadingVoid.reading_id)
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .group_by(Sheet.piece_id)
        .subquery()
    )
    newest = (part.c.mark for part in parts)
    query = select(Piece.id, Piece.created_at, *newest, func.coalesce(voided.c.mark, 0))
    for part in (*parts, voided):
        query = query.outerjoin(part, part.c.piece_id == Piece.id)
    rows = session.execute(query.order_by(Piece.id)).all()
    return {row[0]: tuple(row[1:]) for row in rows}
