"""Gather one knife: figures, predictions, claims, cautions, history."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.core.cautions import cautions
from maple_rook.core.checks import checks
from maple_rook.core.hardness_session import hardened
from maple_rook.core.predict import predict
from maple_rook.core.quantities import QUANTITIES
from maple_rook.core.retention import Kitchen
from maple_rook.stations.claims import judged_claims, sheet_facts
from maple_rook.stations.history import observations_of_piece, readings
from maple_rook.stations.schemas import (
    FigureOut,
    PieceOut,
    PredictionOut,
    piece_outline,
    section_polygon,
)
from maple_rook.stations.sheet.schemas import KnifeSheetOut, SheetOfPiece
from maple_rook.store import records
from maple_rook.store.tables import Person, Reading, Sheet


def knife_sheet(db: Session, piece_id: int, kitchen: Kitchen, draws: int) -> KnifeSheetOut:
    piece = records.pieces(db, [piece_id], claims=True)[0]
    figures = records.figures(db, [piece_id]).get(piece_id, {})
    blade = records.blade(piece, figures)
    sheets = _sheets(db, piece_id)
    numbers = [s.id for s in sheets]
    standing = records.observations(db, numbers)
    facts = records.knife_facts(piece.model, standing)
    judged = hardened(figures)
    return KnifeSheetOut(
        piece=PieceOut.of(piece),
        model_id=piece.model_id,
        outline=piece_outline(piece, figures),
        section=section_polygon(blade),
        figures={key: FigureOut.of(f) for key, f in figures.items() if key in QUANTITIES},
        hardened=judged.verdict.value if "hardness" in figures else None,
        hardened_why=judged.why,
        predictions=[PredictionOut.of(p) for p in predict([blade], kitchen, draws=draws)[0]],
        claims=judged_claims(piece, figures),
        checks=[c.text for c in checks(sheet_facts(piece, figures, facts))],
        cautions=cautions(blade),
        sheets=sheets,
        seen=observations_of_piece(standing),
        history=readings(db, Reading.sheet_id.in_(numbers)),
    )


def _sheets(db: Session, piece_id: int) -> list[SheetOfPiece]:
    rows = db.execute(
        select(Sheet, Person.name, func.count(Reading.id))
        .join(Person, Person.id == Sheet.person_id)
        .outerjoin(Reading, Reading.sheet_id == Sheet.id)
        .where(Sheet.piece_id == piece_id)
        .group_by(Sheet.id, Person.name)
        .order_by(Sheet.id)
    )
    return [
        SheetOfPiece(
            id=sheet.id,
            started_at=sheet.started_at,
            finished_at=sheet.finished_at,
            person=person,
            readings=count,
        )
        for sheet, person, count in rows
    ]
