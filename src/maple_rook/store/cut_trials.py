"""The record's cut trials in the core's terms."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.prediction.cut_evidence import RecordedCut
from maple_rook.store import records
from maple_rook.store.cut_tables import CutMark, CutRow, CutSession
from maple_rook.store.tables import Shop


@dataclass(frozen=True)
class SessionSummary:
    """A session in a list: its row, its knives and foods in the order they came, its cuts."""

    row: CutSession
    pieces: tuple[int, ...]
    foods: tuple[str, ...]
    cuts: int


def sessions(db: Session, limit: int) -> list[SessionSummary]:
    """The newest sessions."""
    newest = select(CutSession).options(joinedload(CutSession.person))
    rows = list(db.scalars(newest.order_by(CutSession.id.desc()).limit(limit)))
    made = db.execute(
        select(CutRow.session_id, CutRow.piece_id, CutRow.food)
        .where(CutRow.session_id.in_([row.id for row in rows]))
        .order_by(CutRow.id)
    ).all()
    found = []
    for row in rows:
        mine = [(piece, food) for session, piece, food in made if session == row.id]
        pieces = tuple(dict.fromkeys(piece for piece, _ in mine))
        foods = tuple(dict.fromkeys(food for _, food in mine))
        found.append(SessionSummary(row, pieces, foods, len(mine)))
    return found


def recorded_cuts(db: Session, session_id: int | None = None) -> list[RecordedCut]:
    """Every cut of the record, or of one session, in the order they were made."""
    query = select(CutRow).options(joinedload(CutRow.session), joinedload(CutRow.instrument))
    if session_id is not None:
        query = query.where(CutRow.session_id == session_id)
    rows = list(db.scalars(query.order_by(CutRow.id)))
    if not rows:
        return []
    pieces = list(dict.fromkeys(row.piece_id for row in rows))
    made = records.blades(db, records.pieces(db, pieces), records.figures(db, pieces))
    blades = dict(zip(pieces, made, strict=True))
    aside = _set_aside(db, [row.id for row in rows])
    demo = bool(db.scalar(select(Shop.demo)))
    return [
        RecordedCut(
            row.id,
            row.session_id,
            row.piece_id,
            blades[row.piece_id],
            row.food,
            row.stroke,
            EdgeState(row.session.edge),
            row.lot,
            row.height_mm,
            row.width_mm,
            tuple(row.depth_mm),
            tuple(row.force_n),
            simulated=row.instrument is not None and row.instrument.stand_in and not demo,
            set_aside=aside.get(row.id, ""),
        )
        for row in rows
    ]


def _set_aside(db: Session, ids: Sequence[int]) -> dict[int, str]:
    query = (
        select(CutMark.cut_id, CutMark.reason)
        .where(CutMark.cut_id.in_(ids))
        .ext(distinct_on(CutMark.cut_id))
        .order_by(CutMark.cut_id, CutMark.id.desc())
    )
    return {cut: reason for cut, reason in db.execute(query) if reason}


def cut_mark(db: Session) -> tuple[int, int, tuple[int, ...]]:
    """Changes with any cut; the knives that were cut with."""
    newest = select(func.max(CutRow.id)).scalar_subquery()
    marks = select(func.max(CutMark.id)).scalar_subquery()
    last, mark = db.execute(select(newest, marks)).one()
    if last is None:
        return 0, 0, ()
    pieces = db.scalars(select(CutRow.piece_id).distinct().order_by(CutRow.piece_id))
    return last, mark or 0, tuple(pieces)
