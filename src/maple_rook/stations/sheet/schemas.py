from __future__ import annotations

import datetime as dt

from pydantic import BaseModel

from maple_rook.stations.claims import ClaimOut
from maple_rook.stations.history import ObservationOut, ReadingOut
from maple_rook.stations.schemas import FigureOut, OutlineOut, PieceOut, Points, PredictionOut


class SheetOfPiece(BaseModel):
    id: int
    started_at: dt.datetime
    finished_at: dt.datetime | None
    person: str
    readings: int


class KnifeSheetOut(BaseModel):
    """Everything about one knife."""

    piece: PieceOut
    model_id: int
    outline: OutlineOut
    section: Points | None
    figures: dict[str, FigureOut]
    hardened: str | None
    hardened_why: str
    predictions: list[PredictionOut]
    claims: list[ClaimOut]
    checks: list[str]
    cautions: list[str]
    sheets: list[SheetOfPiece]
    seen: list[ObservationOut]
    history: list[ReadingOut]
