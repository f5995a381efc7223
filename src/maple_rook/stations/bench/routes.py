from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Path, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from maple_rook.answers.calibration import ChosenModels
from maple_rook.answers.shape import ProfileOut
from maple_rook.http.access import (
    CurrentPerson,
    Db,
    Instruments,
    RowId,
    reading_desk,
)
from maple_rook.http.schemas import json_answer, picture_answer
from maple_rook.intake import edge_traces, plain_methods, readings
from maple_rook.intake.schemas import (
    EdgeIn,
    MethodFigureOut,
    MethodIn,
    MethodReadingIn,
    ObservationIn,
    ReadingIn,
    StoredOut,
    TraceIn,
    VoidIn,
)
from maple_rook.stations.bench import several, state, use_cases
from maple_rook.stations.bench.schemas import (
    BenchSheetOut,
    BenchStartOut,
    ClaimIn,
    LabelOut,
    ModelStatisticsOut,
    NewPieceIn,
    RepeatOut,
)
from maple_rook.store import records
from maple_rook.store.tables import Photo

Precision = Annotated[
    float, Query(ge=0.05, le=5, description="half-width wanted, as a share of what is noticeable")
]
MethodKey = Annotated[str, Path(max_length=24)]
LabelCode = Annotated[str, Query(min_length=1, max_length=300)]
router = APIRouter(prefix="/bench", tags=["bench"])


# First, since routes are tried in order: nothing is asked of the Bench as often.
@router.post("/sheets/{sheet_id}/readings", status_code=201, response_model=StoredOut)
async def take_reading(request: Request, sheet_id: RowId, asked: ReadingIn) -> Response:
    """Store a reading, once however often it is sent."""
    desk = reading_desk(request)
    stored = await readings.take_reading(desk.look, desk.store, desk.person, sheet_id, asked)
    desk.hub.changed(stored.sheet_id)
    return json_answer(stored, 201)


@router.get("")
def start(db: Db, _: CurrentPerson) -> BenchStartOut:
    """Open sheets to continue, and what a new piece is chosen from."""
    return use_cases.start(db)


@router.get("/label")
def label(db: Db, _: CurrentPerson, code: LabelCode) -> LabelOut:
    """The piece whose label says this: its tag, or the address of its public page."""
    return use_cases.piece_of_label(db, code)


@router.post("/label")
async def photographed_label(request: Request, db: Db, _: CurrentPerson) -> LabelOut:
    """The piece whose label is on the picture sent as the body."""
    photos = request.app.state.photos
    photos.check_room()
    code = await run_in_threadpool(photos.label, await request.body())
    return await run_in_threadpool(use_cases.piece_of_label, db, code)


@router.post("/pieces", status_code=201)
def enter_piece(db: Db, person: CurrentPerson, asked: NewPieceIn) -> BenchSheetOut:
    """Enter a piece and begin its sheet."""
    return use_cases.enter_piece(db, person, asked)


@router.post("/pieces/{piece_id}/sheets", status_code=201)
def begin_sheet(db: Db, person: CurrentPerson, piece_id: RowId) -> BenchSheetOut:
    """Continue the piece's open sheet or begin one."""
    return use_cases.begin_sheet(db, person, piece_id)


@router.get("/sheets/{sheet_id}")
def sheet(db: Db, _: CurrentPerson, sheet_id: RowId) -> BenchSheetOut:
    """A measuring sheet as it stands."""
    return state.sheet_state(db, sheet_id)


@router.post("/readings/{client_id}/void")
def void_reading(
    db: Db, person: CurrentPerson, hub: Instruments, client_id: uuid.UUID, asked: VoidIn
) -> StoredOut:
    """Strike a reading out with a reason; it stays in the history."""
    stored = readings.void_reading(db, person, client_id, asked.reason)
    hub.changed(stored.sheet_id)
    return stored


@router.post("/readings/{client_id}/restore")
def restore_reading(db: Db, _: CurrentPerson, hub: Instruments, client_id: uuid.UUID) -> StoredOut:
    """Take a void back: the reading is entered once more, its voided line stays."""
    stored = readings.restore_reading(db, client_id)
    hub.changed(stored.sheet_id)
    return stored


