from __future__ import annotations

from fastapi import APIRouter

from maple_rook.stations.access import CurrentPerson, Db, RowId
from maple_rook.stations.bench import work
from maple_rook.stations.bench.schemas import (
    BenchSheetOut,
    BenchStartOut,
    NewPieceIn,
    ReadingIn,
    VoidIn,
)

router = APIRouter(prefix="/bench", tags=["bench"])


@router.get("")
def start(db: Db, _: CurrentPerson) -> BenchStartOut:
    """Open sheets to take up, and what a new piece is chosen from."""
    return work.start(db)


@router.post("/pieces", status_code=201)
def enter_piece(db: Db, person: CurrentPerson, asked: NewPieceIn) -> BenchSheetOut:
    """Enter a piece and begin its sheet."""
    return work.enter_piece(db, person, asked)


@router.post("/pieces/{piece_id}/sheets", status_code=201)
def begin_sheet(db: Db, person: CurrentPerson, piece_id: RowId) -> BenchSheetOut:
    """Take up the piece's open sheet or begin one."""
    return work.begin_sheet(db, person, piece_id)


@router.get("/sheets/{sheet_id}")
def sheet(db: Db, _: CurrentPerson, sheet_id: RowId) -> BenchSheetOut:
    """A measuring sheet as it stands."""
    return work.sheet_state(db, sheet_id)


@router.post("/sheets/{sheet_id}/readings", status_code=201)
def take_reading(db: Db, person: CurrentPerson, sheet_id: RowId, asked: ReadingIn) -> BenchSheetOut:
    """Store a reading, once however often it is sent."""
    return work.take_reading(db, person, sheet_id, asked)


@router.post("/readings/{reading_id}/void")
def void_reading(db: Db, person: CurrentPerson, reading_id: RowId, asked: VoidIn) -> BenchSheetOut:
    """Strike a reading out with a reason; it stays in the history."""
    return work.void_reading(db, person, reading_id, asked.reason)


@router.post("/sheets/{sheet_id}/sign-off")
def sign_off(db: Db, _: CurrentPerson, sheet_id: RowId) -> BenchSheetOut:
    """Close the sheet."""
    return work.sign_off(db, sheet_id)
