from __future__ import annotations

import uuid
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from maple_rook.core.geometry.scale_card import CARDS, View, scale_card
from maple_rook.formats.paper import PDF_TYPE
from maple_rook.formats.scale_card import card_pdf, card_svg
from maple_rook.http.access import MAX_ID, CurrentPerson, Db, Instruments, RowId
from maple_rook.http.schemas import picture_answer
from maple_rook.photo.markers import pattern
from maple_rook.stations.photo import measuring, use_cases
from maple_rook.stations.photo.desk import PhotoDesk
from maple_rook.stations.photo.schemas import (
    AcceptedOut,
    AcceptIn,
    AgainOut,
    CardKey,
    MeasuredOut,
    MeasureIn,
    PhotoOut,
    ScaleCardOut,
    StandInIn,
)

SheetId = Annotated[int, Query(ge=1, le=MAX_ID)]
router = APIRouter(prefix="/photos", tags=["photo"])


async def desk(request: Request) -> PhotoDesk:
    found: PhotoDesk = request.app.state.photos
    return found


Desk = Annotated[PhotoDesk, Depends(desk)]


@router.get("/cards")
def cards(_: CurrentPerson) -> list[ScaleCardOut]:
    """The scale cards there are to print."""
    return [
        ScaleCardOut(
            key=c.key,
            label=c.label,
            view=c.view,
            width_mm=c.width_mm,
            height_mm=c.height_mm,
            ruler_mm=c.ruler_mm,
            use=c.use,
        )
        for c in CARDS.values()
    ]


@router.get("/cards/{key}.pdf", response_class=Response)
def card_as_pdf(_: CurrentPerson, key: CardKey) -> Response:
    """A card to print at 100 %."""
    made = card_pdf(scale_card(key), pattern)
    headers = {"Content-Disposition": f'attachment; filename="scale-card-{key}.pdf"'}
    return Response(made, media_type=PDF_TYPE, headers=headers)


@router.get("/cards/{key}.svg", response_class=Response)
def card_as_svg(_: CurrentPerson, key: CardKey) -> Response:
    """A card as a drawing in millimetres."""
    made = card_svg(scale_card(key), pattern)
    headers = {"Content-Disposition": f'attachment; filename="scale-card-{key}.svg"'}
    return Response(made, media_type="image/svg+xml", headers=headers)


@router.get("")
def photos(db: Db, _: CurrentPerson, sheet_id: SheetId) -> list[PhotoOut]:
    """The photos of a sheet, newest first."""
    return use_cases.photos(db, sheet_id)


@router.post("", status_code=201)
async def keep(
    request: Request,
    db: Db,
    person: CurrentPerson,
    photo_desk: Desk,
    sheet_id: SheetId,
    client_id: uuid.UUID,
    view: View = View.SIDE,
) -> PhotoOut:
    """Keep a photo sent as the body: JPEG, PNG, WebP or HEIC, once however often it is sent."""
    photo_desk.check_room()
    content = await request.body()
    return await run_in_threadpool(
        use_cases.keep, db, photo_desk, person, sheet_id, view, client_id, content
    )


@router.post("/stand-in", status_code=201)
def by_stand_in(db: Db, person: CurrentPerson, photo_desk: Desk, asked: StandInIn) -> PhotoOut:
    """A photo by the simulated camera, in the demo shop."""
    return use_cases.by_stand_in(db, photo_desk, person, asked)


@router.get("/{photo_id}/image", response_class=Response)
def image(db: Db, _: CurrentPerson, photo_id: RowId) -> Response:
    """The photo as it is kept; it never changes."""
    row = measuring.photo_of(db, photo_id, content=True)
    return picture_answer(row.content, row.media_type)


@router.delete("/{photo_id}")
def throw_away(db: Db, _: CurrentPerson, photo_id: RowId) -> list[PhotoOut]:
    """Delete a photo without stored readings; returns those that are left."""
    return use_cases.throw_away(db, photo_id)


@router.post("/{photo_id}/measure")
def measure(
    db: Db, _: CurrentPerson, photo_desk: Desk, photo_id: RowId, asked: MeasureIn
) -> MeasuredOut:
    """Measure a photo as asked, or say why it cannot be; nothing is stored."""
    return measuring.measure(db, photo_desk, measuring.photo_of(db, photo_id), asked)


@router.post("/{photo_id}/accept", status_code=201)
async def accept(
    db: Db,
    person: CurrentPerson,
    hub: Instruments,
    photo_desk: Desk,
    photo_id: RowId,
    asked: AcceptIn,
) -> AcceptedOut:
    """Take figures and edge of a photo over into its sheet, once however often it is sent."""
    accepted = await run_in_threadpool(use_cases.accept, db, photo_desk, person, photo_id, asked)
    hub.changed(accepted.sheet_id)
    return accepted


@router.get("/{photo_id}/measurements/{measurement_id}/again")
def again(
    db: Db, _: CurrentPerson, photo_desk: Desk, photo_id: RowId, measurement_id: RowId
) -> AgainOut:
    """Make a kept measurement again from its photo and parameters."""
    return use_cases.again(db, photo_desk, photo_id, measurement_id)