@router.post("/methods/{method}")
def figure_by_method(_: CurrentPerson, method: MethodKey, asked: MethodIn) -> MethodFigureOut:
    """What a method without the usual instrument says; nothing is stored."""
    return plain_methods.figure_of(method, asked)


@router.post("/sheets/{sheet_id}/methods/{method}", status_code=201)
def take_by_method(
    db: Db,
    person: CurrentPerson,
    hub: Instruments,
    sheet_id: RowId,
    method: MethodKey,
    asked: MethodReadingIn,
) -> StoredOut:
    """Store a reading by a method without the usual instrument, once."""
    stored = plain_methods.take(db, person, sheet_id, method, asked)
    hub.changed(stored.sheet_id)
    return stored


@router.post("/sheets/{sheet_id}/observations", status_code=201)
def observe(
    db: Db, person: CurrentPerson, hub: Instruments, sheet_id: RowId, asked: ObservationIn
) -> StoredOut:
    """Store what was seen, once; 409 where another observation stands than the one replaced."""
    stored = readings.observe(db, person, sheet_id, asked)
    hub.changed(stored.sheet_id)
    return stored


@router.post("/sheets/{sheet_id}/edge/preview")
def preview_edge(db: Db, _: CurrentPerson, sheet_id: RowId, asked: EdgeIn) -> ProfileOut:
    """What an edge would do on the board; nothing is stored."""
    return edge_traces.preview(db, sheet_id, asked)


@router.post("/sheets/{sheet_id}/edge", status_code=201)
def trace_edge(
    db: Db, person: CurrentPerson, hub: Instruments, sheet_id: RowId, asked: TraceIn
) -> StoredOut:
    """Store a traced edge, once however often it is sent; the newest of a piece stands."""
    stored = edge_traces.keep(db, person, sheet_id, asked)
    hub.changed(stored.sheet_id)
    return stored


@router.put("/sheets/{sheet_id}/photos/{client_id}", status_code=201)
async def keep_photo(
    request: Request, db: Db, person: CurrentPerson, sheet_id: RowId, client_id: uuid.UUID
) -> StoredOut:
    """Store a picture sent as the body: JPEG, PNG or WebP."""
    content = await request.body()
    return await run_in_threadpool(readings.keep_photo, db, person, sheet_id, client_id, content)


@router.get("/photos/{photo_id}", response_class=Response)
def photo(db: Db, _: CurrentPerson, photo_id: RowId) -> Response:
    """A picture of the record; it never changes."""
    row = records.get(db, Photo, "photo", photo_id)
    return picture_answer(row.content, row.media_type)


@router.post("/sheets/{sheet_id}/claims", status_code=201)
def add_claim(db: Db, _: CurrentPerson, sheet_id: RowId, asked: ClaimIn) -> BenchSheetOut:
    """Copy a claim from the box to the sheet's model."""
    return use_cases.add_claim(db, sheet_id, asked)


@router.post("/sheets/{sheet_id}/sign-off")
def sign_off(db: Db, _: CurrentPerson, hub: Instruments, sheet_id: RowId) -> BenchSheetOut:
    """Close the sheet."""
    closed = use_cases.sign_off(db, sheet_id)
    hub.changed(sheet_id)
    return closed


@router.get("/sheets/{sheet_id}/against/{earlier_id}")
def repeat(
    db: Db, _: CurrentPerson, models: ChosenModels, sheet_id: RowId, earlier_id: RowId
) -> RepeatOut:
    """This sheet against an earlier one of the same piece."""
    return several.repeat(db, models.life.coefficients, sheet_id, earlier_id)


@router.get("/models/{model_id}/statistics")
def model_statistics(
    db: Db,
    _: CurrentPerson,
    models: ChosenModels,
    model_id: RowId,
    precision: Precision = 0.5,
) -> ModelStatisticsOut:
    """A model's figures over its pieces, and how many more to measure for a chosen precision."""
    return several.model_statistics(db, models.life.coefficients, model_id, precision)
