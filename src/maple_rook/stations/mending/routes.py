"""Mending the record: what it calls things, what belongs together, what counts."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from maple_rook.http.access import CurrentPerson, Db, RowId
from maple_rook.http.preconditions import Seen
from maple_rook.intake.schemas import RowNumber
from maple_rook.stations.mending import history, merging, use_cases
from maple_rook.stations.mending.schemas import (
    AmendmentsOut,
    MakerChange,
    MendableOut,
    MendedModel,
    MendedOut,
    MendedPiece,
    MergeIn,
    ModelChange,
    PieceChange,
    SetAsideIn,
)
from maple_rook.store.amendments import Subject

router = APIRouter(prefix="/mending", tags=["mending"])


@router.get("")
def mendable(db: Db, _: CurrentPerson) -> MendableOut:
    """Makers and models, with how many hang on each."""
    return use_cases.mendable(db)


@router.get("/amendments")
def amendments(
    db: Db,
    _: CurrentPerson,
    about: Subject | None = None,
    about_id: Annotated[RowNumber | None, Query()] = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=100)] = 20,
) -> AmendmentsOut:
    """Corrections, newest first."""
    return history.amendments(db, about, about_id, offset, limit)


@router.post("/amendments/{amendment_id}/undo", status_code=201)
def undo(db: Db, person: CurrentPerson, amendment_id: RowId) -> MendedOut:
    """Undo an amendment, unless something of it was changed again."""
    return use_cases.undo_amendment(db, person, amendment_id)


@router.get("/pieces/{piece_id}")
def piece(db: Db, _: CurrentPerson, piece_id: RowId) -> MendedPiece:
    """A piece as it stands in the record."""
    return use_cases.piece(db, piece_id)


@router.patch("/pieces/{piece_id}")
def change_piece(
    db: Db, person: CurrentPerson, seen: Seen, piece_id: RowId, asked: PieceChange
) -> MendedOut:
    """Another tag, condition, note or model for a piece."""
    return use_cases.change_piece(db, person, piece_id, asked, seen)


@router.post("/pieces/{piece_id}/merge", status_code=201)
def merge_pieces(db: Db, person: CurrentPerson, piece_id: RowId, asked: MergeIn) -> MendedOut:
    """One knife that was entered twice: everything of it goes to the other piece."""
    return merging.merge_pieces(db, person, piece_id, asked)


@router.get("/models/{model_id}")
def model(db: Db, _: CurrentPerson, model_id: RowId) -> MendedModel:
    """A model as it stands, with its claims and the tags of its pieces."""
    return use_cases.model(db, model_id)


@router.patch("/models/{model_id}")
def change_model(
    db: Db, person: CurrentPerson, seen: Seen, model_id: RowId, asked: ModelChange
) -> MendedOut:
    """Change a model: name, grind, steel, price, claims; or retire it."""
    return use_cases.change_model(db, person, model_id, asked, seen)


@router.post("/models/{model_id}/merge", status_code=201)
def merge_models(db: Db, person: CurrentPerson, model_id: RowId, asked: MergeIn) -> MendedOut:
    """One model that was entered twice: its pieces and claims go to the other."""
    return merging.merge_models(db, person, model_id, asked)


@router.patch("/makers/{maker_id}")
def change_maker(
    db: Db, person: CurrentPerson, seen: Seen, maker_id: RowId, asked: MakerChange
) -> MendedOut:
    """Rename a maker."""
    return use_cases.change_maker(db, person, maker_id, asked, seen)


@router.post("/makers/{maker_id}/merge", status_code=201)
def merge_makers(db: Db, person: CurrentPerson, maker_id: RowId, asked: MergeIn) -> MendedOut:
    """One maker that was entered twice: the models go to the other."""
    return merging.merge_makers(db, person, maker_id, asked)


@router.put("/sheets/{sheet_id}/set-aside")
def set_aside(db: Db, person: CurrentPerson, sheet_id: RowId, asked: SetAsideIn) -> MendedOut:
    """Have a wrong sheet count for nothing, with a reason; an empty one puts it back."""
    return use_cases.set_aside(db, person, sheet_id, asked)
